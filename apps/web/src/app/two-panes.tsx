import { useEffect, useMemo, useRef, type ReactNode } from 'react'
import { parsePath, useLocation, useNavigate, useOutlet, useParams } from 'react-router'
import { usePaths } from '../lib/paths'
import { useIsWide } from '../lib/use-media'
import { ListPaneContext } from '../ui/list-pane'

/**
 * A list and one of its things side by side, where the screen has room for both; else whichever of them the address names.
 * The list is one and the same whether a thing is beside it or not, so it keeps its place. Escape closes the thing.
 *
 * @param section the path of the list; its things are below it
 * @param List the page of the list
 */
export function TwoPanes({ section, List }: { section: string; List: () => ReactNode }) {
  const isWide = useIsWide()
  const { id } = useParams()
  const { search } = useLocation()
  const page = useOutlet()
  const { to } = usePaths()
  const navigate = useNavigate()
  const list = useRef<HTMLDivElement>(null)
  const home = to(section)
  useEffect(() => {
    if (!isWide || id === undefined) return
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || event.defaultPrevented || !isFree(event.target)) return
      event.preventDefault()
      const row = list.current?.querySelector<HTMLElement>(`a[data-row="${id}"]`)
      // Nothing has the focus after its page is closed but the row it was opened from.
      if (row) row.focus()
      else list.current?.focus()
      void navigate({ ...parsePath(home), search })
    }
    document.addEventListener('keydown', onKey)
    return () => document.removeEventListener('keydown', onKey)
  }, [isWide, id, home, search, navigate])
  const pane = useMemo(() => ({ openId: id, search: isWide ? search : '' }), [id, search, isWide])
  if (!isWide) return page
  const isOpen = id !== undefined
  return (
    <div className={isOpen ? 'grid grid-cols-[480px_minmax(0,1fr)]' : ''}>
      <ListPaneContext value={pane}>
        <div
          ref={list}
          tabIndex={-1}
          className={
            isOpen
              ? 'sticky top-[var(--head)] self-start h-[calc(100vh-var(--head))] overflow-hidden border-r border-line print:hidden outline-none'
              : 'outline-none'
          }
        >
          <List />
        </div>
      </ListPaneContext>
      {isOpen && <div className="min-w-0 @container">{page}</div>}
    </div>
  )
}

/** Whether Escape is not for something else: a field that is being filled, a dialog, a menu, a drawing with a selection. */
const isFree = (target: EventTarget | null): boolean =>
  !document.querySelector('[role=dialog], [role=menu], [role=listbox]') &&
  !(target instanceof Element && target.closest('input, textarea, select, [contenteditable], [role=grid]'))
