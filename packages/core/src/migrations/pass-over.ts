import { arrivingDisks, filledDisks, takenBytes } from '../capacity/index.js'
import { attemptIn, type Command, type EstateEdit, type VerbInput } from '../commands/index.js'
import {
  dayOf,
  adaptersOf,
  CommandError,
  dayAfter,
  derivedId,
  isPoweredOn,
  policyOf,
  sameRecord,
  sameValue,
  type Adapter,
  type Difference,
  type Guest,
  type Host,
  type Migration,
  standstillOf,
} from '../estate/index.js'
import { checkMapped, checkReach } from '../guests/index.js'
import { methodFacts, takenWhereItArrives } from '../methods/index.js'
import { freeGuestName } from './free-name.js'

/** What a move does at its cut-over: where to, its disks to which stores, its adapters to which networks, what else changes. */
export type Mapping = Omit<VerbInput<'guest.migrate'>, 'id'>

/** What may change at the moment of the cut-over besides: of the machine itself, its disks, adapters and addresses. */
const ALSO: ReadonlySet<string> = new Set([
  'guest.update',
  'guest.resize',
  'disk.update',
  'adapter.update',
  'address.update',
  'address.assign',
  'address.release',
])

/**
 * The one moment at which the record changes place. The same guest goes to another host, or another machine takes over the name, the
 * fixed addresses and the MACs of this one, so that they are never in two places.
 *
 * @throws CommandError `not-found`, `invalid` where a store is out of reach, `wrong-state`, `not-allowed`
 */
export function passOver(edit: EstateEdit, mapping: Mapping): void {
  const guest = edit.require('guest', mapping.guestId, 'guestId')
  if (mapping.becomesId) {
    if (mapping.toHostId && edit.estate.find('guest', mapping.becomesId)?.hostId !== mapping.toHostId)
      throw new CommandError('invalid', 'The guest that takes over is on another host; leave the host out, or place the guest.', 'toHostId')
    takeOver(edit, guest, edit.require('guest', mapping.becomesId, 'becomesId'), mapping)
  } else relocate(edit, guest, mapping)
  alsoChange(edit, mapping)
}

function relocate(edit: EstateEdit, guest: Guest, mapping: Mapping): void {
  const { toHostId, stores, networks } = mapping
  if (guest.kind === 'external')
    throw new CommandError(
      'not-allowed',
      `${guest.name} is an external machine; add the guest it becomes, and name it as what it becomes.`,
      'becomesId',
    )
  if (!toHostId) throw new CommandError('invalid', `Name the host that ${guest.name} goes to, or the machine that takes over.`, 'toHostId')
  const host = edit.require('host', toHostId, 'toHostId')
  if (guest.hostId === host.id) throw new CommandError('wrong-state', `${guest.name} is on ${host.name} already.`, 'toHostId')
  const why = isPoweredOn(guest) ? standstillOf(edit.estate, host) : undefined
  if (why !== undefined)
    throw new CommandError(
      'wrong-state',
      `${host.name} ${why}, and ${guest.name} is ${guest.state}; power it off first, or wait until the host is in service.`,
      'toHostId',
    )
  const disks = edit.estate.referring('disk', 'guestId', guest.id)
  const adapters = edit.estate.referring('adapter', 'guestId', guest.id)
  checkMapped(stores ?? null, disks, 'stores', 'disk', guest)
  checkMapped(networks ?? null, adapters, 'networks', 'adapter', guest)
  edit.update('guest', guest.id, { hostId: host.id }, '')
  // What a raw copy brings to a thin disk is all of it, whatever was used.
  const method = mapping.method ?? 'cold copy'
  const isWhole = methodFacts[method].copies === 'provisioned'
  const there = new Map(
    arrivingDisks(edit.estate, { guestId: guest.id, made: [mapping as unknown as Command] }).map((one) => [one.disk.id, one]),
  )
  for (const disk of disks) {
    const storeId = stores?.[disk.id] ?? disk.storeId
    checkReach(edit, host, storeId, `disk ${disk.position} (${disk.use})`, `stores.${disk.id}`)
    const arriving = isWhole ? there.get(disk.id) : undefined
    const filled = arriving && !arriving.isThick ? { usedBytes: takenWhereItArrives(edit.estate, disk, method, arriving) } : {}
    edit.update('disk', disk.id, { storeId, ...filled }, '')
  }
  for (const adapter of adapters) {
    const networkId = networks?.[adapter.id]
    if (!networkId || networkId === adapter.networkId) continue
    edit.update('adapter', adapter.id, { networkId }, '')
    // Its addresses belong to the network it leaves.
    for (const address of edit.estate.referring('address', 'adapterId', adapter.id)) edit.remove('address', address.id)
  }
}

