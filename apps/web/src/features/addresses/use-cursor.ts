import { useState } from 'react'
import { useSetQueryParam } from '../../lib/query-param'

/**
 * The address one is on. The page's address keeps it and may lag behind quick keys: the next key counts from where one is,
 * not from where the page's address still is.
 *
 * @param at the address that the page's address names
 * @param indexOf the position of an address among those that are drawn
 */
export function useCursor(at: string | undefined, indexOf: (ip: string) => number | undefined) {
  const setParam = useSetQueryParam()
  const [current, setCurrent] = useState(() => (at === undefined ? undefined : indexOf(at)))
  const [seen, setSeen] = useState(at)
  const [asked, setAsked] = useState<string>()
  if (asked !== undefined && at === asked) setAsked(undefined)
  if (at !== seen) {
    setSeen(at)
    // While the address catches up it is not followed back.
    if (asked === undefined || at === asked) setCurrent(at === undefined ? undefined : indexOf(at))
  }
  const go = (index: number, ip: string) => {
    setCurrent(index)
    setAsked(ip)
    setParam('at', ip)
  }
  return { current, go }
}
