import type { Batch, Copy, CopyStep, Estate, Step } from '@insel/core'

/** One copy with what became of its steps. */
export interface FollowedCopy {
  readonly copy: Copy
  readonly name: string
  readonly steps: ReadonlyMap<string, Step>
  /** The first step that is neither done nor skipped. */
  readonly next: CopyStep | undefined
}

const isSettled = (step: Step | undefined) => step?.state === 'done' || step?.state === 'skipped'

/** The copies of a batch, in order. */
export function followed(estate: Estate, batch: Batch, steps: readonly CopyStep[]): readonly FollowedCopy[] {
  return [...estate.referring('copy', 'batchId', batch.id)]
    .sort((a, b) => a.position - b.position)
    .map((copy) => {
      const sheet = estate.referring('sheet', 'copyId', copy.id)[0]
      const own = new Map((sheet ? estate.referring('step', 'sheetId', sheet.id) : []).map((step) => [step.step, step]))
      return {
        copy,
        name: estate.find('guest', copy.guestId)?.name ?? copy.guestName ?? '',
        steps: own,
        next: steps.find(({ key }) => !isSettled(own.get(key))),
      }
    })
}

/** Whether a copy is still worked on. */
export const isOpen = ({ state }: Pick<Copy, 'state'>): boolean => state !== 'dropped' && state !== 'in service'
