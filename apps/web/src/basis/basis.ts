import { now } from '../lib/time'
import { whyNotInItem, type Command, type Difference, type Item, type Plan } from '@insel/core'

/** What pages are shown upon: the record, the estate as it would be after items of a plan, or the record as it was. */
export type Basis =
  | { readonly on: 'recorded' }
  | {
      readonly on: 'item'
      readonly plan: Plan
      /** The item after which it is shown, and those of the plan that are still to be done, in their order. */
      readonly item: Item
      readonly ahead: readonly Item[]
    }
  | {
      readonly on: 'asOf'
      /** The change after which it is shown. */
      readonly revision: number
      /** What leads there from the record as it is now. */
      readonly back: Difference
      /** When that change was recorded: dates are seen from there. */
      readonly at: string
    }

/** What of a basis is in a page's address. */
export type Shown =
  | { readonly on: 'recorded' }
  | { readonly on: 'item'; readonly planId: string; readonly itemId: string }
  | { readonly on: 'asOf'; readonly revision: number }

export const RECORDED = { on: 'recorded' } as const satisfies Basis & Shown

const PARAMETER = 'basis'
const AS_OF = /^change-(\d{1,9})$/
/** A plan and one of its items. */
const AFTER = /^([\da-f-]{36})~([\da-f-]{36})$/

/** The basis that a page's address asks for. */
export function shownIn(params: URLSearchParams): Shown {
  const text = params.get(PARAMETER)
  const [, planId, itemId] = AFTER.exec(text ?? '') ?? []
  if (planId !== undefined && itemId !== undefined) return { on: 'item', planId, itemId }
  const revision = AS_OF.exec(text ?? '')?.[1]
  return revision === undefined ? RECORDED : { on: 'asOf', revision: Number(revision) }
}

/** Puts a basis into a page's address. */
export function putShown(params: URLSearchParams, shown: Shown): void {
  if (shown.on === 'recorded') params.delete(PARAMETER)
  else if (shown.on === 'item') params.set(PARAMETER, `${shown.planId}~${shown.itemId}`)
  else params.set(PARAMETER, `change-${shown.revision}`)
}

/** The same as what follows `basis=` in an address; nothing for the record. */
export function textOfShown(shown: Shown): string {
  const params = new URLSearchParams()
  putShown(params, shown)
  return params.get(PARAMETER) ?? ''
}

/** As much of a basis as says what it shows, for those who have the record themselves. */
export type BasisNamed =
  Exclude<Basis, { on: 'item' }> | { readonly on: 'item'; readonly plan: Pick<Plan, 'id'>; readonly item: Pick<Item, 'id'> }

/** The same basis without the items of its plan, which are much to send. */
export const named = (basis: Basis): BasisNamed =>
  basis.on === 'item' ? { on: 'item', plan: { id: basis.plan.id }, item: { id: basis.item.id } } : basis

/** A text that is the same for the same basis, on one revision of the record. */
export function keyOfBasis(basis: BasisNamed): string {
  switch (basis.on) {
    case 'item':
      return basis.item.id
    case 'asOf':
      return `change-${basis.revision}`
    case 'recorded':
      return basis.on
  }
}

/** Whether one may change what one sees where it is shown: the record, or a plan. */
export const mayRecord = (basis: Basis): boolean => basis.on !== 'asOf'

/**
 * Where commands go that are given where a basis is shown: to the record, or into its plan as an item. What no item can hold, such as
 * ticks, observations and plans themselves, is recorded on any basis.
 *
 * @returns `both` where a list holds some of each: it is done in two
 */
export function whereTo(basis: Basis, commands: readonly Command[]): 'record' | 'plan' | 'both' {
  if (basis.on !== 'item') return 'record'
  const recorded = commands.filter((command) => whyNotInItem(command) !== undefined).length
  return recorded === commands.length ? 'record' : recorded === 0 ? 'plan' : 'both'
}

/** Why nothing can be recorded or planned here, or undefined where it can. */
export const whyReadOnly = (basis: Basis): string | undefined =>
  basis.on === 'asOf' ? `This is the record as of change ${basis.revision}. Switch to Recorded to change anything.` : undefined

/** The instant at which what is shown is looked at: that of the change, where it is the past. */
export const instantOf = (basis: BasisNamed): string => (basis.on === 'asOf' ? basis.at : now())
