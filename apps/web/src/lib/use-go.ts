import { createContext, useCallback, useContext, useEffect, useRef } from 'react'
import { useLocation, useNavigate, type DataRouter } from 'react-router'

/** The router itself: what it is about to do it knows a moment before the page is told. */
export const RouterState = createContext<Pick<DataRouter, 'state'> | undefined>(undefined)

/** Whether the page was opened by its address: there is none of Insel to go back to. The router numbers what it goes through. */
const isFirstPage = () => (window.history.state as { idx?: number } | null)?.idx === 0

/**
 * Goes on once a change is recorded, unless one has left the page while it was being recorded, or is on the way to another
 * that is still being fetched: nobody is taken back.
 */
export function useGo(): (to: string | -1) => Promise<void> {
  const navigate = useNavigate()
  const router = useContext(RouterState)
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
      else if (isFirstPage()) await navigate(pathname.split('/').slice(0, 3).join('/'))
      else await navigate(-1)
    },
    [navigate, router, pathname],
  )
}
