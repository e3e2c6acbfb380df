import type { Difference, Records } from '@insel/core'
import type { Remote } from 'comlink'
import { WorkFailed } from '../lib/work-failed'
import type { Checks } from './make-checks'

/** What is said where something was to be worked out and could not be. */
const FAILED = 'This could not be worked out in the browser. Load the page again; what is recorded is not affected.'

let started: Promise<ReturnType<typeof import('./start-checks').startChecks>> | undefined
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
        start()
          .then(({ worker, failed }) =>
            Promise.race([(worker as unknown as Readonly<Record<string | symbol, Asked>>)[name]?.(...asked), failed]),
          )
          .catch((error: unknown) => {
            throw new WorkFailed(FAILED, { cause: error })
          }),
  }))

/** Puts something else in the worker's place, which answers as it would. */
export function answerChecksBy(other: Remote<Checks>): void {
  remote = other
}

/** That the worker failed is said to whoever asks it something. */
const heardLater = () => undefined

/** Messages to a worker arrive in order, so that a check asked for after a load sees what was loaded. */
export const syncChecks = {
  load: (records: Records, revision: number) => void checks().load(records, revision).catch(heardLater),
  advance: (difference: Difference, revision: number) => void checks().advance(difference, revision).catch(heardLater),
}
