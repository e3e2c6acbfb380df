import type { Command, IdMaker } from '../../commands/index.js'
import type { Estate, Guest, System } from '../../estate/index.js'
import { composeGuest, type GuestDraft } from '../../guests/index.js'
import type { OvfSystem } from './ovf.js'
import { findSystem } from '../find-system.js'
import { plainName } from '../plain-name.js'

/** What a person chooses before a system of a descriptor becomes a guest. */
export interface OvfMapping {
  readonly name: string
  readonly hostId: string
  /** For each network of the descriptor, the estate's network or null for none. */
  readonly networks: Readonly<Record<string, string | null>>
  /** For each disk, in order, the store it goes to. */
  readonly stores: readonly (string | null)[]
  /** What it boots with, where the descriptor does not say it; undefined until somebody does. */
  readonly firmware: Guest['firmware'] | undefined
  /** The recorded system it runs; null for none of them. */
  readonly systemId: string | null
  /** Whether MACs of the descriptor are kept: only where the machine it is of will never run beside it. */
  readonly keepsMacs: boolean
}

/**
 * A name that a guest may have and none has yet, made from the descriptor's.
 *
 * @example guestNameOf(estate, 'mail & more') // 'mail-more'
 */
export function guestNameOf(estate: Estate, name: string): string {
  const plain = plainName(name)
  let free = plain
  for (let number = 2; estate.byKey('guest', { name: free }).length > 0; number++) free = `${plain.slice(0, 58)}-${number}`
  return free
}

/** The recorded system that a descriptor's words mean, if they mean one. */
export const ovfSystemOf = (estate: Estate, system: OvfSystem): System | undefined => findSystem(estate, system.system ?? '')

/** A system of a descriptor as a draft of a guest: planned, or stopped where it is a template. */
export function ovfDraft(estate: Estate, system: OvfSystem, mapping: OvfMapping): GuestDraft {
  // What it runs is not forgotten where it is none of the recorded systems.
  const unmatched = mapping.systemId === null && system.system ? `System: ${system.system}` : ''
  return {
    guest: {
      ...(mapping.firmware ? { firmware: mapping.firmware } : {}),
      ...system.more,
      name: mapping.name,
      hostId: mapping.hostId || null,
      state: system.more.kind === 'template' ? 'stopped' : 'planned',
      vcpu: system.vcpu,
      memoryMiB: system.memoryMiB,
      systemId: mapping.systemId,
      note: [system.note, unmatched].filter(Boolean).join('\n'),
    },
    disks: system.disks.map(({ use, sizeBytes, bus, more }, index) => ({
      ...more,
      use,
      sizeBytes,
      bus,
      provisioning: more.provisioning ?? 'thin',
      storeId: mapping.stores[index] ?? null,
    })),
    adapters: system.adapters.map(({ network, model }) => ({
      networkId: network === undefined ? null : (mapping.networks[network] ?? null),
      ip: null,
      addressing: 'none' as const,
      model,
    })),
  }
}

/**
 * The commands that record a system of a descriptor as a planned guest.
 *
 * @example applyAll(estate, ovfCommands(estate, system, mapping, context), context)
 */
export function ovfCommands(estate: Estate, system: OvfSystem, mapping: OvfMapping, context: IdMaker): readonly Command[] {
  return composeGuest(estate, ovfDraft(estate, system, mapping), context).map((command): Command => {
    if (command.type !== 'adapter.add') return command
    const adapter = system.adapters[(command.record.position ?? 1) - 1]
    return {
      type: 'adapter.add',
      record: {
        ...command.record,
        isConnected: adapter?.isConnected ?? true,
        ...(mapping.keepsMacs && adapter?.mac ? { mac: adapter.mac } : {}),
      },
    }
  })
}
