import type { Network } from '../estate/index.js'
import { counted } from '../units/index.js'
import { contains, halvesOf, ipFromNumber, isWithin, overlaps, parsePrefix, usableCount, usableRange, type Prefix } from './prefix.js'

/** A segment one wants in a block. */
export interface SegmentWant {
  readonly name: string
  readonly role: Network['role']
  /** Machines it has to hold now. */
  readonly machines: number
  /** How much it may grow, percent. */
  readonly growthPercent: number
  /** Its VLAN ID, where it is decided already. */
  readonly vlanId?: number | null
  /** Where it shall be, where that is decided: a prefix in the block. */
  readonly prefix?: string
}

/** A segment with its place in the block. */
export interface PlannedSegment {
  readonly want: SegmentWant
  readonly prefix: Prefix
  readonly vlanId: number
  readonly gateway: string | null
  readonly pool: { readonly first: string; readonly last: string } | null
  /** Machines it has to hold after its growth. */
  readonly needed: number
  /** Addresses for machines that are left after that. */
  readonly room: number
}

export interface BlockPlan {
  readonly block: Prefix
  readonly segments: readonly PlannedSegment[]
  /** What is left, as prefixes from low to high. */
  readonly free: readonly Prefix[]
  /** What could not be placed, with the reason. */
  readonly problems: readonly { readonly name: string; readonly sentence: string }[]
}

/** Roles whose machines talk to their own segment only: no gateway. Common practice, no source. */
const unrouted: ReadonlySet<Network['role']> = new Set(['storage', 'live migration', 'fault tolerance'])
/** Roles whose machines come and go: the upper half of the prefix is a DHCP range. Common practice, no source. */
const pooled: ReadonlySet<Network['role']> = new Set(['guests', 'lab'])

/**
 * The longest prefix with room for a number of machines and a gateway.
 *
 * @param machines how many machines
 * @returns the prefix length
 * @example lengthFor(4, 120) // 25: 126 usable, 121 needed
 */
export function lengthFor(family: 4 | 6, machines: number): number {
  // IPv6 segments are a /64 whatever their size: RFC 4291, section 2.5.4; RFC 7421.
  if (family === 6) return 64
  for (let bits = 30; bits > 0; bits--) if (2 ** (32 - bits) - 2 >= machines + 1) return bits
  return 0
}

/**
 * The free places of a block: what prefixes in it leave, as the fewest aligned prefixes, from low to high.
 *
 * @example freeBlocks(parsePrefix('10.61.0.0/16'), [parsePrefix('10.61.128.0/17')]).map((p) => p.text) // ['10.61.0.0/17']
 */
export function freeBlocks(block: Prefix, taken: readonly Prefix[]): readonly Prefix[] {
  const inside = taken.filter((one) => overlaps(one, block))
  if (inside.length === 0) return [block]
  if (inside.some((one) => isWithin(block, one))) return []
  return halvesOf(block).flatMap((half) => freeBlocks(half, inside))
}

/**
 * Places segments in a block, the largest first, each in the smallest free place that holds it: they nest, align and do
 * not overlap. Whenever the sizes fit the block together, they are all placed.
 *
 * @param block such as `10.61.0.0/16`
 * @param taken recorded prefixes in the block, which stay where they are
 * @param takenVlans VLAN IDs that are used already
 */
