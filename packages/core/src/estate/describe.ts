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
  const sheetTitle = ({ guestId, hostId, migrationId, copyId, work }: RecordOf<'sheet'>) => {
    if (copyId) return `copy sheet of ${titleOfCopy(estate, estate.find('copy', copyId))}`
    const migration = estate.find('migration', migrationId)
    if (migration) return `sheet of the ${recordTitle(estate, 'migration', migration)}`
    const name = work === 'set-up' ? (guestId ? 'install sheet' : 'build sheet') : `${work === 'other' ? '' : `${work} `}sheet`
    return `${name} of ${guestId ? guestName(guestId) : hostName(hostId ?? '')}`
  }
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
      return `DHCP range ${pool.first} to ${pool.last}`
    }
    case 'attachment': {
      const attachment = record as RecordOf<'attachment'>
      return `${networkName(attachment.networkId)} on ${hostName(attachment.hostId)}`
    }
    case 'migration': {
      const migration = record as RecordOf<'migration'>
      const { guest, to } = migrationNames(estate, migration)
      return `migration of ${guest} to ${to}`
    }
    case 'leftover': {
      const { migrationId, storeId, storeName } = record as RecordOf<'leftover'>
      const migration = estate.find('migration', migrationId)
      const where = estate.find('store', storeId)?.name ?? storeName
      return `what ${migration ? migrationNames(estate, migration).guest : 'a removed move'} left${where ? ` on ${where}` : ''}`
    }
    case 'entry': {
      const { work, hostName: host, guestName: guest, hostId, guestId, text } = record as RecordOf<'entry'>
      const named = guestId ? guestName(guestId) : hostId ? hostName(hostId) : (guest ?? host)
      return `${work}${named ? ` of ${named}` : ''}: ${text.split('\n')[0]?.slice(0, 80) ?? ''}`
    }
    case 'hardware':
      return `details of ${guestName((record as RecordOf<'hardware'>).guestId)}`
    case 'volume': {
      const { name, diskId } = record as RecordOf<'volume'>
      return `${name} of ${guestName(estate.find('disk', diskId)?.guestId ?? '')}`
    }
    case 'module':
      return `memory module in slot ${(record as RecordOf<'module'>).slot} of ${hostName((record as RecordOf<'module'>).hostId)}`
    case 'drive':
      return `drive in bay ${(record as RecordOf<'drive'>).position} of ${hostName((record as RecordOf<'drive'>).hostId)}`
    case 'port':
      return `${(record as RecordOf<'port'>).name} of ${hostName((record as RecordOf<'port'>).hostId)}`
    case 'array':
      return `${(record as RecordOf<'array'>).name} of ${hostName((record as RecordOf<'array'>).hostId)}`
    case 'switch':
      return `${(record as RecordOf<'switch'>).name} of ${hostName((record as RecordOf<'switch'>).hostId)}`
    case 'lease': {
      const lease = record as RecordOf<'lease'>
      return `lease of ${lease.ip} to ${lease.mac}`
    }
    case 'forward': {
      const forward = record as RecordOf<'forward'>
      return `${forward.protocol} port ${forward.hostPort} of ${hostName(forward.hostId)}`
    }
    case 'route': {
      const route = record as RecordOf<'route'>
      return `route to ${route.prefix} on ${routerName(estate, route)}`
    }
    case 'filter': {
      const filter = record as RecordOf<'filter'>
      return `filter line ${filter.position} on ${routerName(estate, filter)}`
    }
    case 'intent': {
      const intent = record as RecordOf<'intent'>
      return `${groupTitle(estate, intent, 'from')} ${intent.wanted} ${groupTitle(estate, intent, 'to')}`
    }
    case 'snapshot': {
      const snapshot = record as RecordOf<'snapshot'>
      return `${snapshot.name} of ${guestName(snapshot.guestId)}`
    }
    case 'dependency': {
      const dependency = record as RecordOf<'dependency'>
      return `${guestName(dependency.guestId)} needs ${guestName(dependency.needsId)}`
    }
    case 'sheet':
      return sheetTitle(record as RecordOf<'sheet'>)
    case 'step': {
      const { step, title, sheetId } = record as RecordOf<'step'>
      const sheet = estate.find('sheet', sheetId)
      // Steps that Insel derives are called by their keys, as words.
      return `step ${title ?? step.replaceAll('-', ' ')} on the ${sheet ? sheetTitle(sheet) : 'sheet removed since'}`
    }
    case 'routine':
      return `“${(record as RecordOf<'routine'>).title}” on every new sheet`
    case 'deviation': {
      const { about, hostId, guestId } = record as RecordOf<'deviation'>
      return guestId
        ? `${about} in ${guestName(guestId)} differs from the record`
        : `${about} on ${hostName(hostId ?? '')} differs from the record`
    }
    case 'acceptance':
      return (record as RecordOf<'acceptance'>).sentence
    case 'item':
      return (record as RecordOf<'item'>).title
    case 'template': {
      const { version, guestId } = record as RecordOf<'template'>
      return `version ${version} of ${estate.find('guest', guestId)?.name ?? 'a template removed since'}`
    }
    case 'copy':
      return titleOfCopy(estate, record as RecordOf<'copy'>)
    case 'policy':
      return 'the policies'
    default:
      return (record as { name?: string }).name ?? kinds[kind].label
  }
}