/**
 * Which adapter of the target takes the place of each of the source's: as mapped, the others by their numbers.
 *
 * @example adapterPairs(source, target, null) // [[adapter 1 of auk, adapter 1 of scheduler]]
 */
export const adapterPairs = (
  sources: readonly Adapter[],
  targets: readonly Adapter[],
  mapped: Readonly<Record<string, string>> | null | undefined,
): readonly (readonly [source: Adapter, target: Adapter])[] =>
  sources.flatMap((source) => {
    const id = mapped?.[source.id]
    const target = targets.find((one) => (id ? one.id === id : one.position === source.position))
    return target ? [[source, target] as const] : []
  })

function takeOver(edit: EstateEdit, source: Guest, target: Guest, mapping: Mapping): void {
  if (source.id === target.id) throw new CommandError('invalid', 'A machine does not become itself; name another.', 'becomesId')
  if (isPoweredOn(source))
    throw new CommandError(
      'wrong-state',
      `${source.name} is recorded as running; stop it first, so that it and ${target.name} never run with one address.`,
      'guestId',
    )
  const [sources, targets] = [adaptersOf(edit.estate, source.id), adaptersOf(edit.estate, target.id)]
  checkMapped(mapping.adapters ?? null, sources, 'adapters', 'adapter', source)
  if (mapping.takesName !== false) {
    edit.update('guest', source.id, { name: freeGuestName(edit.estate, `${source.name.slice(0, 56)}-old`) }, '')
    edit.update('guest', target.id, { name: source.name }, '')
  }
  for (const [from, to] of adapterPairs(sources, targets, mapping.adapters)) {
    if (mapping.takesMacs) {
      const { mac } = from
      edit.update('adapter', from.id, { mac: null }, '')
      edit.update('adapter', to.id, { mac }, '')
    }
    if (mapping.takesAddresses === false) continue
    const own = edit.estate.referring('address', 'adapterId', to.id)
    for (const address of edit.estate.referring('address', 'adapterId', from.id)) {
      const subnet = edit.estate.find('subnet', address.subnetId)
      if (!subnet || subnet.networkId !== to.networkId) continue
      // What it had for the time being is free again.
      for (const temporary of own) if (temporary.subnetId === address.subnetId) edit.remove('address', temporary.id)
      edit.update('address', address.id, { adapterId: to.id }, '')
    }
  }
  if (target.state === 'planned' || target.state === 'being copied') edit.update('guest', target.id, { state: 'stopped' }, '')
  // What it holds came with the copy.
  const copied = { guestId: source.id, becomesId: target.id, method: mapping.method ?? 'cold copy' }
  for (const { disk, bytes, isKnown } of filledDisks(edit.estate, copied))
    if (isKnown && bytes > (disk.usedBytes ?? 0)) edit.update('disk', disk.id, { usedBytes: bytes }, '')
  followTheName(edit, source.id, target.id)
}

/** Others that need the source, or that it serves, look to what takes over. */
function followTheName(edit: EstateEdit, source: string, target: string): void {
  for (const kept of edit.estate.referring('dependency', 'needsId', source)) edit.update('dependency', kept.id, { needsId: target }, '')
  for (const kept of edit.estate.referring('dependency', 'guestId', source)) edit.update('dependency', kept.id, { guestId: target }, '')
  for (const store of edit.estate.referring('store', 'servedById', source)) edit.update('store', store.id, { servedById: target }, '')
  for (const pair of edit.estate.referring('guest', 'apartFromId', source)) edit.update('guest', pair.id, { apartFromId: target }, '')
  for (const route of edit.estate.referring('route', 'guestId', source)) edit.update('route', route.id, { guestId: target }, '')
  for (const filter of edit.estate.referring('filter', 'guestId', source)) edit.update('filter', filter.id, { guestId: target }, '')
}

