import {
  disksOf,
  isPoweredOn,
  kinds,
  recordTitle,
  sameSerial,
  strayedDisk,
  sheetSubjects,
  type Disk,
  type Estate,
  type Kind,
  type RecordOf,
} from '../estate/index.js'
import { contains, endOf, familyOf, ipToNumber, isOfMachine, prefixOf } from '../networks/index.js'

/** A record that contradicts itself or its surroundings: the field, and what is wrong. */
export interface Contradiction {
  readonly field: string
  readonly sentence: string
}

type Invariants = { readonly [K in Kind]?: (estate: Estate, record: RecordOf<K>) => Contradiction | undefined }

/** What must hold for each record besides its fields' own limits. What is merely unwise is a finding, not an invariant. */
export const invariants: Invariants = {
  estate: (estate) =>
    estate.count('estate') > 1 ? { field: 'name', sentence: 'An estate has one description; change the one it has.' } : undefined,
  policy: (estate, policy) => {
    if (estate.count('policy') > 1)
      return { field: 'failoverReservePercent', sentence: 'An estate has one set of policies; change the one it has.' }
    if (policy.storeWarnPercent > policy.storeErrorPercent)
      return {
        field: 'storeWarnPercent',
        sentence: `Store warning (${policy.storeWarnPercent} %) comes before store error (${policy.storeErrorPercent} %); make it the smaller.`,
      }
    return undefined
  },
  host: (estate, host) => {
    if (host.kind === 'physical')
      return host.outerGuestId
        ? { field: 'outerGuestId', sentence: 'A physical host does not run in a guest; make it nested, or clear the guest.' }
        : undefined
    if (!host.outerGuestId) return { field: 'outerGuestId', sentence: 'A nested host runs in a guest; choose the guest.' }
    return isInside(estate, host.id, host.outerGuestId)
      ? { field: 'outerGuestId', sentence: `${host.name} would run inside itself; choose a guest of another host.` }
      : undefined
  },
  store: (estate, store) => {
    const array = estate.find('array', store.arrayId)
    if (array && array.hostId !== store.hostId)
      return { field: 'arrayId', sentence: `Array ${array.name} is in a different host from the store.` }
    if (store.kind === 'local' && !store.hostId) return { field: 'hostId', sentence: 'A local store is in a host; choose the host.' }
    if (store.kind === 'shared' && store.hostId)
      return { field: 'hostId', sentence: 'A shared store belongs to a site, not to one host; clear the host.' }
    if (store.kind === 'shared' && !store.site) return { field: 'site', sentence: 'A shared store needs the site whose hosts reach it.' }
    return store.hostId ? misplaced(estate, estate.referring('disk', 'storeId', store.id), 'hostId') : undefined
  },
  drive: (estate, drive) => {
    const isInArray = drive.use === 'member' || drive.use === 'spare'
    if (isInArray && !drive.arrayId) return { field: 'arrayId', sentence: `A ${drive.use} belongs to an array; choose the array.` }
    if (!isInArray && drive.use !== 'install' && drive.arrayId)
      return {
        field: 'arrayId',
        sentence: 'Only members, spares and a mirrored install disk belong to an array; clear the array, or change the use.',
      }
    const array = estate.find('array', drive.arrayId)
    if (array && array.hostId !== drive.hostId)
      return { field: 'arrayId', sentence: `Array ${array.name} is of another host; choose one of this host.` }
    const [twin] = sameSerial(estate, drive)
    return twin
      ? {
          field: 'serial',
          sentence: `Serial ${twin.serial ?? ''} is that of ${recordTitle(estate, 'drive', twin)}; drives are told apart by it before they are wiped, so look again at both.`,
        }
      : undefined
  },
  module: (estate, module) => {
    const slots = estate.find('host', module.hostId)?.memorySlots
    return slots && module.slot > slots
      ? { field: 'slot', sentence: `The host has ${slots} slots; there is no slot ${module.slot}.` }
      : undefined
  },
  migration: (_, { startedAt, copyingAt, cutOverAt, endedAt }) => {
    const order = [
      ['startedAt', startedAt],
      ['copyingAt', copyingAt],
      ['cutOverAt', cutOverAt],
      ['endedAt', endedAt],
    ] as const
    const known = order.filter(([, at]) => at !== null)
    const { fields } = kinds.migration
    for (const [index, [name, at]] of known.entries()) {
      const [earlier, before] = known[index - 1] ?? [name, at]
      if (Date.parse(at ?? '') < Date.parse(before ?? ''))
        return { field: name, sentence: `${fields[name].label} is before ${fields[earlier].label}; check both times.` }
    }
    return undefined
  },
  volume: (estate, volume) => {
    const disk = estate.find('disk', volume.diskId)
    if ((volume.usedBytes ?? 0) > volume.sizeBytes)
      return { field: 'usedBytes', sentence: `${volume.name} cannot hold more than its size; check both.` }
    const all = estate.referring('volume', 'diskId', volume.diskId).reduce((sum, { sizeBytes }) => sum + sizeBytes, 0)
    return disk && all > disk.sizeBytes
      ? { field: 'sizeBytes', sentence: `The volumes of disk ${disk.position} are larger than the disk; check their sizes.` }
      : undefined
  },
  step: (_, step) =>
    step.state !== 'done' && step.state !== 'open' && step.note === ''
      ? { field: 'note', sentence: `A step that was ${step.state} needs a reason; write a note.` }
      : undefined,
  subnet: (_, subnet) =>
    subnet.gateway && familyOf(subnet.gateway) !== prefixOf(subnet).family
      ? { field: 'gateway', sentence: `Gateway ${subnet.gateway} is of another address family than ${subnet.prefix}.` }
      : undefined,
  pool: (estate, pool) => {
    const subnet = estate.find('subnet', pool.subnetId)
    if (!subnet) return undefined
    for (const field of ['first', 'last'] as const)
      if (!contains(prefixOf(subnet), pool[field]))
        return { field, sentence: `${pool[field]} is not in ${subnet.prefix}; a DHCP range must be inside its subnet.` }
    return ipToNumber(pool.first) > ipToNumber(pool.last)
      ? { field: 'last', sentence: `The range ends (${pool.last}) before it starts (${pool.first}); swap the two.` }
      : undefined
  },
  attachment: (estate, attachment) => {
    const own = estate.find('switch', attachment.switchId)
    return own && own.hostId !== attachment.hostId
      ? { field: 'switchId', sentence: `Switch ${own.name} is on another host; choose one of this host.` }
      : undefined
  },
  port: (estate, port) => {
    const own = estate.find('switch', port.switchId)
    return own && own.hostId !== port.hostId
      ? { field: 'switchId', sentence: `Switch ${own.name} is on another host; choose one of this host.` }
      : undefined
  },
  lease: (estate, lease) => {
    const subnet = estate.find('subnet', lease.subnetId)
    return subnet && !contains(prefixOf(subnet), lease.ip)
      ? { field: 'ip', sentence: `${lease.ip} is not in ${subnet.prefix}.` }
      : undefined
  },
  route: (_, route) =>
    onTwoMachines(route) ??
    (familyOf(route.via) !== familyOf(route.prefix)
      ? { field: 'via', sentence: `${route.via} is of another address family than ${route.prefix}.` }
      : undefined),
  filter: (_, filter) => {
    const two = onTwoMachines(filter)
    if (two) return two
    if (filter.fromPrefix && filter.toPrefix && familyOf(filter.fromPrefix) !== familyOf(filter.toPrefix))
      return { field: 'toPrefix', sentence: 'From and To are of two address families; nothing would fit.' }
    if (filter.portFirst !== null && filter.protocol !== 'tcp' && filter.protocol !== 'udp')
      return { field: 'protocol', sentence: 'Ports belong to tcp or udp; name the protocol, or clear the ports.' }
    if (filter.portLast !== null && (filter.portFirst === null || filter.portLast < filter.portFirst))
      return { field: 'portLast', sentence: 'The last port comes after the first; name the first, and the larger one last.' }
    return undefined
  },
  intent: (estate, intent) => {
    for (const side of ['from', 'to'] as const) {
      const kind = intent[`${side}Kind`]
      const networkId = intent[`${side}NetworkId`]
      const name = intent[`${side}Name`]
      if ((kind === 'network') !== (networkId !== null))
        return {
          field: `${side}NetworkId`,
          sentence: kind === 'network' ? 'Name the network of the group.' : 'Only a group by network names one.',
        }
      if ((kind === 'role' || kind === 'site') !== (name !== null))
        return {
          field: `${side}Name`,
          sentence: kind === 'role' || kind === 'site' ? `Name the ${kind} of the group.` : 'Only a group by role or site has a name.',
        }
    }
    if (intent.fromKind === 'outside' && intent.toKind === 'outside')
      return { field: 'toKind', sentence: 'From outside to outside is not in this estate.' }
    if (intent.protocol === 'icmp' && intent.port !== null)
      return { field: 'port', sentence: 'icmp has no ports; clear the port, or choose tcp or udp.' }
    if (intent.protocol !== 'icmp' && intent.port === null)
      return { field: 'port', sentence: `${intent.protocol} needs a port from 1 to 65535; name it, or choose icmp.` }
    const twin = estate
      .all('intent')
      .find(
        (other) =>
          other.id !== intent.id &&
          (['fromKind', 'fromNetworkId', 'fromName', 'toKind', 'toNetworkId', 'toName', 'protocol', 'port'] as const).every(
            (field) => other[field] === intent[field],
          ),
      )
    return twin ? { field: 'wanted', sentence: 'There is already an intention for these two groups; change that one.' } : undefined
  },
  address: (estate, address) => {
    if (address.adapterId && address.hostId)
      return { field: 'hostId', sentence: 'An address belongs to an adapter or to a host, not to both.' }
    if (address.gateway && familyOf(address.gateway) !== familyOf(address.ip))
      return { field: 'gateway', sentence: `Gateway ${address.gateway} is of another address family than ${address.ip}.` }
    if (address.length !== null && address.length > (familyOf(address.ip) === 4 ? 32 : 128))
      return { field: 'length', sentence: `A prefix length of IPv4 is at most 32; ${address.length} is too long.` }
    const subnet = estate.find('subnet', address.subnetId)
    if (!subnet) return undefined
    if (familyOf(address.ip) !== prefixOf(subnet).family)
      return { field: 'ip', sentence: `${address.ip} is of another address family than ${subnet.prefix}.` }
    const end = address.kind === 'reserved' && isOfMachine(address) ? endOf(subnet, address.ip) : undefined
    return (
      end && { field: 'ip', sentence: `${address.ip} is ${end} address of ${subnet.prefix}, which no machine has; choose another one.` }
    )
  },
  sheet: (_, sheet) =>
    sheetSubjects.filter((field) => sheet[field] !== null).length === 1
      ? undefined
      : { field: 'hostId', sentence: 'A sheet is for one thing: a host, a guest or a migration; choose one.' },
  deviation: (_, deviation) => ofOneThing(deviation, 'A deviation'),
  snapshot: (estate, snapshot) => {
    let parent = estate.find('snapshot', snapshot.parentId)
    if (parent && parent.guestId !== snapshot.guestId)
      return { field: 'parentId', sentence: 'That snapshot is of another guest; choose one of this guest.' }
    for (let depth = 0; parent && depth <= 1000; depth++) {
      if (parent.id === snapshot.id) return { field: 'parentId', sentence: `${snapshot.name} would depend on itself.` }
      parent = estate.find('snapshot', parent.parentId)
    }
    return undefined
  },
  dependency: (_, dependency) =>
    dependency.guestId === dependency.needsId ? { field: 'needsId', sentence: 'A guest cannot wait for itself.' } : undefined,
  guest: (estate, guest) => {
    if (guest.vcpu % guest.sockets !== 0)
      return {
        field: 'sockets',
        sentence: `${guest.vcpu} vCPU cannot be split evenly over ${guest.sockets} sockets; choose a number of sockets that divides them.`,
      }
    if (guest.memoryMinMiB !== null && guest.memoryMinMiB > guest.memoryMiB)
      return {
        field: 'memoryMinMiB',
        sentence: `The least memory (${guest.memoryMinMiB} MiB) is more than its memory (${guest.memoryMiB} MiB).`,
      }
    if (guest.secureBoot && guest.firmware === 'BIOS')
      return { field: 'secureBoot', sentence: 'Secure boot needs UEFI; choose UEFI, or turn it off.' }
    if (guest.apartFromId === guest.id) return { field: 'apartFromId', sentence: 'A guest cannot be kept apart from itself.' }
    if (guest.kind === 'template' && guest.state === 'being installed')
      return { field: 'state', sentence: 'A template is installed as a machine, and made a template after that.' }
    if (guest.kind === 'external' && guest.hostId)
      return { field: 'hostId', sentence: 'An external machine is on no host; clear the host, or change its kind to machine.' }
    if (guest.kind === 'template' && guest.state === 'running' && !isRenewed(estate, guest.id))
      return { field: 'state', sentence: 'A template stays powered off; begin its template sheet to work on it, or clone it to run it.' }
    if (guest.kind === 'machine' && isPoweredOn(guest) && !guest.hostId)
      return {
        field: 'hostId',
        sentence: `${guest.name} is ${guest.state} and would be on no host; move it, or record it as stopped first.`,
      }
    const inner = estate.referring('host', 'outerGuestId', guest.id).find((host) => isInside(estate, host.id, guest.id))
    if (inner) return { field: 'hostId', sentence: `${guest.name} is the nested host ${inner.name} and would run inside itself.` }
    return misplaced(estate, disksOf(estate, guest.id), 'hostId')
  },
  template(estate, { guestId, supersedesId }) {
    const seen = new Set([guestId])
    for (let at = supersedesId; at !== null; at = estate.referring('template', 'guestId', at)[0]?.supersedesId ?? null) {
      const name = estate.find('guest', at)?.name ?? 'it'
      if (seen.has(at))
        return {
          field: 'supersedesId',
          sentence: `These would supersede each other in a circle, through ${name}; choose an older version.`,
        }
      seen.add(at)
    }
    return undefined
  },
  item: (estate, item) => {
    const other = item.afterIds.map((id) => estate.find('item', id)).find((after) => after && after.planId !== item.planId)
    if (other) return { field: 'afterIds', sentence: `“${other.title}” is in another plan; an item comes after items of its own plan.` }
    const circle = circleFrom(estate, item)
    return circle
      ? { field: 'afterIds', sentence: `These would wait for each other: ${circle.map(({ title }) => `“${title}”`).join(', ')}.` }
      : undefined
  },
  disk: (estate, disk) => {
    return misplaced(estate, [disk], 'storeId')
  },
}

