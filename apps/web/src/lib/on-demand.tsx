import { lazy, Suspense, useState, type ComponentType, type ReactNode } from 'react'
import { AWAY } from './api'

/**
 * A part of the page whose code is fetched when it is first wanted, so that the first view does without it.
 *
 * @param load fetches it
 * @returns the part; until its code is there, what stands in for it is shown
 * @example const CommandField = onDemand(async () => (await import('./command-field')).CommandField)
 */
export function onDemand<P extends object>(load: () => Promise<ComponentType<P>>) {
  const Part = lazy(async () => ({ default: await onceThere(load) }))
  return function OnDemand({ meanwhile, ...props }: P & { readonly meanwhile?: ReactNode }) {
    return (
      <Suspense fallback={meanwhile}>
        <Part {...(props as unknown as P)} />
      </Suspense>
    )
  }
}

const PAUSE_MS = 2000

/** Fetches a part, or a page, once the server is there: that it is away for a while takes nothing away of what is shown. */
export async function onceThere<T>(load: () => Promise<T>): Promise<T> {
  for (let hasAnswered = false; ;)
    try {
      return await load()
    } catch (error) {
      // A server that has answered has it, or never will; that nobody answers is what is waited for. It may have come
      // back between the part and the question, so the part is asked for once more after the answer.
      if (hasAnswered) throw error
      hasAnswered = (await fetch('/readyz').catch(() => undefined))?.ok ?? false
      if (hasAnswered) continue
      dispatchEvent(new Event(AWAY))
      await new Promise((next) => setTimeout(next, PAUSE_MS))
    }
}

/** Whether something was wanted once: from then on it stays, so that it can close as it opened. */
export function useOnceWanted(isWanted: boolean): boolean {
  const [was, setWas] = useState(isWanted)
  if (isWanted && !was) setWas(true)
  return isWanted || was
}
