import { addressOwner, type Address, type Estate, type Lease, type Pool, type Subnet } from '../estate/index.js'
import { macOf } from '../names/index.js'
import {
  contains,
  familyOf,
  fixedInPool,
  inPool,
  ipFromNumber,
  ipToNumber,
  parsePrefix,
  prefixAround,
  prefixOf,
  usableRange,
  type Prefix,
} from '../networks/index.js'

/** What an address of a subnet is, in the words it is shown with. */
export type CellState =
  'free' | 'DHCP range' | 'reserved' | 'fixed' | 'DHCP reservation' | 'leased' | 'gateway' | 'not assignable' | 'conflict'

/** What an address belongs to, whoever has it: a fixed address inside a DHCP range is in that range all the same. */
export type Ground = Extract<CellState, 'free' | 'DHCP range' | 'reserved' | 'not assignable'>

/** One address of the map. */
export interface AddressCell {
  readonly ip: string
  readonly state: CellState
  readonly address: Address | undefined
  readonly lease: Lease | undefined
  readonly ground: Ground
  /** Who has it, or what it is for, in words. */
  readonly says: string
  /** The name of the machine that has it, short enough for the room beside a mark; undefined where no machine has it. */
  readonly machine: string | undefined
}

/** A part of a large prefix, with how much of it is used. */
export interface AddressBlock {
  readonly prefix: Prefix
  readonly recorded: number
  readonly pooled: number
  readonly conflicts: number
}

/** A block while it is counted. */
type Counted = { -readonly [K in keyof AddressBlock]: AddressBlock[K] }

/** The most addresses that are drawn one by one: a /24. */
const CELLS_MAX = 256n

/** What is known of the addresses of a subnet, looked up once. */
interface Known {
  readonly addresses: ReadonlyMap<string, Address>
  readonly leases: ReadonlyMap<string, Lease>
  readonly pools: readonly Pool[]
}

const known = (estate: Estate, subnet: Subnet): Known => ({
  addresses: new Map(estate.referring('address', 'subnetId', subnet.id).map((address) => [address.ip, address])),
  leases: new Map(estate.referring('lease', 'subnetId', subnet.id).map((lease) => [lease.ip, lease])),
  pools: estate.referring('pool', 'subnetId', subnet.id),
})

/**
 * The addresses of a part of a subnet, one cell each.
 *
 * @param part a prefix in the subnet with at most 256 addresses
 */
export function addressCells(estate: Estate, subnet: Subnet, part: Prefix): readonly AddressCell[] {
  if (part.last - part.first + 1n > CELLS_MAX) throw new Error(`${part.text} has more than ${CELLS_MAX} addresses to draw one by one.`)
  const facts = known(estate, subnet)
  const cells: AddressCell[] = []
  for (let at = part.first; at <= part.last; at++) cells.push(cellOf(estate, subnet, facts, ipFromNumber(part.family, at)))
  return cells
}

function cellOf(estate: Estate, subnet: Subnet, { addresses, leases, pools }: Known, ip: string): AddressCell {
  const prefix = prefixOf(subnet)
  const usable = usableRange(prefix)
  const value = ipToNumber(ip)
  const [address, lease] = [addresses.get(ip), leases.get(ip)]
  const pool = pools.find((one) => inPool(one, ip))
  const isAssignable = value >= usable.first && value <= usable.last
  const ground: Ground = !isAssignable ? 'not assignable' : address?.kind === 'reserved' ? 'reserved' : pool ? 'DHCP range' : 'free'
  const machine = machineAt(estate, address, lease)
  const cell = (state: CellState, says: string): AddressCell => ({ ip, state, address, lease, ground, says, machine })
  const conflict = address && conflictOf(estate, subnet, address, lease)
  if (conflict) return cell('conflict', conflict)
  if (value < usable.first) return cell('not assignable', 'the network’s own address')
  if (value > usable.last) return cell('not assignable', 'the broadcast address')
  if (ip === subnet.gateway) return cell('gateway', address ? `gateway, ${addressOwner(estate, address)}` : 'gateway of the site')
  if (address)
    return cell(address.kind, address.kind === 'reserved' ? (address.name ?? (address.note || 'kept free')) : addressOwner(estate, address))
  if (lease) return cell('leased', `seen with ${lease.mac}${lease.name ? ` (${lease.name})` : ''}`)
  return pool ? cell('DHCP range', pool.note || 'assigned by DHCP') : cell('free', 'free')
}

