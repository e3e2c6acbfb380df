import { useCallback } from 'react'
import { useSearchParams } from 'react-router'

/** A value that the page's address keeps, so that a link shows what one sees; unset when empty. */
export function useQueryParam(name: string): readonly [value: string, set: (value: string | undefined) => void] {
  const [params, setParams] = useSearchParams()
  const set = useCallback(
    (value: string | undefined) =>
      setParams(
        (before) => {
          if (value) before.set(name, value)
          else before.delete(name)
          return before
        },
        { replace: true },
      ),
    [name, setParams],
  )
  return [params.get(name) ?? '', set]
}
