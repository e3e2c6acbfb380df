import { wrap, type Remote } from 'comlink'
import { failureOf } from '../lib/in-worker'
import type { Checks } from './make-checks'

/** Starts the worker that checks. */
export function startChecks(): { readonly worker: Remote<Checks>; readonly failed: Promise<never> } {
  const worker = new Worker(new URL('./checks.worker.ts', import.meta.url), { type: 'module' })
  const failed = failureOf(worker)
  // Whoever asks it anything hears of it.
  failed.catch(() => undefined)
  return { worker: wrap<Checks>(worker), failed }
}
