import { useState } from 'react'
import { useQueryParam } from '../lib/query-param'

/**
 * A filter that the page's address keeps, so that a link shows what one sees. What is typed is held here and goes to the
 * address after that: navigation may lag behind quick typing, letters must not.
 */
export function useFilter(): { readonly text: string; readonly wanted: string; set(text: string): void } {
  const [kept, keep] = useQueryParam('filter')
  const [text, setText] = useState(kept)
  const set = (typed: string) => {
    setText(typed)
    keep(typed)
  }
  return { text, wanted: text.trim().toLowerCase(), set }
}

/** The field of a filter; `/` goes to it. */
export const FilterInput = ({ filter, label }: { filter: ReturnType<typeof useFilter>; label: string }) => (
  <input
    data-filter
    type="search"
    className="field !w-44 print:hidden"
    placeholder="Filter    /"
    aria-label={label}
    value={filter.text}
    onChange={(event) => filter.set(event.target.value)}
  />
)
