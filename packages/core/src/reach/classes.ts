import type { Estate } from '../estate/index.js'
import { contains, familyOf, ipToNumber, parsePrefix, type Prefix } from '../networks/index.js'
import { reaches, serviceOf, tripBetween, type ReachQuestion } from './answer.js'
import { OUTSIDE, SITE_GATEWAY, type Machine, type Topology } from './topology.js'
import { topologyOf } from './build-topology.js'
import { roundTrip, sourceIp, walk, wayOf, type Service } from './walk.js'

/** An address on an interface, as far as any rule can tell it from others: machines whose spots agree share every answer. */
interface SpotClass {
  readonly ip: string
  readonly family: 4 | 6
}

/** Machines that no rule tells apart. */
interface MachineClass {
  readonly members: Machine[]
  /** Its addresses by spot class, in the order in which they are chosen. */
  readonly spots: readonly number[]
}

/**
 * Who reaches whom, for all pairs of machines at once.
 *
 * Machines fall into classes by what the rules look at: segment, prefix as set, gateway, place among the prefixes of
 * filters and routes. A packet's way there and its way back are followed once for each pair of such addresses, not for
 * each pair of machines.
 *
 * @example ReachTable.of(estate).reaches(playout.id, newsroom.id) // the same as `reach`, without the path
 */
export class ReachTable {
  readonly #classOf: ReadonlyMap<string, number>
  readonly #classes: readonly MachineClass[]
  /** 1 where a member of the row's class reaches a member of the column's. */
  readonly #matrix: Uint8Array

  private constructor(classOf: ReadonlyMap<string, number>, classes: readonly MachineClass[], matrix: Uint8Array) {
    this.#classOf = classOf
    this.#classes = classes
    this.#matrix = matrix
  }

  static of(estate: Estate, asked: Pick<ReachQuestion, 'protocol' | 'port'> = {}): ReachTable {
    const topology = topologyOf(estate)
    const service = serviceOf(asked)
    const { classes, classOf, spots } = classify(topology)
    return new ReachTable(classOf, classes, compare(topology, service, classes, spots))
  }

  /** How many classes the machines fall into. */
  get classCount(): number {
    return this.#classes.length
  }

  /** How many machines there are. */
  get machineCount(): number {
    return this.#classOf.size
  }

