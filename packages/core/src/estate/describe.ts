import type { Estate } from './estate.js'
import { kinds, type AnyRecord, type Kind, type RecordOf } from './kinds/index.js'

const nameOf = (estate: Estate, kind: 'guest' | 'host' | 'network', id: string | null): string =>
  estate.find(kind, id)?.name ?? `a removed ${kind}`

const sheetTitle = (estate: Estate, { guestId, hostId, migrationId, copyId, work }: RecordOf<'sheet'>): string => {
  if (copyId) return `copy sheet of ${titleOfCopy(estate, estate.find('copy', copyId))}`
  const migration = estate.find('migration', migrationId)
  if (migration) return `sheet of the ${recordTitle(estate, 'migration', migration)}`
  const name = work === 'set-up' ? (guestId ? 'install sheet' : 'build sheet') : `${work === 'other' ? '' : `${work} `}sheet`
  return `${name} of ${guestId ? nameOf(estate, 'guest', guestId) : nameOf(estate, 'host', hostId)}`
}

const ofHost = (estate: Estate, { name, hostId }: { readonly name: string; readonly hostId: string }): string =>
  `${name} of ${nameOf(estate, 'host', hostId)}`
const ofGuest = (estate: Estate, what: string, { guestId }: { readonly guestId: string }): string =>
  `${what} of ${nameOf(estate, 'guest', guestId)}`

/** How records are called that have no name of their own, or that are a part of something. */
const titles: { readonly [K in Kind]?: (estate: Estate, record: RecordOf<K>) => string } = {
  disk: (estate, disk) => ofGuest(estate, `disk ${disk.position} (${disk.use})`, disk),
  adapter: (estate, adapter) => ofGuest(estate, `adapter ${adapter.position}`, adapter),
  hardware: (estate, hardware) => ofGuest(estate, 'details', hardware),
  snapshot: (estate, snapshot) => ofGuest(estate, snapshot.name, snapshot),
  volume: (estate, { name, diskId }) => `${name} of ${nameOf(estate, 'guest', estate.find('disk', diskId)?.guestId ?? null)}`,
  port: ofHost,
  array: ofHost,
  switch: ofHost,
  module: (estate, { slot, hostId }) => ofHost(estate, { name: `memory module in slot ${slot}`, hostId }),
  drive: (estate, { position, hostId }) => ofHost(estate, { name: `drive in bay ${position}`, hostId }),
  forward: (estate, { protocol, hostPort, hostId }) => ofHost(estate, { name: `${protocol} port ${hostPort}`, hostId }),
  address: (_, { ip }) => ip,
  subnet: (_, { prefix }) => prefix,
  pool: (_, { first, last }) => `DHCP range ${first} to ${last}`,
  lease: (_, { ip, mac }) => `lease of ${ip} to ${mac}`,
  attachment: (estate, { networkId, hostId }) => `${nameOf(estate, 'network', networkId)} on ${nameOf(estate, 'host', hostId)}`,
  route: (estate, route) => `route to ${route.prefix} on ${routerName(estate, route)}`,
  filter: (estate, filter) => `filter line ${filter.position} on ${routerName(estate, filter)}`,
  intent: (estate, intent) => `${groupTitle(estate, intent, 'from')} ${intent.wanted} ${groupTitle(estate, intent, 'to')}`,
  dependency: (estate, { guestId, needsId }) => `${nameOf(estate, 'guest', guestId)} needs ${nameOf(estate, 'guest', needsId)}`,
  migration(estate, migration) {
    const { guest, to } = migrationNames(estate, migration)
    return `migration of ${guest} to ${to}`
  },
  leftover(estate, { migrationId, storeId, storeName }) {
    const migration = estate.find('migration', migrationId)
    const where = estate.find('store', storeId)?.name ?? storeName
    return `what ${migration ? migrationNames(estate, migration).guest : 'a removed move'} left${where ? ` on ${where}` : ''}`
  },
  entry(estate, { work, hostName: host, guestName: guest, hostId, guestId, text }) {
    const named = guestId ? nameOf(estate, 'guest', guestId) : hostId ? nameOf(estate, 'host', hostId) : (guest ?? host)
    return `${work}${named ? ` of ${named}` : ''}: ${text.split('\n')[0]?.slice(0, 80) ?? ''}`
  },
  deviation: (estate, { about, hostId, guestId }) =>
    `${about} ${guestId ? `in ${nameOf(estate, 'guest', guestId)}` : `on ${nameOf(estate, 'host', hostId)}`} differs from the record`,
  sheet: sheetTitle,
  step(estate, { step, title, sheetId }) {
    const sheet = estate.find('sheet', sheetId)
    // Steps that Insel derives are called by their keys, as words.
    return `step ${title ?? step.replaceAll('-', ' ')} on the ${sheet ? sheetTitle(estate, sheet) : 'sheet removed since'}`
  },
  routine: (_, { title }) => `“${title}” on every new sheet`,
  acceptance: (_, { sentence }) => sentence,
  item: (_, { title }) => title,
  template: (estate, { version, guestId }) => `version ${version} of ${estate.find('guest', guestId)?.name ?? 'a template removed since'}`,
  copy: (estate, copy) => titleOfCopy(estate, copy),
  policy: () => 'the policies',
}

/**
 * How people call a record: its name, or what it is a part of.
 *
 * @example recordTitle(estate, 'adapter', adapter) // 'adapter 1 of vault'
 */
export function recordTitle(estate: Estate, kind: Kind, record: AnyRecord): string {
  const title = titles[kind] as ((estate: Estate, record: AnyRecord) => string) | undefined
  return title ? title(estate, record) : ((record as { name?: string }).name ?? kinds[kind].label)
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
