import {
  Estate,
  kinds,
  makeIds,
  readFields,
  seededRandom,
  type Kind,
  type NewRecord,
  type RecordOf,
  type Records,
} from '../estate/index.js'
import { ipFromNumber, ipToNumber } from '../networks/index.js'
import { GiB } from '../units/index.js'

/** Hosts that share networks, and how many. */
const HOSTS_OF_BLOCK = 200
const NETWORKS_OF_BLOCK = 40
const FIRST_VLAN = 100

/** How large a generated estate is. */
export interface EstateSize {
  readonly hosts: number
  readonly guests: number
  readonly adapters: number
}

/**
 * An estate of a given size, the same for the same seed: hosts of a few sizes at four sites, guests spread over them,
 * two disks for most guests, addresses on /22 subnets: every 200 hosts have 40 networks. Has a few findings of
 * most kinds, as a real one has.
 */
export function generateRecords({ hosts, guests, adapters }: EstateSize, seed = 7): Records {
  const random = seededRandom(seed)
  const pick = <T>(list: readonly T[]): T => {
    const item = list[(((random(1)[0] ?? 0) << 8) | (random(1)[0] ?? 0)) % list.length]
    if (item === undefined) throw new Error('nothing to pick from')
    return item
  }
  let tick = Date.UTC(2027, 0, 1)
  const newId = makeIds(() => tick++, random)
  const records: { [K in Kind]: RecordOf<K>[] } = Object.fromEntries(Object.keys(kinds).map((kind) => [kind, []])) as never
  const add = <K extends Kind>(kind: K, input: NewRecord<K>): RecordOf<K> => {
    const record = { id: newId(), ...readFields(kinds[kind].fields, input as Record<string, unknown>) } as unknown as RecordOf<K>
    ;(records[kind] as RecordOf<K>[]).push(record)
    return record
  }
  const sites = ['north', 'south', 'east', 'west']
  add('estate', { name: 'Generated', timeZone: 'UTC' })
  add('policy', {})
  const platforms = [add('platform', { name: 'Brackwater 5' }), add('platform', { name: 'Marram 2', macPrefix: '02:3c:5d' })]
  const networks = Array.from({ length: NETWORKS_OF_BLOCK * Math.ceil(Math.max(1, hosts) / HOSTS_OF_BLOCK) }, (_, i) =>
    add('network', { name: `net-${i + 1}`, vlanId: FIRST_VLAN + i }),
  )
  const subnets = networks.map((network, i) => {
    const base = ipToNumber('10.64.0.0') + BigInt(i * 1024)
    return add('subnet', { networkId: network.id, prefix: `${ipFromNumber(4, base)}/22`, gateway: ipFromNumber(4, base + 1n) })
  })
  const nextAddress = subnets.map((subnet) => ipToNumber(subnet.prefix.split('/')[0] ?? '') + 10n)
  const backup = add('store', { name: 'vault', kind: 'backup', capacityBytes: 900_000 * GiB })
  const hostRecords = Array.from({ length: hosts }, (_, i) => {
    const host = add('host', {
      name: `host-${String(i + 1).padStart(3, '0')}`,
      site: pick(sites),
      platformId: pick(platforms).id,
      sockets: 2,
      coresPerSocket: pick([8, 12, 16, 24]),
      memoryMiB: pick([131072, 196608, 262144, 393216]),
    })
    const store = add('store', { name: `store-${i + 1}`, hostId: host.id, capacityBytes: 8000 * GiB })
    const first = NETWORKS_OF_BLOCK * Math.floor(i / HOSTS_OF_BLOCK)
    const carried = networks.slice(first, first + NETWORKS_OF_BLOCK).filter((_n, n) => n % 8 === i % 8 || n < 8)
    for (const network of carried) add('attachment', { hostId: host.id, networkId: network.id })
    return { host, store, carried }
  })
  let adaptersLeft = adapters
  for (let i = 0; i < guests; i++) {
    const { host, store, carried } = hostRecords[i % hosts] ?? pick(hostRecords)
    const guest = add('guest', {
      name: `guest-${String(i + 1).padStart(4, '0')}`,
      hostId: host.id,
      state: pick(['running', 'running', 'running', 'running', 'stopped', 'planned']),
      verifiedAt: '2027-01-01T00:00:00.000Z',
      vcpu: pick([1, 2, 2, 4, 4, 8]),
      memoryMiB: pick([1024, 2048, 4096, 4096, 8192, 16384]),
      backupStoreId: i % 9 === 0 ? null : backup.id,
    })
    add('disk', { guestId: guest.id, storeId: store.id, sizeBytes: pick([20, 40, 60]) * GiB, usedBytes: 12 * GiB })
    if (i % 2)
      add('disk', {
        guestId: guest.id,
        position: 2,
        use: 'data',
        storeId: store.id,
        sizeBytes: pick([100, 200]) * GiB,
        usedBytes: 70 * GiB,
      })
    const count = Math.min(adaptersLeft, Math.ceil(adaptersLeft / (guests - i)))
    adaptersLeft -= count
    for (let position = 1; position <= count; position++) {
      const network = pick(carried)
      const adapter = add('adapter', {
        guestId: guest.id,
        position,
        networkId: network.id,
        mac: `02:1a:${records.adapter.length.toString(16).padStart(8, '0').match(/../g)?.join(':')}`,
      })
      const at = network.vlanId === null ? -1 : network.vlanId - FIRST_VLAN
      const subnet = subnets[at]
      const ip = nextAddress[at]
      if (!subnet || ip === undefined) continue
      nextAddress[at] = ip + 1n
      add('address', { subnetId: subnet.id, ip: ipFromNumber(4, ip), adapterId: adapter.id })
    }
  }
  return records
}

/** The same as an `Estate`. */
export const generateEstate = (size: EstateSize, seed?: number): Estate => Estate.fromRecords(generateRecords(size, seed))
