import type { Batch } from '../estate/index.js'

/** What is done with each copy: the step's key, its heading, what to do, and how long it usually takes. Common practice, no source. */
const steps = {
  copied: {
    title: 'Copied',
    line: 'The copy is whole: its disks have the size that is planned, and the platform reports no error.',
    minutes: 5,
  },
  attached: { title: 'Attached', line: 'Its adapters are plugged into the planned networks, with the recorded MACs.', minutes: 1 },
  'first-boot': { title: 'First boot', line: 'It boots to the login, once, watched on its console.', minutes: 2 },
  generalised: {
    title: 'Generalised',
    line: 'Machine identity, host keys and machine name are generated. Its adapters are connected after that, not before.',
    minutes: 3,
  },
  named: { title: 'Named', line: 'It has its own name, in itself and in DNS.', minutes: 1 },
  address: { title: 'Address checked', line: 'It shows the planned address and pings the gateway.', minutes: 1 },
  identity: {
    title: 'Identity checked',
    line: 'Its machine identity and host keys differ from the template’s and from the other copies’.',
    minutes: 1,
  },
  licence: { title: 'Licence counted', line: 'A licence is free for it, and it is activated where that is asked.', minutes: 1 },
  password: { title: 'Password set', line: 'Its own password, kept in the estate’s password safe, not in Insel.', minutes: 1 },
  joined: { title: 'Joined', line: 'It is a member of the directory, cluster or pool it belongs to.', minutes: 2 },
  protection: { title: 'Backup and monitoring', line: 'Its backup is planned and it is monitored.', minutes: 2 },
  'in-service': { title: 'In service', line: 'It does its work.', minutes: 1 },
} as const

export type CopyStepKey = keyof typeof steps
export const isCopyStep = (key: string): key is CopyStepKey => Object.hasOwn(steps, key)

/** One step of a copy. */
export interface CopyStep {
  readonly key: CopyStepKey
  readonly title: string
  readonly line: string
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
  const keys = Object.keys(steps) as CopyStepKey[]
  const order =
    school === 'isolated first boot'
      ? [...isolatedOrder, ...keys.filter((key) => !isolatedOrder.includes(key))]
      : keys.filter((key) => key !== 'generalised')
  return order.map((key) => ({ key, title: steps[key].title, line: steps[key].line }))
}

/** Minutes that each step usually takes, by its key. */
export const copyMinutes: Readonly<Record<string, number>> = Object.fromEntries(
  Object.entries(steps).map(([key, { minutes }]) => [key, minutes]),
)
