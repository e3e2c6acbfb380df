import type { Command, Difference, Estate } from '@insel/core'

/** What pages are shown upon: the record, the record with the plan's commands, or the record as it was. */
export type Basis =
  | { readonly on: 'recorded' }
  | { readonly on: 'plan'; readonly commands: readonly Command[] }
  | {
      readonly on: 'asOf'
      /** The change after which it is shown. */
      readonly revision: number
      /** What leads there from the record as it is now. */
      readonly back: Difference
    }

/** What of a basis is in a page's address. */
export type Shown = { readonly on: 'recorded' } | { readonly on: 'plan' } | { readonly on: 'asOf'; readonly revision: number }

export const RECORDED = { on: 'recorded' } as const satisfies Basis & Shown

const PARAMETER = 'basis'
const AS_OF = /^change-(\d{1,9})$/

/** The basis that a page's address asks for. */
export function shownIn(params: URLSearchParams): Shown {
  const text = params.get(PARAMETER)
  if (text === 'plan') return { on: 'plan' }
  const revision = AS_OF.exec(text ?? '')?.[1]
  return revision === undefined ? RECORDED : { on: 'asOf', revision: Number(revision) }
}

/** Puts a basis into a page's address. */
export function putShown(params: URLSearchParams, shown: Shown): void {
  if (shown.on === 'recorded') params.delete(PARAMETER)
  else if (shown.on === 'plan') params.set(PARAMETER, 'plan')
  else params.set(PARAMETER, `change-${shown.revision}`)
}

/** A text that is the same for the same basis, on one revision of the record. */
export const keyOfBasis = (basis: Basis): string =>
  basis.on === 'plan' ? JSON.stringify(basis.commands) : basis.on === 'asOf' ? `change-${basis.revision}` : basis.on

/** Whether what one sees is the record itself, so that one may change it where it is shown. */
export const mayRecord = (basis: Basis): boolean => basis.on === 'recorded'

/** Why nothing can be recorded or planned here, or undefined where it can. */
export const whyReadOnly = (basis: Basis): string | undefined =>
  basis.on === 'asOf' ? `This is the record as of change ${basis.revision}. Switch to Recorded to change anything.` : undefined

/** The estate as it was, from the one that is recorded. */
export const asOf = (recorded: Estate, { back }: Extract<Basis, { on: 'asOf' }>): Estate => recorded.with(back)
