import { Component, type ReactNode } from 'react'

/** How long a block takes to its lane: seen, but not waited for. */
const GLIDE_MS = 140
/** More than so many blocks at once nobody follows; the rest are where they belong at once. */
const GLIDING_MAX = 80

interface GlideProps {
  /** The scrolling element with the blocks in it. */
  readonly area: HTMLElement | null
  /** What they are laid out for: where it changes, they glide; whatever else moves them, they jump. */
  readonly layout: string
  readonly children: ReactNode
}

type Places = ReadonlyMap<string, DOMRect>

function placesIn(area: HTMLElement): Places {
  return new Map(
    [...area.querySelectorAll<HTMLElement>('[data-block]')].map((block) => [block.dataset['block'] ?? '', block.getBoundingClientRect()]),
  )
}

/**
 * Lets the blocks of the board glide to where another basis has them. A class, for only that is asked for a look at the page just before
 * it changes.
 */
export class Glide extends Component<GlideProps> {
  override getSnapshotBeforeUpdate(before: GlideProps): Places | null {
    const { area, layout } = this.props
    if (!area || before.layout === layout || window.matchMedia('(prefers-reduced-motion: reduce)').matches) return null
    return placesIn(area)
  }

  override componentDidUpdate(_: GlideProps, __: unknown, before: Places | null): void {
    const { area } = this.props
    if (before && area) glide(area, before)
  }

  override render(): ReactNode {
    return this.props.children
  }
}

/** Moves what is elsewhere now from where it was. Lanes hide what is outside of them, so what crosses lanes is drawn above them meanwhile. */
function glide(area: HTMLElement, before: Places): void {
  const layer = document.createElement('div')
  layer.dataset['glide'] = ''
  layer.setAttribute('aria-hidden', 'true')
  let many = 0
  for (const block of area.querySelectorAll<HTMLElement>('[data-block]')) {
    const [was, is] = [before.get(block.dataset['block'] ?? ''), block.getBoundingClientRect()]
    if (!was || (was.left === is.left && was.top === is.top) || ++many > GLIDING_MAX) continue
    const drawn = block.cloneNode(true) as HTMLElement
    drawn.removeAttribute('data-block')
    drawn.inert = true
    Object.assign(drawn.style, {
      position: 'fixed',
      left: `${is.left}px`,
      top: `${is.top}px`,
      width: `${is.width}px`,
      height: `${is.height}px`,
      bottom: 'auto',
      zIndex: '10',
    })
    layer.append(drawn)
    const timing = { duration: GLIDE_MS, easing: 'ease-out' }
    drawn.animate([{ transform: `translate(${was.left - is.left}px, ${was.top - is.top}px)` }, { transform: 'none' }], timing)
    block.animate([{ opacity: 0 }, { opacity: 0 }], timing)
  }
  if (many === 0) return
  area.append(layer)
  window.setTimeout(() => layer.remove(), GLIDE_MS)
}
