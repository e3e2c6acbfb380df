import { wrap, type Remote } from 'comlink'
import type { Checks } from './make-checks'

/** Starts the worker that checks. */
export const startChecks = (): Remote<Checks> =>
  wrap<Checks>(new Worker(new URL('./checks.worker.ts', import.meta.url), { type: 'module' }))
