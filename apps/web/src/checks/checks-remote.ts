import type { Difference, Records } from '@insel/core'
import { wrap, type Remote } from 'comlink'
import type { Checks } from './make-checks'

let remote: Remote<Checks> | undefined
/** The worker, started when it is first needed. */
export const checks = (): Remote<Checks> =>
  (remote ??= wrap<Checks>(new Worker(new URL('./checks.worker.ts', import.meta.url), { type: 'module' })))

/** Puts something else in the worker's place, which answers as it would. */
export function answerChecksBy(other: Remote<Checks>): void {
  remote = other
}

/** Messages to a worker arrive in order, so that a check asked for after a load sees what was loaded. */
export const syncChecks = {
  load: (records: Records, revision: number) => void checks().load(records, revision),
  advance: (difference: Difference, revision: number) => void checks().advance(difference, revision),
}
