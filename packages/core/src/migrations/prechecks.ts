import type { Estate, Migration } from '../estate/index.js'
import { checksOfMachine } from './checks-machine.js'
import { checksOfNetwork } from './checks-network.js'
import { checksOfRoom } from './checks-room.js'
import { checksOfSource } from './checks-source.js'
import { checkStep, type CheckAnswer, type Precheck } from './check.js'
import { moveView, type MoveView } from './move-view.js'

/** A check with what it says, and what became of it. */
export interface CheckedMove extends CheckAnswer {
  readonly id: string
  readonly title: string
  readonly group: Precheck['group']
  /** The key under which it is settled on the sheet of the move. */
  readonly step: string
  /** Done or accepted, by whom and why: the step. */
  readonly settled: { readonly how: 'done' | 'accepted'; readonly note: string } | undefined
}

/** Every check there is, by what it looks at. */
export const prechecks: readonly Precheck[] = [...checksOfSource, ...checksOfMachine, ...checksOfRoom, ...checksOfNetwork]

/** What all checks say of a move: errors first, each with what became of it. */
export function checkMove(view: MoveView): readonly CheckedMove[] {
  const order = { error: 0, warning: 1, fine: 2 }
  return prechecks
    .flatMap((rule): CheckedMove[] => {
      const answer = rule.check(view)
      if (!answer) return []
      const step = view.steps.get(checkStep(rule.id))
      const settled =
        step?.state === 'done'
          ? { how: 'done' as const, note: step.note }
          : step?.state === 'skipped'
            ? { how: 'accepted' as const, note: step.note }
            : undefined
      const { id, title, group } = rule
      return [{ ...answer, id, title, group, step: checkStep(id), settled: answer.verdict === 'fine' ? undefined : settled }]
    })
    .sort((a, b) => order[a.verdict] - order[b.verdict])
}

/** The checks of a move that are errors and neither settled nor accepted. */
export function openErrors(estate: Estate, move: Migration, today: string): readonly CheckedMove[] {
  const view = moveView(estate, move, today)
  return view ? checkMove(view).filter(({ verdict, settled }) => verdict === 'error' && !settled) : []
}
