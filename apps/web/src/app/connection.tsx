import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { AWAY } from '../lib/api'

/** How often it is asked whether the server is there: while it is, and while it is not. */
const ASK_MS = 10_000
const ASK_AWAY_MS = 2000
const ANSWER_MS = 5000

async function isThere(): Promise<boolean> {
  try {
    return (await fetch('/readyz', { signal: AbortSignal.timeout(ANSWER_MS), cache: 'no-store' })).ok
  } catch (error) {
    if (error instanceof TypeError || error instanceof DOMException) return false
    throw error
  }
}

/** Says on every page that the server is away, as soon as that is noticed; once it is back, what is shown is asked for again. */
export function Connection() {
  const client = useQueryClient()
  const [isAway, setAway] = useState(false)
  useEffect(() => {
    let isOver = false
    let timer: ReturnType<typeof setTimeout> | undefined
    let was = true
    const look = async () => {
      clearTimeout(timer)
      const is = document.hidden ? was : await isThere()
      if (isOver) return
      setAway(!is)
      if (is && !was) void client.invalidateQueries()
      was = is
      clearTimeout(timer)
      timer = setTimeout(() => void look(), is ? ASK_MS : ASK_AWAY_MS)
    }
    const noticed = () => void look()
    for (const event of [AWAY, 'offline', 'online']) window.addEventListener(event, noticed)
    document.addEventListener('visibilitychange', noticed)
    // What happened before anybody listened is not waited for.
    timer = setTimeout(noticed, navigator.onLine ? ASK_MS : 0)
    return () => {
      isOver = true
      clearTimeout(timer)
      for (const event of [AWAY, 'offline', 'online']) window.removeEventListener(event, noticed)
      document.removeEventListener('visibilitychange', noticed)
    }
  }, [client])
  if (!isAway) return null
  return (
    <>
      {/* As high as the bar, so that the end of the page can be scrolled out from under it. */}
      <div className="h-20 sm:h-10 print:hidden" />
      <p role="alert" className="fixed bottom-0 inset-x-0 z-40 bg-error-wash border-t border-error px-4 py-2 text-dense print:hidden">
        <b className="font-medium">The server does not answer.</b> What is shown is as it was last heard. Nothing can be recorded until it
        is back; what you type is kept, and this page goes on by itself then.
      </p>
    </>
  )
}
