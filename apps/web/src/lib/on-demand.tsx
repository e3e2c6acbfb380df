import { lazy, Suspense, useState, type ComponentType, type ReactNode } from 'react'

/**
 * A part of the page whose code is fetched when it is first wanted, so that the first view does without it.
 *
 * @param load fetches it
 * @returns the part; until its code is there, what stands in for it is shown
 * @example const CommandField = onDemand(async () => (await import('./command-field')).CommandField)
 */
export function onDemand<P extends object>(load: () => Promise<ComponentType<P>>) {
  const Part = lazy(async () => ({ default: await load() }))
  return function OnDemand({ meanwhile, ...props }: P & { readonly meanwhile?: ReactNode }) {
    return (
      <Suspense fallback={meanwhile}>
        <Part {...(props as unknown as P)} />
      </Suspense>
    )
  }
}

/** Whether something was wanted once: from then on it stays, so that it can close as it opened. */
export function useOnceWanted(isWanted: boolean): boolean {
  const [was, setWas] = useState(isWanted)
  if (isWanted && !was) setWas(true)
  return isWanted || was
}
