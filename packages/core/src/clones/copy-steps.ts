import type { Batch } from '../estate/index.js'

/** What is done with each copy, by the key of the step: its heading. Common practice, no source. */
const titles = {
  copied: 'Copied',
  attached: 'Attached',
  'first-boot': 'First boot',
  generalised: 'Generalised',
  named: 'Named',
  address: 'Address checked',
  identity: 'Identity checked',
  licence: 'Licence counted',
  password: 'Password set',
  joined: 'Joined',
  protection: 'Backup and monitoring',
  'in-service': 'In service',
} as const

export type CopyStepKey = keyof typeof titles
export const isCopyStep = (key: string): key is CopyStepKey => Object.hasOwn(titles, key)

/** One step of a copy; what to do is in `copy-lines.ts`. */
export interface CopyStep {
  readonly key: CopyStepKey
  readonly title: string
}

/** An isolated copy boots, is generalised, and only then plugged in. */
const isolatedOrder: readonly CopyStepKey[] = ['copied', 'first-boot', 'generalised', 'attached']

/**
 * The steps of each copy of a batch, in their order.
 *
 * @param school of a template that was generalised the copies need no step for it: they come without an identity and get one at boot
 * @example copySteps('template generalised').length // 11
 */
export function copySteps(school: Batch['school']): readonly CopyStep[] {
  const keys = Object.keys(titles) as CopyStepKey[]
  const order =
    school === 'isolated first boot'
      ? [...isolatedOrder, ...keys.filter((key) => !isolatedOrder.includes(key))]
      : keys.filter((key) => key !== 'generalised')
  return order.map((key) => ({ key, title: titles[key] }))
}