/** @throws CommandError `not-allowed` at what has nothing to do with the machines that are moved */
function alsoChange(edit: EstateEdit, { guestId, becomesId, also }: Mapping): void {
  const commands = (also ?? []) as unknown as readonly Command[]
  if (commands.length === 0) return
  const machines = new Set([guestId, becomesId])
  for (const [index, command] of commands.entries()) {
    const { id, adapterId, addressId } = command as { id?: string; adapterId?: string; addressId?: string; guestId?: string }
    const of =
      edit.estate.find('disk', id)?.guestId ??
      edit.estate.find('adapter', id)?.guestId ??
      edit.estate.find('adapter', adapterId ?? edit.estate.find('address', addressId ?? id)?.adapterId)?.guestId ??
      (command as { guestId?: string }).guestId ??
      id
    if (!ALSO.has(command.type) || !machines.has(of ?? ''))
      throw new CommandError(
        'not-allowed',
        `“${command.type}” cannot be part of a cut-over: it changes the machine that is moved, its disks, adapters and addresses.`,
        `also.${index}`,
      )
  }
  edit.take(attemptIn(edit, commands, (path) => path.replace(/^commands/, 'also')))
}

/** What a move is about to leave: on each store a disk goes away from, or the source itself, where another machine takes over. */
export function leftoversOf(
  edit: EstateEdit,
  migration: Migration,
  cutOverAt: string,
): readonly Parameters<typeof edit.add<'leftover'>>[1][] {
  const days = migration.soakDays ?? policyOf(edit.estate).soakDays
  const until = dayAfter(dayOf(edit.estate, cutOverAt), days)
  const common = { migrationId: migration.id, until }
  if (migration.becomesId) return [{ ...common, id: derivedId(migration.id, 'source'), guestId: migration.guestId }]
  const byStore = new Map<string, { sizeBytes: number; usedBytes: number }>()
  for (const { disk } of arrivingDisks(edit.estate, migration)) {
    if (!disk.storeId) continue
    const known = byStore.get(disk.storeId) ?? { sizeBytes: 0, usedBytes: 0 }
    byStore.set(disk.storeId, { sizeBytes: known.sizeBytes + disk.sizeBytes, usedBytes: known.usedBytes + takenBytes(disk) })
  }
  return [...byStore].map(([storeId, bytes]) => ({ ...common, ...bytes, id: derivedId(migration.id, storeId), storeId }))
}

/** The host that a mapping leads to: of the guest that takes over, or the one named. */
export const hostOfMapping = (
  estate: EstateEdit['estate'],
  { toHostId, becomesId }: Pick<Mapping, 'toHostId' | 'becomesId'>,
): Host | undefined => estate.find('host', becomesId ? estate.find('guest', becomesId)?.hostId : toHostId)

/**
 * What takes a cut-over back: fields that it changed have the value they had before, fields it did not change stay as they are now; what it removed is
 * there again, what it added goes.
 *
 * @param did what the cut-over did
 */
export function backOfCutOver(estate: EstateEdit['estate'], did: Difference): Difference {
  const updated = Object.entries(did.updated).flatMap(([id, { kind, from, to }]) => {
    const now = estate.find(kind, id)
    if (!now) return []
    const [was, became] = [from, to] as unknown as readonly [Readonly<Record<string, unknown>>, Readonly<Record<string, unknown>>]
    const back = Object.fromEntries(
      Object.keys(was).flatMap((field) => (sameValue(was[field], became[field]) ? [] : [[field, was[field]]])),
    )
    const next = { ...now, ...back }
    return sameRecord(now, next) ? [] : [[id, { kind, from: now, to: next }] as const]
  })
  return {
    added: Object.fromEntries(Object.entries(did.removed).filter(([id]) => estate.kindOf(id) === undefined)),
    updated: Object.fromEntries(updated),
    removed: Object.fromEntries(
      Object.entries(did.added).flatMap(([id, { kind }]) => {
        const now = estate.find(kind, id)
        return now ? [[id, { kind, record: now }] as const] : []
      }),
    ),
  }
}