/** A guest that is on a host has its disks on stores, and not in another host: the first of some disks of which that is not so. */
function misplaced(estate: Estate, disks: readonly Disk[], field: string): Contradiction | undefined {
  for (const disk of disks) {
    const owner = estate.find('guest', disk.guestId)
    if (owner?.hostId && !disk.storeId)
      return { field, sentence: `Disk ${disk.position} of ${owner.name} is on no store; choose the store.` }
    if (owner?.kind === 'external' && disk.storeId)
      return {
        field,
        sentence: `Disk ${disk.position} of ${owner.name} is on a store; the disks of an external machine are its own, so clear the store.`,
      }
    const strayed = strayedDisk(estate, disk)
    if (!strayed) continue
    const { guest, store, on, inHost } = strayed
    return {
      field,
      sentence: `Disk ${disk.position} of ${guest.name} would be on ${store.name}, which is in ${inHost.name}, while the guest is on ${on.name}; move both together, or choose a store of ${on.name}.`,
    }
  }
  return undefined
}

const ofOneThing = ({ guestId, hostId }: { guestId: string | null; hostId: string | null }, what: string): Contradiction | undefined =>
  (guestId === null) === (hostId === null)
    ? { field: 'hostId', sentence: `${what} belongs to a host or to a guest; choose one of the two.` }
    : undefined

