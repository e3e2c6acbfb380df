import type { Estate } from './estate.js'
import { kinds, type AnyRecord, type Kind, type RecordOf } from './kinds/index.js'

/**
 * How people call a record: its name, or what it is a part of.
 *
 * @example recordTitle(estate, 'adapter', adapter) // 'adapter 1 of vault'
 */
export function recordTitle(estate: Estate, kind: Kind, record: AnyRecord): string {
  const guestName = (id: string) => estate.find('guest', id)?.name ?? 'a removed guest'
  const networkName = (id: string) => estate.find('network', id)?.name ?? 'a removed network'
  const hostName = (id: string) => estate.find('host', id)?.name ?? 'a removed host'
  switch (kind) {
    case 'disk': {
      const disk = record as RecordOf<'disk'>
      return `disk ${disk.position} (${disk.use}) of ${guestName(disk.guestId)}`
    }
    case 'adapter': {
      const adapter = record as RecordOf<'adapter'>
      return `adapter ${adapter.position} of ${guestName(adapter.guestId)}`
    }
    case 'address':
      return (record as RecordOf<'address'>).ip
    case 'subnet':
      return (record as RecordOf<'subnet'>).prefix
    case 'pool': {
      const pool = record as RecordOf<'pool'>
      return `pool ${pool.first} to ${pool.last}`
    }
    case 'attachment': {
      const attachment = record as RecordOf<'attachment'>
      return `${networkName(attachment.networkId)} on ${hostName(attachment.hostId)}`
    }
    case 'migration': {
      const migration = record as RecordOf<'migration'>
      return `migration of ${guestName(migration.guestId)} to ${hostName(migration.toHostId)}`
    }
    case 'module':
      return `memory module in slot ${(record as RecordOf<'module'>).slot} of ${hostName((record as RecordOf<'module'>).hostId)}`
    case 'drive':
      return `drive in bay ${(record as RecordOf<'drive'>).position} of ${hostName((record as RecordOf<'drive'>).hostId)}`
    case 'port':
      return `${(record as RecordOf<'port'>).name} of ${hostName((record as RecordOf<'port'>).hostId)}`
    case 'array':
      return `${(record as RecordOf<'array'>).name} of ${hostName((record as RecordOf<'array'>).hostId)}`
    case 'sheet':
      return `build sheet of ${hostName((record as RecordOf<'sheet'>).hostId)}`
    case 'step': {
      const { step, sheetId } = record as RecordOf<'step'>
      return `step ${step} on the build sheet of ${hostName(estate.find('sheet', sheetId)?.hostId ?? '')}`
    }
    case 'deviation': {
      const { about, hostId } = record as RecordOf<'deviation'>
      return `${about} on ${hostName(hostId)} not as planned`
    }
    case 'policy':
      return 'the policies'
    default:
      return (record as { name?: string }).name ?? kinds[kind].label
  }
}

/** Who has an address, in words: an adapter, a host, or nobody yet. */
export function addressOwner(estate: Estate, address: RecordOf<'address'>): string {
  const adapter = estate.find('adapter', address.adapterId)
  if (adapter) return recordTitle(estate, 'adapter', adapter)
  const host = estate.find('host', address.hostId)
  return host ? `host ${host.name}` : 'nobody yet'
}

/** The thing that holds what a record records: for an address its owner, otherwise the record itself. */
export function holderPhrase(estate: Estate, kind: Kind, record: AnyRecord): string {
  if (kind !== 'address') return recordPhrase(estate, kind, record)
  const address = record as RecordOf<'address'>
  return address.kind === 'reserved' ? 'a reservation' : addressOwner(estate, address)
}

/** The kind's word and the record's name: `guest vault`, `disk 1 (system) of vault`. */
export function recordPhrase(estate: Estate, kind: Kind, record: AnyRecord): string {
  const title = recordTitle(estate, kind, record)
  return 'name' in record ? `${kinds[kind].label} ${title}` : title
}
