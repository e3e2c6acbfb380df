import type { MoveView } from './move-view.js'

/** How serious what a check says is: an error is settled or accepted before copying begins. */
export type CheckVerdict = 'error' | 'warning' | 'fine'

/** What a check says of a move. */
export interface CheckAnswer {
  readonly verdict: CheckVerdict
  readonly sentence: string
  /** What it rests on, by label. */
  readonly evidence?: readonly (readonly [label: string, value: string])[]
  readonly remedy?: string
  /** Whether a person settles it by looking, since no record shows it. */
  readonly isByHand?: boolean
}

/** One check of a move before its copying: a small rule. Common practice, no source, unless it names one. */
export interface Precheck {
  readonly id: string
  readonly title: string
  readonly group: 'source' | 'machine' | 'room' | 'network'
  /** @returns undefined where the check has nothing to say of this move */
  check(view: MoveView): CheckAnswer | undefined
}

/** The step of a move's sheet under which a check is settled. */
export const checkStep = (id: string): string => `check-${id}`
/** What a step of the sheet says is done. */
export const isDone = ({ steps }: Pick<MoveView, 'steps'>, id: string): boolean => steps.get(checkStep(id))?.state === 'done'
