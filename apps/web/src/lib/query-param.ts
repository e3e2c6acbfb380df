import { useCallback } from 'react'
import { useSearchParams } from 'react-router'

/**
 * Sets values that the page's address keeps, so that a link shows what one sees; an empty value is taken out. Several that
 * change together are set in one call: the address takes the last call only.
 */
export function useSetQueryParams(): (values: Readonly<Record<string, string | undefined>>) => void {
  const [, setParams] = useSearchParams()
  return useCallback(
    (values) =>
      setParams(
        () => {
          // What the address holds now, not when the page was last drawn: two fields may be filled in between.
          const before = new URLSearchParams(window.location.search)
          for (const [name, value] of Object.entries(values)) {
            if (value) before.set(name, value)
            else before.delete(name)
          }
          return before
        },
        { replace: true },
      ),
    [setParams],
  )
}

/** The same for one value at a time. */
export function useSetQueryParam(): (name: string, value: string | undefined) => void {
  const setParams = useSetQueryParams()
  return useCallback((name, value) => setParams({ [name]: value }), [setParams])
}

/** One value that the page's address keeps. */
export function useQueryParam(name: string): readonly [value: string, set: (value: string | undefined) => void] {
  const [params] = useSearchParams()
  const setParam = useSetQueryParam()
  const set = useCallback((value: string | undefined) => setParam(name, value), [name, setParam])
  return [params.get(name) ?? '', set]
}
