/** Where the focus was: an element, and its place among its neighbours, from itself outwards. */
interface Place {
  readonly element: HTMLElement
  readonly path: readonly { readonly parent: Element; readonly index: number }[]
}

const FOCUSABLE =
  'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), textarea:not(:disabled), summary, [tabindex]'
/** These give the focus back by themselves when they close. */
const KEEPS_ITSELF = '[role=dialog], [role=menu], [role=listbox]'

/**
 * Keeps the focus on the page when what had it goes away, as a row does that is removed: it goes to what took its place, else to
 * what is before that, else to what is around it. A button that was disabled while its work was done gets it back.
 *
 * @returns ends it
 */
export function keepFocus(): () => void {
  let last: Place | undefined
  let isAsked = false
  const onFocusIn = ({ target }: FocusEvent) => {
    last = target instanceof HTMLElement && !target.closest(KEEPS_ITSELF) ? placeOf(target) : undefined
  }
  // Somebody pressed beside it: then nothing has the focus, as wanted.
  const onPointerDown = () => (last = undefined)
  const look = () => {
    isAsked = false
    if (!last || (document.activeElement !== null && document.activeElement !== document.body)) return
    if (last.element.isConnected && last.element.matches(':disabled')) return
    const next = last.element.isConnected ? last.element : nearest(last)
    if (!next) return
    if (!next.matches(FOCUSABLE)) next.tabIndex = -1
    next.focus({ preventScroll: true })
  }
  const observer = new MutationObserver(() => {
    if (isAsked || !last || (last.element.isConnected && document.activeElement === last.element)) return
    isAsked = true
    // After the page itself has had its chance to say where the focus goes.
    requestAnimationFrame(look)
  })
  document.addEventListener('focusin', onFocusIn)
  document.addEventListener('pointerdown', onPointerDown)
  observer.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ['disabled'] })
  return () => {
    document.removeEventListener('focusin', onFocusIn)
    document.removeEventListener('pointerdown', onPointerDown)
    observer.disconnect()
  }
}

function placeOf(element: HTMLElement): Place {
  const path: { parent: Element; index: number }[] = []
  for (let at: Element = element; at.parentElement; at = at.parentElement)
    path.push({ parent: at.parentElement, index: [...at.parentElement.children].indexOf(at) })
  return { element, path }
}

/** What may have the focus in place of something that went away. */
function nearest({ path }: Place): HTMLElement | undefined {
  for (const { parent, index } of path) {
    if (!parent.isConnected) continue
    for (const neighbour of [parent.children[index], parent.children[index + 1], parent.children[index - 1]]) {
      const found = neighbour && (neighbour.matches(FOCUSABLE) ? neighbour : neighbour.querySelector(FOCUSABLE))
      if (found instanceof HTMLElement) return found
    }
    // The page is the widest place: its beginning is where one goes on.
    if (parent.id === 'page' && parent instanceof HTMLElement) return parent
  }
  return undefined
}