const onTwoMachines = ({ guestId, hostId }: { guestId: string | null; hostId: string | null }): Contradiction | undefined =>
  guestId && hostId ? { field: 'hostId', sentence: 'It belongs to a guest or to a host, not to both; clear one.' } : undefined

/** Whether somebody is at a template, by its sheet. */
const isRenewed = (estate: Estate, guestId: string): boolean =>
  estate.referring('sheet', 'guestId', guestId).some(({ work, finishedAt }) => work === 'renewal' && finishedAt === null)

/** Whether a guest runs, at any depth, on a host. */
function isInside(estate: Estate, hostId: string, guestId: string): boolean {
  const seen = new Set<string>()
  let guest = estate.find('guest', guestId)
  while (guest?.hostId && !seen.has(guest.id)) {
    if (guest.hostId === hostId) return true
    seen.add(guest.id)
    guest = estate.find('guest', estate.find('host', guest.hostId)?.outerGuestId)
  }
  return guest !== undefined && seen.has(guest.id)
}

/** The items of a circle of items that wait for each other, beginning with one of them; undefined where it is in none. */
function circleFrom(estate: Estate, item: RecordOf<'item'>): readonly RecordOf<'item'>[] | undefined {
  const cameFrom = new Map<string, RecordOf<'item'> | undefined>([[item.id, undefined]])
  const todo = [item]
  for (let at = todo.pop(); at; at = todo.pop())
    for (const id of at.afterIds) {
      if (id === item.id) {
        const circle = [at]
        for (let back = cameFrom.get(at.id); back; back = cameFrom.get(back.id)) circle.push(back)
        return circle.toReversed()
      }
      const next = estate.find('item', id)
      if (!next || cameFrom.has(id)) continue
      cameFrom.set(id, at)
      todo.push(next)
    }
  return undefined
}
