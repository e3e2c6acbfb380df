import type { Difference, Records } from '@insel/core'
import type { Remote } from 'comlink'
import type { Checks } from './make-checks'

let started: Promise<Remote<Checks>> | undefined
/** What starts the worker is fetched beside the first view. Whatever is asked meanwhile waits, in order. */
const start = () => (started ??= import('./start-checks').then(({ startChecks }) => startChecks()))
type Asked = (...asked: readonly unknown[]) => unknown

let remote: Remote<Checks> | undefined
/** The worker, started when it is first needed. */
export const checks = (): Remote<Checks> =>
  (remote ??= new Proxy({} as Remote<Checks>, {
    get:
      (_, name) =>
      (...asked: readonly unknown[]) =>
        start().then((worker) => (worker as unknown as Readonly<Record<string | symbol, Asked>>)[name]?.(...asked)),
  }))

/** Puts something else in the worker's place, which answers as it would. */
export function answerChecksBy(other: Remote<Checks>): void {
  remote = other
}

/** Messages to a worker arrive in order, so that a check asked for after a load sees what was loaded. */
export const syncChecks = {
  load: (records: Records, revision: number) => void checks().load(records, revision),
  advance: (difference: Difference, revision: number) => void checks().advance(difference, revision),
}
