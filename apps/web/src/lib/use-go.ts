import { useCallback, useEffect, useRef } from 'react'
import { useNavigate, useNavigation } from 'react-router'

/**
 * Goes on once a change is recorded, unless one has left the page while it was being recorded, or is on the way to another
 * that is still being fetched: nobody is taken back.
 */
export function useGo(): (to: string | -1) => Promise<void> {
  const navigate = useNavigate()
  const isLeaving = useNavigation().state !== 'idle'
  const isHere = useRef(true)
  useEffect(() => {
    isHere.current = !isLeaving
    return () => {
      isHere.current = false
    }
  }, [isLeaving])
  return useCallback(
    async (to) => {
      if (!isHere.current) return
      await (to === -1 ? navigate(-1) : navigate(to))
    },
    [navigate],
  )
}
