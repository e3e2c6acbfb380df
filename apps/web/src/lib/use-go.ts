import { createContext, useCallback, useContext, useEffect, useRef } from 'react'
import { useLocation, useNavigate, type DataRouter } from 'react-router'

/** The router itself: what it is about to do it knows a moment before the page is told. */
export const RouterState = createContext<Pick<DataRouter, 'state'> | undefined>(undefined)

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
      await (to === -1 ? navigate(-1) : navigate(to))
    },
    [navigate, router, pathname],
  )
}
