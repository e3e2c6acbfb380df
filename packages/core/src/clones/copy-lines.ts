import type { CopyStepKey } from './copy-steps.js'

/** What to do at each step of a copy. Common practice, no source. */
export const copyLines: Readonly<Record<CopyStepKey, string>> = {
  copied: 'The copy is whole: its disks have the size that is planned, and the platform reports no error.',
  attached: 'Its adapters are plugged into the planned networks, with the recorded MACs.',
  'first-boot': 'It boots to the login, once, watched on its console.',
  generalised: 'Machine identity, host keys and machine name are generated. Its adapters are connected after that, not before.',
  named: 'It has its own name, in itself and in DNS.',
  address: 'It shows the planned address and pings the gateway.',
  identity: 'Its machine identity and host keys differ from the template’s and from the other copies’.',
  licence: 'A licence is free for it, and it is activated where that is asked.',
  password: 'Its own password, kept in the estate’s password safe, not in Insel.',
  joined: 'It is a member of the directory, cluster or pool it belongs to.',
  protection: 'Its backup is planned and it is monitored.',
  'in-service': 'It does its work.',
}

/** Minutes that each step usually takes. Common practice, no source. */
export const copyMinutes: Readonly<Record<string, number>> = {
  copied: 5,
  attached: 1,
  'first-boot': 2,
  generalised: 3,
  named: 1,
  address: 1,
  identity: 1,
  licence: 1,
  password: 1,
  joined: 2,
  protection: 2,
  'in-service': 1,
} satisfies Record<CopyStepKey, number>
