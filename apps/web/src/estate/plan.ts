import { dayOf, isOpenPlan, itemKindOf, sayWhole, type Command, type Estate, type Person, type Plan } from '@insel/core'
import { useCallback, useState } from 'react'
import { newId } from '../lib/context'
import { readStored, store } from '../lib/storage'
import { now } from '../lib/time'
import type { Basis, Shown } from '../basis/basis'
import type { Refusal } from './refusal'
import type { Submitting } from './submit'

/** Commands that this browser kept for itself before there were plans that everybody sees. */
export function useOldDraft(estateId: string): {
  readonly oldDraft: readonly Command[] | undefined
  /** Keeps it, or nothing. */
  keepDraft(draft?: readonly Command[]): void
} {
  const name = `plan.${estateId}`
  const [oldDraft, keep] = useState(() => readStored<readonly Command[]>(name))
  const keepDraft = useCallback(
    (draft?: readonly Command[]) => {
      store(name, draft)
      keep(draft)
    },
    [name],
  )
  return { oldDraft: oldDraft && oldDraft.length > 0 ? oldDraft : undefined, keepDraft }
}

/** Which plan takes what is proposed on this browser; none: a new one does. */
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

/** What a new plan is called as long as nobody says otherwise. @example newPlanName(estate) // 'Plan of 2027-03-09' */
export function newPlanName(estate: Estate): string {
  const name = `Plan of ${dayOf(estate, now())}`
  for (let number = 2, wanted = name; ; wanted = `${name}, ${number++}`)
    if (estate.byKey('plan', { name: wanted }).length === 0) return wanted
}

/** Commands as an item of a plan: what kind it is, and what it is called. @param on the estate in which what they name is found */
function itemCommand(on: Estate, planId: string, itemId: string, commands: readonly Command[]): Command & { readonly type: 'item.write' } {
  const [first, ...more] = commands
  const title = first ? `${sayWhole(on, first)}${more.length > 0 ? ` and ${more.length} more` : ''}`.slice(0, 200) : ''
  return { type: 'item.write', id: itemId, planId, kind: itemKindOf(commands), title, commands }
}

/** Where an item goes. */
export interface Place {
  readonly recorded: Estate
  /** What is shown: on a plan's basis the item comes after the one that is looked at. */
  readonly basis: Basis
  /** The estate as it is shown, in which what the commands name is found. */
  readonly estate: Estate
  /** The plan that was chosen; a new one where none was. */
  readonly into: Plan | undefined
  readonly newName: string | undefined
  readonly person: Person | undefined
}

/** Adds commands to a plan as an item. @returns what shows the estate after it, or why it was not added */
export async function addItem(
  submit: Submitting['submit'],
  { recorded, basis, estate, into, newName, person }: Place,
  commands: readonly Command[],
): Promise<Shown | Refusal> {
  const itemId = newId()
  const plan = basis.on === 'item' ? basis.plan : into
  const id = plan?.id ?? newId()
  const name = plan?.name ?? newName ?? newPlanName(recorded)
  const item = itemCommand(estate, id, itemId, commands)
  const next = basis.on === 'item' ? basis.ahead[basis.ahead.findIndex((one) => one.id === basis.item.id) + 1] : undefined
  const command = plan
    ? { ...item, ...(next ? { beforeId: next.id } : {}) }
    : ({ type: 'plan.write', id, name, ownerId: person?.id ?? null, items: [item] } as unknown as Command)
  const why = await submit([command], `Added to plan “${name}”`)
  return why ?? { on: 'item', planId: id, itemId }
}
