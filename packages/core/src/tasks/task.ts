import type { Estate } from '../estate/index.js'

/**
 * Long work on an estate, in steps: after each it says how far it is, and whoever has it done may ask for the next, or stop. The same input
 * gives the same output; what is drawn by lot has its seed in the input.
 *
 * @typeParam I what it is asked; plain, so that it can be sent to another thread
 * @typeParam P how far it is
 * @typeParam O what comes of it
 * @example const countHosts: Task<null, number, number> = { *run(estate) { yield 0; return estate.count('host') } }
 */
export interface Task<I, P, O> {
  run(estate: Estate, input: I): Generator<P, O, void>
}

/**
 * Does a task to its end, in one go.
 *
 * @example carryOut(countHosts, estate, null) // 6
 */
export function carryOut<I, P, O>(task: Task<I, P, O>, estate: Estate, input: I): O {
  const steps = task.run(estate, input)
  for (;;) {
    const step = steps.next()
    if (step.done) return step.value
  }
}

/** How a task is done while others are served in between. */
export interface Turns<P> {
  /** Lets others have their turn. */
  readonly pause: () => Promise<unknown>
  /** Whether its turn is over. */
  readonly isOver: () => boolean
  /** Whether anybody still waits for it, asked after each pause; for ever where it is left out. */
  readonly isWanted?: () => boolean
  /** Told how far it is, before each pause. */
  readonly tell?: ((progress: P) => unknown) | undefined
}

/**
 * Does a task turn by turn.
 *
 * @returns what comes of it; undefined where nobody waited for it any more
 */
export async function inTurns<I, P, O>(task: Task<I, P, O>, estate: Estate, input: I, turns: Turns<P>): Promise<O | undefined> {
  const steps = task.run(estate, input)
  for (;;) {
    const step = steps.next()
    if (step.done) return step.value
    if (!turns.isOver()) continue
    void turns.tell?.(step.value)
    await turns.pause()
    if (turns.isWanted?.() === false) {
      steps.return(undefined as never)
      return undefined
    }
  }
}
