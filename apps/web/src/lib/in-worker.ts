import { wrap, type Remote } from 'comlink'
import { WorkFailed } from './work-failed'

/**
 * Has something done by a worker of its own, which ends with it. However that fails, by an error of the work, of the worker or of what
 * goes between, it is a `WorkFailed`.
 *
 * @param make starts the worker
 * @param work asks it
 * @param failed what is said when it fails
 * @param withinMs how long it may take; for as long as it does where it is left out
 */
export async function inWorker<T, R>(
  make: () => Worker,
  work: (remote: Remote<T>) => Promise<R>,
  failed: string,
  withinMs?: number,
): Promise<R> {
  const worker = make()
  let timer: ReturnType<typeof setTimeout> | undefined
  try {
    return await Promise.race([
      work(wrap<T>(worker)),
      failureOf(worker),
      new Promise<never>((_, reject) => {
        if (withinMs !== undefined) timer = setTimeout(() => reject(new WorkFailed(failed)), withinMs)
      }),
    ])
  } catch (error) {
    throw new WorkFailed(failed, { cause: error })
  } finally {
    clearTimeout(timer)
    worker.terminate()
  }
}

/** Never gives anything; fails when a worker does, or says what cannot be read. */
export const failureOf = (worker: Worker): Promise<never> =>
  new Promise((_, reject) => {
    for (const kind of ['error', 'messageerror'] as const)
      worker.addEventListener(kind, (event) => reject(new WorkFailed((event as Partial<ErrorEvent>).message ?? kind)))
  })
