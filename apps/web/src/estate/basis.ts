import type { Command, Difference, Estate, Item, Plan } from '@insel/core'

/** What pages are shown upon: the record, the record with the draft's commands, after items of a plan, or the record as it was. */
export type Basis =
  | { readonly on: 'recorded' }
  | { readonly on: 'plan'; readonly commands: readonly Command[] }
  | {
      readonly on: 'item'
      readonly plan: Plan
      /** The item after which it is shown, and those of the plan that are still to be done, in their order. */
      readonly item: Item
      readonly ahead: readonly Item[]
      /** What leads there, an item's commands each. */
      readonly steps: readonly (readonly Command[])[]
    }
  | {
      readonly on: 'asOf'
      /** The change after which it is shown. */
      readonly revision: number
      /** What leads there from the record as it is now. */
      readonly back: Difference
    }

/** What of a basis is in a page's address. */
export type Shown =
  | { readonly on: 'recorded' }
  | { readonly on: 'plan' }
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
  if (text === 'plan') return { on: 'plan' }
  const [, planId, itemId] = AFTER.exec(text ?? '') ?? []
  if (planId !== undefined && itemId !== undefined) return { on: 'item', planId, itemId }
  const revision = AS_OF.exec(text ?? '')?.[1]
  return revision === undefined ? RECORDED : { on: 'asOf', revision: Number(revision) }
}

/** Puts a basis into a page's address. */
export function putShown(params: URLSearchParams, shown: Shown): void {
  if (shown.on === 'recorded') params.delete(PARAMETER)
  else if (shown.on === 'plan') params.set(PARAMETER, 'plan')
  else if (shown.on === 'item') params.set(PARAMETER, `${shown.planId}~${shown.itemId}`)
  else params.set(PARAMETER, `change-${shown.revision}`)
}

/** The same as what follows `basis=` in an address; nothing for the record. */
export function textOfShown(shown: Shown): string {
  const params = new URLSearchParams()
  putShown(params, shown)
  return params.get(PARAMETER) ?? ''
}

/** A text that is the same for the same basis, on one revision of the record. */
export function keyOfBasis(basis: Basis): string {
  switch (basis.on) {
    case 'plan':
      return JSON.stringify(basis.commands)
    case 'item':
      return `${basis.item.id} ${JSON.stringify(basis.steps)}`
    case 'asOf':
      return `change-${basis.revision}`
    case 'recorded':
      return basis.on
  }
}

/** Whether what one sees is the record itself, so that one may change it where it is shown. */
export const mayRecord = (basis: Basis): boolean => basis.on === 'recorded'

/** Why nothing can be recorded or planned here, or undefined where it can. */
export function whyReadOnly(basis: Basis): string | undefined {
  if (basis.on === 'asOf') return `This is the record as of change ${basis.revision}. Switch to Recorded to change anything.`
  if (basis.on === 'item')
    return `This is the estate as it would be after “${basis.item.title}” of plan “${basis.plan.name}”. Switch to Recorded to change anything.`
  return undefined
}

/** The estate as it was, from the one that is recorded. */
export const asOf = (recorded: Estate, { back }: Extract<Basis, { on: 'asOf' }>): Estate => recorded.with(back)
