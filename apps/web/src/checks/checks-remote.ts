import type { Difference, Estate, Records } from '@insel/core'
import type { Remote } from 'comlink'
import { WorkFailed } from '../lib/work-failed'
import type { BasisNamed } from '../basis/basis'
import type { Checks, TaskInput, TaskName, TaskOutput } from './make-checks'

/** What is said where something was to be worked out and could not be. */
const FAILED = 'This could not be worked out in the browser. Load the page again; what is recorded is not affected.'

type Asked = (...asked: readonly unknown[]) => unknown

/** A worker, started when it is first needed. What starts it is fetched beside the first view; whatever is asked meanwhile waits, in order. */
function remoteWorker(): Remote<Checks> {
  let started: Promise<ReturnType<typeof import('./start-checks').startChecks>> | undefined
  const start = () => (started ??= import('./start-checks').then(({ startChecks }) => startChecks()))
  return new Proxy({} as Remote<Checks>, {
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
  })
}

let first: Remote<Checks> | undefined
/** The worker that answers at once. */
export const checks = (): Remote<Checks> => (first ??= remoteWorker())

/** The worker for what takes long, so that the first stays free; and the revision of the estate that it was given. */
const second: { worker?: Remote<Checks>; revision: number } = { revision: -1 }

/** Puts something else in the place of both workers, which answers as they would. */
export function answerChecksBy(one: Remote<Checks>, another: Remote<Checks>): void {
  first = one
  second.worker = another
  second.revision = -1
}

/** That the worker failed is said to whoever asks it something. */
const heardLater = () => undefined

/** Messages to a worker arrive in order, so that a check asked for after a load sees what was loaded. */
export const syncChecks = {
  load(records: Records, revision: number): void {
    second.revision = -1
    checks().load(records, revision).catch(heardLater)
  },
  advance(difference: Difference, revision: number): void {
    checks().advance(difference, revision).catch(heardLater)
    if (second.revision !== revision - 1) return
    second.revision = revision
    second.worker?.advance(difference, revision).catch(heardLater)
  },
}

let tasks = 0

/**
 * Has a task done beside the page, and beside the checks.
 *
 * @param recorded the estate as it is recorded
 * @param signal stops it
 * @param tell how far it is
 * @throws WorkFailed also where it was stopped: nobody waits for it then
 */
export async function doTask<N extends TaskName>(
  name: N,
  recorded: { readonly estate: Estate; readonly revision: number },
  basis: BasisNamed,
  input: TaskInput<N>,
  signal: AbortSignal,
  tell: (done: number) => unknown,
): Promise<TaskOutput<N>> {
  const { proxy } = await import('comlink')
  signal.throwIfAborted()
  const worker = (second.worker ??= remoteWorker())
  if (second.revision < recorded.revision) {
    second.revision = recorded.revision
    worker.load(recorded.estate.toRecords(), recorded.revision).catch(heardLater)
  }
  const id = ++tasks
  const stop = () => void worker.stop(id).catch(heardLater)
  signal.addEventListener('abort', stop)
  try {
    const task = worker.task as unknown as (...asked: readonly unknown[]) => Promise<TaskOutput<N> | undefined>
    const answer = await task(id, name, basis, input, proxy(tell))
    if (answer === undefined) throw new WorkFailed(FAILED)
    return answer
  } finally {
    signal.removeEventListener('abort', stop)
  }
}
