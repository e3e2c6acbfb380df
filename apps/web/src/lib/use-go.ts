import { createContext, useCallback, useContext, useEffect, useRef } from 'react'
import { useLocation, useNavigate, type DataRouter, type Location } from 'react-router'

/** The router itself: what it is about to do is known here a moment before the page knows. */
export const AppRouter = createContext<Pick<DataRouter, 'state' | 'subscribe' | 'navigate'> | undefined>(undefined)

/** How far one has come through the pages of Insel; the router numbers them. None: the page was opened by its address. */
const pagesBehind = () => (window.history.state as { idx?: number } | null)?.idx ?? 0

/** How long a browser may take to go back one page, in ms. */
const BACK_WITHIN = 2_000

/**
 * Goes back one page. The browser takes a moment for it, and goes back from wherever one is by then: who follows a link in
 * that moment gets where the link leads.
 */
function goBack(router: Pick<DataRouter, 'state' | 'subscribe' | 'navigate'>): void {
  const start = router.state.location
  const behind = pagesBehind()
  let followed: Location | undefined
  const stop = router.subscribe(({ location, navigation }) => {
    if (pagesBehind() < behind) {
      end()
      const to = followed
      // Once the router has done with going back.
      if (to) queueMicrotask(() => void router.navigate(to))
    } else {
      const heading = navigation.location ?? location
      if (heading.key !== start.key) followed = heading
    }
  })
  const timer = setTimeout(() => end(), BACK_WITHIN)
  const end = () => {
    clearTimeout(timer)
    stop()
  }
  void router.navigate(-1)
}

/**
 * Goes on once a change is recorded, unless one has left the page while it was being recorded, or is on the way to another
 * that is still being fetched: nobody is taken back.
 */
export function useGo(): (to: string | -1) => Promise<void> {
  const navigate = useNavigate()
  const router = useContext(AppRouter)
  const { pathname } = useLocation()
  const isHere = useRef(true)
  useEffect(() => {
    isHere.current = true
    return () => {
      isHere.current = false
    }
  }, [])
  return useCallback(
    async (to) => {
      const isLeaving = router !== undefined && (router.state.navigation.state !== 'idle' || router.state.location.pathname !== pathname)
      if (!isHere.current || isLeaving) return
      if (to !== -1) await navigate(to)
      else if (pagesBehind() === 0) await navigate(pathname.split('/').slice(0, 3).join('/'))
      else if (router) goBack(router)
      else await navigate(-1)
    },
    [navigate, router, pathname],
  )
}