/** The name of the machine at an address: as recorded, or else as it was seen. */
function machineAt(estate: Estate, address: Address | undefined, lease: Lease | undefined): string | undefined {
  const guest = estate.find('guest', estate.find('adapter', address?.adapterId)?.guestId)
  const recorded = guest?.name ?? estate.find('host', address?.hostId)?.name
  return recorded ?? (address?.kind === 'reserved' ? undefined : (address?.name ?? lease?.name ?? undefined))
}

/** Why an address is in conflict, or undefined. */
function conflictOf(estate: Estate, subnet: Subnet, address: Address, lease: Lease | undefined): string | undefined {
  const owner = addressOwner(estate, address)
  const twin = estate
    .byKey('address', { ip: address.ip })
    .find((other) => other.id !== address.id && estate.find('subnet', other.subnetId)?.networkId === subnet.networkId)
  if (twin) return `assigned twice: to ${owner} and to ${addressOwner(estate, twin)}`
  if (fixedInPool(estate, address)) return `${owner}, fixed inside a DHCP range`
  const mac = macOf(estate, address)
  if (lease && mac && lease.mac !== mac) return `${owner} has the MAC ${mac}, seen was ${lease.mac}`
  return undefined
}

/**
 * A prefix as parts of equal size, at most 256 of them: the parts of a /16 are /24s, those of a /20 too.
 *
 * @param within a prefix in the subnet; the subnet's own to begin with
 * @returns one part, the prefix itself, where it can be drawn address by address
 */
export function addressBlocks(estate: Estate, subnet: Subnet, within: Prefix): readonly AddressBlock[] {
  const full = within.family === 4 ? 32 : 128
  const bits = Math.min(Math.max(within.bits, full - 8), within.bits + 8)
  const size = 1n << BigInt(full - bits)
  const { addresses, leases, pools } = known(estate, subnet)
  const blocks: Counted[] = []
  for (let first = within.first; first <= within.last; first += size)
    blocks.push({ prefix: parsePrefix(`${ipFromNumber(within.family, first)}/${bits}`), recorded: 0, pooled: 0, conflicts: 0 })
  for (const address of addresses.values()) {
    if (!contains(within, address.ip)) continue
    const block = blocks[Number((ipToNumber(address.ip) - within.first) / size)]
    if (!block) continue
    block.recorded++
    if (conflictOf(estate, subnet, address, leases.get(address.ip))) block.conflicts++
  }
  countPooled(blocks, pools)
  return blocks
}

function countPooled(blocks: readonly Counted[], pools: readonly Pool[]): void {
  for (const pool of pools) {
    const [from, to] = [ipToNumber(pool.first), ipToNumber(pool.last)]
    for (const block of blocks) {
      const [low, high] = [from > block.prefix.first ? from : block.prefix.first, to < block.prefix.last ? to : block.prefix.last]
      if (high >= low) block.pooled += Number(high - low + 1n)
    }
  }
}

/** Whether a prefix is small enough to be drawn address by address. */
export const isDrawnByAddress = ({ first, last }: Prefix): boolean => last - first + 1n <= CELLS_MAX

/** The parts of a subnet that are drawn address by address and have something in them: all there is to see of an IPv6 one. */
export function usedBlocks(estate: Estate, subnet: Subnet): readonly AddressBlock[] {
  const { addresses, leases, pools } = known(estate, subnet)
  const bits = familyOf(subnet.prefix) === 4 ? 24 : 120
  const blocks = new Map<string, Counted>()
  for (const address of addresses.values()) {
    const prefix = prefixAround(address.ip, bits)
    const block = blocks.get(prefix.text) ?? { prefix, recorded: 0, pooled: 0, conflicts: 0 }
    blocks.set(prefix.text, block)
    block.recorded++
    if (conflictOf(estate, subnet, address, leases.get(address.ip))) block.conflicts++
  }
  countPooled([...blocks.values()], pools)
  return [...blocks.values()]
}
