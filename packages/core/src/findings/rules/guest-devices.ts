import type { Command } from '../../commands/index.js'
import { disksOf, type Estate, type Guest } from '../../estate/index.js'
import { checkDevices, devicePlanOf, type DeviceRemark } from '../../guests/index.js'
import { defineRule, type Rule } from '../rule.js'

const reads = ['< disk.guestId', '< adapter.guestId', '> systemId', '> hostId', '> hostId > platformId']

const NONE: readonly DeviceRemark[] = []

/** What is checked of a guest's devices, external machines and retired guests left out: theirs are as they are. */
function remarksOf(estate: Estate, guest: Guest, traps: readonly DeviceRemark['trap'][]): readonly DeviceRemark[] {
  if (guest.kind === 'external' || guest.state === 'retired') return NONE
  // Four rules ask for them one after the other.
  const remarks = estate.deriveFor(['host', 'platform', 'system', 'disk', 'adapter'], guest, allRemarks)
  return remarks.length > 0 ? remarks.filter(({ trap }) => traps.includes(trap)) : NONE
}

function allRemarks(estate: Estate, guest: Guest): readonly DeviceRemark[] {
  const host = estate.find('host', guest.hostId)
  const platform = estate.find('platform', host?.platformId)
  const remarks = checkDevices(devicePlanOf(estate, guest), estate.find('system', guest.systemId), platform, host)
  return remarks.length > 0 ? remarks : NONE
}

/** The command that mends a remark, on a recorded guest. */
function mendOf(estate: Estate, guest: Guest, { mend }: DeviceRemark): readonly Command[] {
  if (mend?.what === 'guest') return [{ type: 'guest.update', id: guest.id, changes: mend.changes }]
  if (mend?.what === 'disk') {
    const disk = disksOf(estate, guest.id)[mend.at]
    return disk ? [{ type: 'disk.update', id: disk.id, changes: mend.changes }] : []
  }
  const adapter = mend ? devicePlanOf(estate, guest).adapters[mend.at] : undefined
  return adapter && mend?.what === 'adapter' ? [{ type: 'adapter.update', id: adapter.id, changes: mend.changes }] : []
}

const deviceRule = (id: string, title: string, traps: readonly DeviceRemark['trap'][]): Rule =>
  defineRule({
    id,
    title,
    appliesTo: 'guest',
    reads,
    check: (estate, guest) =>
      remarksOf(estate, guest, traps).map(({ trap, of, severity, sentence, remedy }) => ({
        apart: typeof of === 'string' ? `${trap}.${of}` : `${trap}.${devicePlanOf(estate, guest)[`${of.kind}s`][of.at]?.id ?? of.at}`,
        severity,
        sentence: `${guest.name}: ${sentence}`,
        evidence: [
          { label: 'system', value: estate.find('system', guest.systemId)?.name ?? 'not named' },
          { label: 'host', value: estate.find('host', guest.hostId)?.name ?? 'none' },
        ],
        remedy,
      })),
    fix: (estate, guest) => {
      const commands = remarksOf(estate, guest, traps).flatMap((remark) => mendOf(estate, guest, remark))
      return commands.length > 0 ? commands : undefined
    },
  })

/** A device for which the guest's system has no driver. Common practice, no source. */
export const guestDrivers = deviceRule('guest.no-driver', 'No driver in its system', [
  'disk-driver',
  'disk-driver-image',
  'disk-bus',
  'adapter-driver',
  'adapter-driver-image',
])
/** Firmware, board or processor that the guest's system or host does not go with. Common practice, no source. */
export const guestBoard = deviceRule('guest.board', 'Firmware or board does not fit', [
  'firmware',
  'trusted-module',
  'machine-type',
  'processor-mode',
  'numa',
])
/** Less than the guest's system needs. The catalogue's or the profile's figures. */
export const guestMinimum = deviceRule('guest.below-minimum', 'Less than its system needs', ['below-minimum'])
/** More than the platform gives one guest. */
export const guestLimit = deviceRule('guest.over-limit', 'More than the platform gives', ['limit'])
