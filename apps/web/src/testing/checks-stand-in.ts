import type { Remote } from 'comlink'
import { makeChecks, type Checks } from '../checks/make-checks'

/** The checks without their worker: what it would answer, answered on the page's own thread, a turn later and in the same order. */
export function checksHere(): Remote<Checks> {
  const own = makeChecks()
  let turn: Promise<unknown> = Promise.resolve()
  return new Proxy(own, {
    get(target, name: keyof Checks) {
      const method = target[name] as (...asked: readonly unknown[]) => unknown
      return (...asked: readonly unknown[]) => {
        const answer = turn.then(() => method(...asked))
        turn = answer.catch(() => undefined)
        return answer
      }
    },
  }) as unknown as Remote<Checks>
}