export function planBlock(
  block: string,
  wants: readonly SegmentWant[],
  taken: readonly string[] = [],
  takenVlans: readonly number[] = [],
): BlockPlan {
  const whole = parsePrefix(block)
  const occupied = taken.map(parsePrefix)
  const problems: { name: string; sentence: string }[] = []
  const vlans = new Set([...takenVlans, ...wants.flatMap(({ vlanId }) => vlanId ?? [])])
  const placed = new Map<SegmentWant, Prefix>()
  const needed = (want: SegmentWant) => Math.ceil(want.machines * (1 + want.growthPercent / 100))
  const bitsOf = (want: SegmentWant) => lengthFor(whole.family, needed(want))
  for (const want of wants) {
    if (!want.prefix) continue
    const prefix = parsePrefix(want.prefix)
    const other = [...occupied].find((one) => overlaps(one, prefix))
    if (!isWithin(prefix, whole)) problems.push({ name: want.name, sentence: `${prefix.text} is not in ${whole.text}.` })
    else if (other) problems.push({ name: want.name, sentence: `${prefix.text} is taken by ${other.text}.` })
    else {
      placed.set(want, prefix)
      occupied.push(prefix)
    }
  }
  const open = wants.filter((want) => !want.prefix)
  for (const want of [...open].sort((a, b) => bitsOf(a) - bitsOf(b))) {
    const bits = bitsOf(want)
    const free = freeBlocks(whole, occupied)
      .filter((one) => one.bits <= bits)
      .sort((a, b) => b.bits - a.bits || (a.first < b.first ? -1 : 1))[0]
    if (!free || bits < whole.bits) {
      problems.push({
        name: want.name,
        sentence: `${want.name} needs a /${bits} for ${counted(needed(want), 'machine')}, and ${whole.text} has none free. Use a larger block, or fewer machines.`,
      })
      continue
    }
    const prefix = parsePrefix(`${ipFromNumber(free.family, free.first)}/${bits}`)
    placed.set(want, prefix)
    occupied.push(prefix)
  }
  return {
    block: whole,
    segments: wants.flatMap((want) => {
      const prefix = placed.get(want)
      return prefix ? [detail(want, prefix, needed(want), want.vlanId ?? nextVlan(vlans))] : []
    }),
    free: freeBlocks(whole, occupied),
    problems,
  }
}

function detail(want: SegmentWant, prefix: Prefix, needed: number, vlanId: number): PlannedSegment {
  const { first, last } = usableRange(prefix)
  const hasGateway = !unrouted.has(want.role) && last > first
  const machines = usableCount(prefix) - (hasGateway ? 1n : 0n)
  const middle = first + (last - first + 1n) / 2n
  const room = machines > BigInt(Number.MAX_SAFE_INTEGER) ? Number.MAX_SAFE_INTEGER : Number(machines)
  return {
    want,
    prefix,
    vlanId,
    gateway: hasGateway ? ipFromNumber(prefix.family, first) : null,
    pool:
      pooled.has(want.role) && prefix.family === 4 && prefix.bits <= 28
        ? { first: ipFromNumber(4, middle), last: ipFromNumber(4, last) }
        : null,
    needed,
    room: room - needed,
  }
}

/** The next VLAN ID that is free, in tens as long as there are some. Common practice, no source; 1 to 4094 by IEEE 802.1Q. */
function nextVlan(taken: Set<number>): number {
  const tens = Array.from({ length: 409 }, (_, index) => (index + 1) * 10)
  const free = [...tens, ...Array.from({ length: 4093 }, (_, index) => index + 2)].find((id) => !taken.has(id)) ?? 4094
  taken.add(free)
  return free
}

/**
 * The free place of a length nearest to a prefix, above or below it: where the next key press moves it.
 *
 * @param taken prefixes that stay; not the one that moves
 * @returns undefined where none is left in that direction
 */
export function nextPlace(block: Prefix, taken: readonly Prefix[], prefix: Prefix, direction: 'up' | 'down'): Prefix | undefined {
  const size = prefix.last - prefix.first + 1n
  const free = freeBlocks(block, taken).filter(({ bits }) => bits <= prefix.bits)
  const at = (first: bigint) => parsePrefix(`${ipFromNumber(prefix.family, first)}/${prefix.bits}`)
  if (direction === 'up') {
    const place = free.find(({ last }) => last >= prefix.first + 2n * size - 1n)
    return place && at(place.first > prefix.first + size ? place.first : prefix.first + size)
  }
  const place = [...free].reverse().find(({ first }) => first <= prefix.first - size)
  if (!place) return undefined
  const highest = place.last - size + 1n
  return at(highest < prefix.first - size ? highest : prefix.first - size)
}

/**
 * The prefix of a length around an address, where it is in a block and is free: where a drag would drop it.
 */
export function placeAround(block: Prefix, taken: readonly Prefix[], ip: string, bits: number): Prefix | undefined {
  if (!contains(block, ip) || bits < block.bits) return undefined
  const size = 1n << BigInt((block.family === 4 ? 32 : 128) - bits)
  const value = parsePrefix(`${ip}/${block.family === 4 ? 32 : 128}`).first
  const place = parsePrefix(`${ipFromNumber(block.family, (value / size) * size)}/${bits}`)
  return taken.some((one) => overlaps(one, place)) ? undefined : place
}
