import { project, withIds, type Command, type Estate } from '@insel/core'
import { useCallback, useState } from 'react'
import { readStored, store } from '../lib/storage'
import { browserContext, newId } from '../lib/context'

const NO_PLAN: readonly Command[] = []

/** The commands drafted on this browser and not applied. */
export function usePlan(estateId: string): { readonly plan: readonly Command[]; setPlan(commands: readonly Command[]): void } {
  const [plan, keep] = useState<readonly Command[]>(() => readStored<Command[]>(`plan.${estateId}`) ?? NO_PLAN)
  const setPlan = useCallback(
    (wanted: readonly Command[]) => {
      // What they make is settled now, so that the plan shows the same records each time it is laid over the record.
      const commands = withIds(wanted, newId)
      store(`plan.${estateId}`, commands.length > 0 ? commands : undefined)
      keep(commands)
    },
    [estateId],
  )
  return { plan, setPlan }
}

/**
 * The record with a plan. Steps that can no longer be done are left out, and the first of them is said; the rest is shown.
 *
 * @param revision of the record
 */
export function planned(recorded: Estate, plan: readonly Command[], revision: number): { estate: Estate; trouble: string | undefined } {
  const { estate, steps } = project(recorded, plan, browserContext(revision))
  const [trouble] = steps.flatMap((step) => (step.ok ? [] : [step.refusal.message]))
  return { estate, trouble }
}
