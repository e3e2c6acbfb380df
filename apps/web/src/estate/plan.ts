import { isOpenPlan, itemKindOf, project, sayCommand, withIds, type Command, type Estate, type Plan } from '@insel/core'
import { useCallback, useState } from 'react'
import { readStored, store } from '../lib/storage'
import { browserContext, newId } from '../lib/context'
import type { Shown } from './basis'
import type { Refusal } from './refusal'
import type { Submitting } from './submit'

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

/** Which kept plan takes what is proposed on this browser; none: the draft does. */
export function useInto(estateId: string): { readonly intoId: string | undefined; setPlanInto(planId: string | undefined): void } {
  const [intoId, keep] = useState(() => readStored<string>(`into.${estateId}`))
  const setPlanInto = useCallback(
    (planId: string | undefined) => {
      store(`into.${estateId}`, planId)
      keep(planId)
    },
    [estateId],
  )
  return { intoId, setPlanInto }
}

/** The plan with this id, where items may still be added to it. */
export function openPlan(estate: Estate, planId: string | undefined): Plan | undefined {
  const plan = estate.find('plan', planId)
  return plan && isOpenPlan(plan) ? plan : undefined
}

/** Commands as an item of a plan: what kind it is, and what it is called. @param on the estate in which what they name is found */
export function itemCommand(on: Estate, planId: string, itemId: string, commands: readonly Command[]): Command {
  const [first, ...more] = commands
  const title = first ? `${sayCommand(on, first)}${more.length > 0 ? ` and ${more.length} more` : ''}`.slice(0, 200) : ''
  return { type: 'item.write', id: itemId, planId, kind: itemKindOf(commands), title, commands }
}

/** Adds commands to a plan as an item. @returns what shows the estate after it, or why it was not added */
export async function addItem(
  submit: Submitting['submit'],
  recorded: Estate,
  plan: Plan,
  commands: readonly Command[],
): Promise<Shown | Refusal> {
  const itemId = newId()
  const why = await submit([itemCommand(recorded, plan.id, itemId, commands)], `Added to plan “${plan.name}”`)
  return why ?? { on: 'item', planId: plan.id, itemId }
}