  /** Whether one machine reaches another; a machine reaches itself when it is up. */
  reaches(fromId: string, toId: string): boolean {
    const [row, column] = [this.#classOf.get(fromId), this.#classOf.get(toId)]
    if (row === undefined || column === undefined) return false
    if (fromId === toId) return this.#classes[row]?.members[0]?.isUp === true
    return this.#matrix[row * this.#classes.length + column] === 1
  }

  /** How many pairs of machines, of all, reach each other in this direction. */
  count(): { readonly reaching: number; readonly pairs: number } {
    let reaching = 0
    const sizes = this.#classes.map(({ members }) => members.length)
    sizes.forEach((rows, row) => {
      sizes.forEach((columns, column) => {
        if (this.#matrix[row * sizes.length + column] === 1) reaching += rows * (row === column ? columns - 1 : columns)
      })
    })
    return { reaching, pairs: this.machineCount * (this.machineCount - 1) }
  }
}

function classify(topology: Topology): { classes: MachineClass[]; classOf: Map<string, number>; spots: SpotClass[] } {
  const cuts = boundaries(topology)
  const spots: SpotClass[] = []
  const spotIds = new Map<string, number>()
  const classes: MachineClass[] = []
  const classIds = new Map<string, number>()
  const classOf = new Map<string, number>()
  const forwarded = new Set(topology.estate.all('forward').map(({ adapterId }) => adapterId))
  for (const machine of topology.machines.values()) {
    const isApart = needsOwnClass(topology, machine, forwarded)
    const ids: number[] = []
    if (machine.isUp)
      for (const on of machine.interfaces)
        for (const at of on.addresses) {
          const place = isApart ? `${on.id} ${at.ip}` : String(countUpTo(cuts[at.family], at.number))
          const key = [on.segment ?? '-', on.isConnected, at.near.text, at.gateway ?? '-', at.family, place].join('|')
          let id = spotIds.get(key)
          if (id === undefined) {
            id = spots.push({ ip: at.ip, family: at.family }) - 1
            spotIds.set(key, id)
          }
          ids.push(id)
        }
    // Machines that are powered off, or have no address, reach nobody and are reached by nobody.
    const isMute = !machine.isUp || (ids.length === 0 && machine.id !== OUTSIDE && machine.id !== SITE_GATEWAY)
    const key = isMute ? `mute ${machine.isUp}` : isApart ? machine.id : ids.join()
    let id = classIds.get(key)
    if (id === undefined) {
      id = classes.push({ members: [], spots: ids }) - 1
      classIds.set(key, id)
    }
    classes[id]?.members.push(machine)
    classOf.set(machine.id, id)
  }
  return { classes, classOf, spots }
}

/** Whether a rule looks at this very machine: it forwards, filters, has routes, ports or an address that others name or share. */
export function needsOwnClass(topology: Topology, machine: Machine, forwarded: ReadonlySet<string>): boolean {
  if (machine.id === SITE_GATEWAY || machine.id === OUTSIDE) return true
  if (machine.isRouter || machine.routes.length + machine.filters.length + machine.forwards.length > 0) return true
  return machine.interfaces.some(
    (on) =>
      on.translates || forwarded.has(on.id) || on.addresses.some(({ ip }) => topology.gateways.has(ip) || topology.anywhere(ip).length > 1),
  )
}

/** Where some prefix that a rule looks at begins or ends, by family, sorted. */
export function boundaries(topology: Topology): Readonly<Record<4 | 6, readonly bigint[]>> {
  const prefixes = new Map<string, Prefix>()
  const add = (text: string | null) => text && !prefixes.has(text) && prefixes.set(text, parsePrefix(text))
  for (const machine of topology.machines.values()) {
    for (const on of machine.interfaces) for (const at of on.addresses) prefixes.set(at.near.text, at.near)
    for (const route of machine.routes) add(route.prefix)
    for (const filter of machine.filters) {
      add(filter.fromPrefix)
      add(filter.toPrefix)
    }
  }
  const cuts = { 4: new Set<bigint>(), 6: new Set<bigint>() }
  for (const { family, first, last } of prefixes.values()) cuts[family].add(first).add(last + 1n)
  for (const on of [...topology.machines.values()].flatMap(({ interfaces }) => interfaces.filter(({ translates }) => translates)))
    for (const { ip } of on.addresses) cuts[familyOf(ip)].add(ipToNumber(ip)).add(ipToNumber(ip) + 1n)
  const sorted = (set: ReadonlySet<bigint>) => [...set].sort((a, b) => (a < b ? -1 : 1))
  return { 4: sorted(cuts[4]), 6: sorted(cuts[6]) }
}

/** How many boundaries are at or below a number. */
export function countUpTo(cuts: readonly bigint[], value: bigint): number {
  let [low, high] = [0, cuts.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((cuts[middle] ?? 0n) <= value) low = middle + 1
    else high = middle
  }
  return low
}

/** What is known of a packet's way there, by the spot it is sent from, the first router and the spot it is sent to. */
interface Going {
  /** What the answer is sent to: the spot it came from, or an address a translation gave it; -1 where it did not arrive. */
  readonly seen: number
  /** Whether the answer comes back, by how the answering machine sends it. */
  readonly back: (boolean | undefined)[]
}

function compare(topology: Topology, service: Service, classes: readonly MachineClass[], spots: readonly SpotClass[]): Uint8Array {
  const count = classes.length
  const matrix = new Uint8Array(count * count)
  const heads = classes.map(({ members }) => members[0])
  const isAskedAlone = alone(topology, service)
  const apart = heads.map((machine) => machine !== undefined && isAskedAlone(machine))
  const hops = new Map<string, number>()
  const seenAs = new Map<string, number>()
  const targets = spots.map(({ ip }) => ip)
  const goings: (Going | undefined)[][] = []
  const outs: (number | undefined)[][] = heads.map(() => [])
  // How a class sends to a target, as one number: from which spot and to whom first; -1 where it cannot.
  const out = (index: number, target: number): number => {
    const known = outs[index]?.[target]
    if (known !== undefined) return known
    const machine = heads[index]
    const way = machine && wayOf(machine, targets[target] ?? '')
    let id = -1
    if (machine && way && way !== 'outside' && 'on' in way && 'next' in way) {
      const key = `${classes[index]?.spots[spotIndex(machine, way.at.ip)] ?? -1} ${way.isNear ? 'near' : way.next}`
      id = hops.get(key) ?? hops.size
      hops.set(key, id)
      goings[id] ??= []
    }
    ;(outs[index] ??= [])[target] = id
    return id
  }
  const seen = (ip: string): number => {
    let id = seenAs.get(ip)
    if (id === undefined) {
      id = targets.push(ip) - 1
      seenAs.set(ip, id)
    }
    return id
  }
  const insides = new Map<string, readonly number[]>()
  /** By spot, whether it is in one of some prefixes. */
  const nearSpots = (prefixes: readonly Prefix[]): readonly boolean[] => {
    const near: boolean[] = []
    for (const prefix of prefixes) {
      let inside = insides.get(prefix.text)
      if (!inside) {
        inside = spots.flatMap(({ ip }, id) => (contains(prefix, ip) ? [id] : []))
        insides.set(prefix.text, inside)
      }
      for (const id of inside) near[id] = true
    }
    return near
  }
  const answers = (from: Machine, to: Machine) => {
    const found = tripBetween(topology, from, to, service)
    return found !== undefined && reaches(found.trip) && found.trip.there.end === to
  }
  for (let row = 0; row < count; row++) {
    const from = heads[row]
    if (!from?.isUp) continue
    const own = classes[row]?.spots ?? []
    const near = from.interfaces.filter((on) => on.isConnected).flatMap((on) => on.addresses)
    const isNear = nearSpots(near.map((at) => at.near))
    const families = new Set(near.map(({ family }) => family))
    for (let column = 0; column < count; column++) {
      const to = row === column ? classes[column]?.members[1] : heads[column]
      if (!to?.isUp) continue
      if (apart[row] || apart[column] || row === column) {
        if (answers(from, to)) matrix[row * count + column] = 1
        continue
      }
      const theirs = classes[column]?.spots ?? []
      let target: number | undefined
      for (const id of theirs)
        if (isNear[id]) {
          target = id
          break
        }
      target ??= preferred(theirs, spots, families)
      if (target === undefined) continue
      const hop = out(row, target)
      if (hop < 0) continue
      let going = goings[hop]?.[target]
      if (!going) {
        const dst = addressAt(to, theirs.indexOf(target))
        const src = sourceIp(from, dst)
        const there = walk(topology, from, { src, dst, ...service })
        const spot = own[spotIndex(from, src)] ?? -1
        going = { seen: there.end !== to ? -1 : there.src === src ? spot : seen(there.src), back: [] }
        ;(goings[hop] ??= [])[target] = going
      }
      if (going.seen < 0) continue
      const reply = out(column, going.seen)
      if (reply < 0) continue
      if ((going.back[reply] ??= reaches(roundTrip(topology, from, addressAt(to, theirs.indexOf(target)), service))))
        matrix[row * count + column] = 1
    }
  }
  return matrix
}

/** The machines that are asked one by one: the two ends of the model, those behind a port, those whose address is not theirs alone. */
function alone(topology: Topology, service: Service): (machine: Machine) => boolean {
  const forwarded = new Set(service.port === undefined ? [] : topology.estate.all('forward').map(({ adapterId }) => adapterId))
  return (machine) =>
    machine.id === SITE_GATEWAY ||
    machine.id === OUTSIDE ||
    machine.interfaces.some((on) => forwarded.has(on.id) || on.addresses.some(({ ip }) => topology.anywhere(ip).length > 1))
}

/** The address to use where none is directly connected: IPv4 before IPv6, of the families that the asking machine has. */
function preferred(theirs: readonly number[], spots: readonly SpotClass[], families: ReadonlySet<number>): number | undefined {
  let other: number | undefined
  for (const id of theirs) {
    const family = spots[id]?.family
    if (family === undefined || !families.has(family)) continue
    if (family === 4) return id
    other ??= id
  }
  return other ?? theirs[0]
}

/** The address at a place among all of a machine's. */
const addressAt = (machine: Machine, place: number): string => machine.interfaces.flatMap((on) => on.addresses)[place]?.ip ?? ''

/** The place of an address among all of a machine's, in the order of its spots. */
function spotIndex(machine: Machine, ip: string): number {
  let index = 0
  for (const on of machine.interfaces)
    for (const at of on.addresses) {
      if (at.ip === ip) return index
      index++
    }
  return -1
}