/** How the things of a migration are called; as they were called, where they are removed since. */
export const migrationNames = (
  estate: Estate,
  {
    guestId,
    guestName,
    fromHostId,
    fromHostName,
    toHostId,
    toHostName,
    becomesId,
    becomesName,
  }: Pick<
    RecordOf<'migration'>,
    'guestId' | 'guestName' | 'fromHostId' | 'fromHostName' | 'toHostId' | 'toHostName' | 'becomesId' | 'becomesName'
  >,
): { readonly guest: string; readonly from: string | null; readonly to: string; readonly becomes: string | null } => ({
  guest: estate.find('guest', guestId)?.name ?? guestName ?? 'a removed guest',
  from: estate.find('host', fromHostId)?.name ?? fromHostName,
  to: estate.find('host', toHostId)?.name ?? toHostName ?? estate.find('guest', becomesId)?.name ?? becomesName ?? 'a removed host',
  becomes: estate.find('guest', becomesId)?.name ?? becomesName,
})

/** The machine a route or filter is set on, in words. */
export const routerName = (estate: Estate, { guestId, hostId }: { guestId: string | null; hostId: string | null }): string =>
  estate.find('guest', guestId)?.name ?? estate.find('host', hostId)?.name ?? 'the site gateway'

/** One side of an intention, in words: `office`, `role storage`, `site mast`, `outside`. */
export function groupTitle(estate: Estate, intent: RecordOf<'intent'>, side: 'from' | 'to'): string {
  const kind = intent[`${side}Kind`]
  if (kind === 'network') return estate.find('network', intent[`${side}NetworkId`])?.name ?? 'a removed network'
  return kind === 'outside' ? 'outside' : `${kind} ${intent[`${side}Name`] ?? ''}`
}

/** Who has an address, in words: an adapter, a host, or nobody yet. */
export function addressOwner(estate: Estate, address: RecordOf<'address'>): string {
  const adapter = estate.find('adapter', address.adapterId)
  if (adapter) return recordTitle(estate, 'adapter', adapter)
  const host = estate.find('host', address.hostId)
  if (host) return `host ${host.name}`
  return address.name ?? 'unassigned'
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
  // What an item is called is a sentence of its own.
  if (kind === 'item') return `item “${title}”`
  const isNamed = ('name' in record && kind !== 'address' && kind !== 'lease') || kind === 'copy'
  return isNamed ? `${kinds[kind].label} ${title}` : title
}

const titleOfCopy = (estate: Estate, copy: RecordOf<'copy'> | undefined): string =>
  estate.find('guest', copy?.guestId)?.name ?? copy?.guestName ?? 'a copy removed since'
