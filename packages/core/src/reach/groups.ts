import { recordTitle, type Estate, type Intent } from '../estate/index.js'
import { reach, ReachError, serviceOf, type ReachAnswer, type ReachQuestion } from './answer.js'
import { countUpTo, boundaries, needsOwnClass } from './classes.js'
import { probesOn, withProbes, type Probe } from './probes.js'
import { OUTSIDE, OUTSIDE_IP, type Machine, type Topology } from './topology.js'
import { TOPOLOGY_KINDS, topologyOf } from './build-topology.js'
import { roundTrip, wayOf, type RoundTrip, type Service } from './walk.js'
import { compareNames } from '../lists/index.js'
import type { Task } from '../tasks/index.js'

/** A group of networks whose machines are asked about together. */
export type Group =
  | { readonly kind: 'network'; readonly id: string }
  | { readonly kind: 'role' | 'site'; readonly name: string }
  | { readonly kind: 'outside' }

/** How far one group reaches another. */
export interface GroupReach {
  /** How many of the asked pairs reach. */
  readonly reaching: number
  readonly pairs: number
  /** A pair that does, and one that does not: from a network's id (or `outside`), to a machine's id or an address. */
  readonly does: ReachQuestion | undefined
  readonly doesNot: ReachQuestion | undefined
}

/** All, some or none of what was asked reaches; nothing to ask. */
export type ReachVerdict = 'all' | 'some' | 'none' | 'empty'

export const verdictOf = ({ reaching, pairs }: GroupReach): ReachVerdict =>
  pairs === 0 ? 'empty' : reaching === pairs ? 'all' : reaching === 0 ? 'none' : 'some'

/** A machine's address on a network, as a target. */
interface Target {
  readonly machine: Machine
  readonly ip: string
  /** How many machines no rule tells apart from this one, on this network. */
  readonly count: number
  /** What the rules see of the spot that is asked, as a number that two spots alike share. */
  readonly spot: number
  /** The same of the whole machine. */
  readonly shape: number
}

/**
 * Which groups reach which. From a network asks a machine that is not there, plugged in as any new one would be; asked
 * are the machines that have an address on the other network, or such a machine where there is none.
 *
 * @example new GroupTable(estate).reach({ kind: 'network', id: office.id }, { kind: 'outside' }).reaching
 */
export class GroupTable {
  readonly #topology: Topology
  readonly #service: Service
  readonly #cells = new Map<string, GroupReach>()
  readonly #targets = new Map<string, readonly Target[]>()
  readonly #trips = new Map<string, boolean>()
  /** By source and machine: how the answer is sent, as a number. */
  readonly #backs: (number | undefined)[][] = []
  readonly #numbers = new Map<string, number>()
  readonly #shapes = new Map<Machine, number>()
  readonly #probes = new Map<string, readonly Probe[]>()
  readonly #cuts: ReturnType<typeof boundaries>
  readonly #forwarded: ReadonlySet<string>

  constructor(estate: Estate, asked: Pick<ReachQuestion, 'protocol' | 'port'> = {}) {
    this.#topology = topologyOf(estate)
    this.#service = serviceOf(asked)
    this.#cuts = boundaries(this.#topology)
    this.#forwarded = new Set(estate.all('forward').map(({ adapterId }) => adapterId))
  }

  /** How far one group reaches another, over all pairs of their networks. */
  reach(from: Group, to: Group): GroupReach {
    let sum: GroupReach = { reaching: 0, pairs: 0, does: undefined, doesNot: undefined }
    for (const source of this.#partsOf(from))
      for (const target of this.#partsOf(to)) {
        const cell = this.#cell(source, target)
        sum = {
          reaching: sum.reaching + cell.reaching,
          pairs: sum.pairs + cell.pairs,
          does: sum.does ?? cell.does,
          doesNot: sum.doesNot ?? cell.doesNot,
        }
      }
    return sum
  }

  /** The networks of a group by id, or outside. */
  #partsOf(group: Group): readonly string[] {
    const networks = this.#topology.estate.all('network')
    switch (group.kind) {
      case 'network':
        return [group.id]
      case 'role':
        return networks.filter(({ role }) => role === group.name).map(({ id }) => id)
      case 'site':
        return networks.filter(({ site }) => site === group.name).map(({ id }) => id)
      case 'outside':
        return [OUTSIDE]
    }
  }

  #cell(from: string, to: string): GroupReach {
    const key = `${from} ${to}`
    const known = this.#cells.get(key)
    if (known) return known
    const made = this.#ask(from, to)
    this.#cells.set(key, made)
    return made
  }

  #ask(from: string, to: string): GroupReach {
    if (from === OUTSIDE && to === OUTSIDE) return { reaching: 0, pairs: 0, does: undefined, doesNot: undefined }
    const sources = from === OUTSIDE ? undefined : this.#probesOn(from, 0)
    const others = this.#targetsOn(to)
    // Where nobody is on the network, a machine that would be there is asked instead.
    const standIns = others.length === 0 && to !== OUTSIDE ? this.#probesOn(to, 1) : []
    const topology = withProbes(this.#topology, [...(sources ?? []), ...standIns])
    const outside = this.#topology.machines.get(OUTSIDE)
    const machines = sources?.map(({ machine }) => machine) ?? (outside ? [outside] : [])
    const targets = standIns.length > 0 ? standIns.map(({ machine, ip }) => this.#target(machine, ip)) : others
    let [reaching, pairs] = [0, 0]
    let does: ReachQuestion | undefined
    let doesNot: ReachQuestion | undefined
    for (const machine of machines)
      for (const target of targets) {
        pairs += target.count
        const question = { from, to: to === OUTSIDE ? OUTSIDE : standIns.length > 0 ? to : target.ip, ...this.#service }
        if (this.#answers(topology, machine, target)) {
          reaching += target.count
          does ??= question
        } else doesNot ??= question
      }
    return { reaching, pairs, does, doesNot }
  }

  /** Whether a target answers. What is known of one way there and one way back holds for all that go by them. */
  #answers(topology: Topology, from: Machine, { machine, ip, spot, shape }: Target): boolean {
    const source = this.#number(from.id)
    const backs = (this.#backs[source] ??= [])
    // A machine with both families answers each its own way.
    const back = (backs[shape * 2 + Number(ip.includes(':'))] ??= this.#number(this.#backOf(from, machine, ip)))
    const key = `${source} ${spot} ${back}`
    let answered = this.#trips.get(key)
    if (answered === undefined) {
      answered = isAnswered(roundTrip(topology, from, ip, this.#service))
      this.#trips.set(key, answered)
    }
    return answered
  }

  /** From which segment and to whom first a machine sends its answers to a source. */
  #backOf(from: Machine, machine: Machine, ip: string): string {
    const source = from.id === OUTSIDE ? OUTSIDE_IP[ip.includes(':') ? 6 : 4] : from.interfaces[0]?.addresses[0]?.ip
    const way = source === undefined ? undefined : wayOf(machine, source)
    return way && way !== 'outside' && 'next' in way ? `${way.on.segment ?? ''} ${way.isNear ? 'near' : way.next}` : 'no way'
  }

  /** The same number for the same text. */
  #number(text: string): number {
    let number = this.#numbers.get(text)
    if (number === undefined) {
      number = this.#numbers.size
      this.#numbers.set(text, number)
    }
    return number
  }

  #probesOn(networkId: string, place: number): readonly Probe[] {
    const key = `${networkId} ${place}`
    const known = this.#probes.get(key)
    if (known) return known
    const made = probesOn(this.#topology, networkId, place)
    this.#probes.set(key, made)
    return made
  }

  #target(machine: Machine, ip: string): Target {
    return { machine, ip, count: 1, spot: this.#number(this.#spotOf(machine, ip)), shape: this.#shapeOf(machine) }
  }

  #shapeOf(machine: Machine): number {
    let shape = this.#shapes.get(machine)
    if (shape === undefined) {
      const spots = needsOwnClass(this.#topology, machine, this.#forwarded)
        ? [machine.id]
        : machine.interfaces.flatMap((on) => on.addresses.map(({ ip }) => this.#spotOf(machine, ip)))
      shape = this.#number(`machine ${spots.join(',')}`)
      this.#shapes.set(machine, shape)
    }
    return shape
  }

  /** What the rules see of an address on a machine; of one that they know by itself, the address. */
  #spotOf(machine: Machine, ip: string): string {
    if (needsOwnClass(this.#topology, machine, this.#forwarded)) return ip
    for (const on of machine.interfaces)
      for (const at of on.addresses)
        if (at.ip === ip)
          return [on.segment, on.isConnected, at.near.text, at.gateway, countUpTo(this.#cuts[at.family], at.number)].join(' ')
    return ip
  }

  #targetsOn(to: string): readonly Target[] {
    const known = this.#targets.get(to)
    if (known) return known
    const outside = this.#topology.machines.get(OUTSIDE)
    const all =
      to === OUTSIDE
        ? outside
          ? [this.#target(outside, OUTSIDE_IP[4])]
          : []
        : this.#topology
            .interfacesOn(to)
            .flatMap((on) =>
              on.machine.isUp && on.machine.kind !== 'site gateway' ? on.addresses.map(({ ip }) => this.#target(on.machine, ip)) : [],
            )
    // Machines whose every spot looks alike answer alike: one of them is asked for all.
    const classes = new Map<string, Target>()
    for (const target of all) {
      const key = `${target.spot} ${target.shape}`
      const same = classes.get(key)
      classes.set(key, same ? { ...same, count: same.count + 1 } : target)
    }
    const made = [...classes.values()]
    this.#targets.set(to, made)
    return made
  }
}

const isAnswered = ({ there, back }: RoundTrip) => there.end !== undefined && back?.end !== undefined
/** Every group that the networks of an estate make: by network, by role, by site, and outside. */
export function groupsOf(estate: Estate): readonly Group[] {
  const networks = [...estate.all('network')].sort((a, b) => (a.vlanId ?? 0) - (b.vlanId ?? 0) || compareNames(a.name, b.name))
  const words = (of: (network: (typeof networks)[number]) => string | null) =>
    [...new Set(networks.flatMap((network) => of(network) ?? []))].sort()
  return [
    ...networks.map(({ id }): Group => ({ kind: 'network', id })),
    ...words(({ role }) => role).map((name): Group => ({ kind: 'role', name })),
    ...words(({ site }) => site).map((name): Group => ({ kind: 'site', name })),
    { kind: 'outside' },
  ]
}

/** A group in words. */
export function groupName(estate: Estate, group: Group): string {
  if (group.kind === 'outside') return 'outside'
  return group.kind === 'network' ? (estate.find('network', group.id)?.name ?? 'a removed network') : `${group.kind} ${group.name}`
}

/** One side of an intention as a group. */
export function groupOf(intent: Intent, side: 'from' | 'to'): Group {
  const kind = intent[`${side}Kind`]
  if (kind === 'outside') return { kind }
  if (kind === 'network') return { kind, id: intent[`${side}NetworkId`] ?? '' }
  return { kind, name: intent[`${side}Name`] ?? '' }
}

/** Which groups are asked about, and with what service. */
export interface MatrixQuestion extends Pick<ReachQuestion, 'protocol' | 'port'> {
  readonly groups: readonly Group[]
}

/** Which groups reach which: a row for each, with how far it reaches each of them. Its progress is how many rows are worked out. */
export const reachMatrix: Task<MatrixQuestion, number, readonly (readonly GroupReach[])[]> = {
  *run(estate, { groups, ...service }) {
    const table = new GroupTable(estate, service)
    const rows: (readonly GroupReach[])[] = []
    for (const from of groups) {
      rows.push(groups.map((to) => table.reach(from, to)))
      yield rows.length
    }
    return rows
  },
}

/** The fields of an intention that name a group. */
export function groupFields(group: Group, side: 'from' | 'to'): Readonly<Record<string, string | null>> {
  return {
    [`${side}Kind`]: group.kind,
    [`${side}NetworkId`]: group.kind === 'network' ? group.id : null,
    [`${side}Name`]: group.kind === 'role' || group.kind === 'site' ? group.name : null,
  }
}

/** A group as a text that two groups alike share. */
export const groupKey = (group: Group): string =>
  group.kind === 'outside' ? group.kind : `${group.kind} ${group.kind === 'network' ? group.id : group.name}`

/** An intention held against what is computed. */
export interface IntentCheck {
  readonly isMet: boolean
  readonly found: GroupReach
  /** A pair that goes against it, asked in full: the path, or why there is none. */
  readonly example: { readonly question: ReachQuestion; readonly answer: ReachAnswer } | undefined
  readonly title: string
}

/** The table of an estate for a service: several intentions ask with the same. */
const tableFor = (estate: Estate, asked: Pick<ReachQuestion, 'protocol' | 'port'>): GroupTable =>
  estate.deriveFor(TOPOLOGY_KINDS, JSON.stringify(asked), tableOf)

const tableOf = (estate: Estate, asked: string): GroupTable =>
  new GroupTable(estate, JSON.parse(asked) as Pick<ReachQuestion, 'protocol' | 'port'>)

/** Whether an intention is met; one with nothing to ask is. */
export function checkIntent(estate: Estate, intent: Intent): IntentCheck {
  const found = tableFor(estate, serviceAsked(intent)).reach(groupOf(intent, 'from'), groupOf(intent, 'to'))
  const isMet = intent.wanted === 'must reach' ? found.reaching === found.pairs : found.reaching === 0
  const question = isMet ? undefined : intent.wanted === 'must reach' ? found.doesNot : found.does
  return {
    isMet,
    found,
    example: question && { question, answer: askGroup(estate, question) },
    title: recordTitle(estate, 'intent', intent),
  }
}

const serviceAsked = ({ protocol, port }: Intent): Pick<ReachQuestion, 'protocol' | 'port'> => ({ protocol, port: port ?? undefined })

/**
 * Like `reach`, where an end may also be a network: any machine plugged into it.
 *
 * @throws ReachError when an end is not there
 */
export function askGroup(estate: Estate, question: ReachQuestion): ReachAnswer {
  const topology = topologyOf(estate)
  const probeOf = (id: string, place: number): Probe | undefined => {
    if (!estate.find('network', id)) return undefined
    const [probe] = probesOn(topology, id, place)
    if (!probe)
      throw new ReachError(
        place === 0 ? 'from' : 'to',
        `${estate.find('network', id)?.name ?? ''} has no subnet, so no machine on it has an address.`,
      )
    return probe
  }
  const [from, to] = [probeOf(question.from, 0), probeOf(question.to, 1)]
  return reach(
    estate,
    question,
    withProbes(
      topology,
      [from, to].flatMap((probe) => probe ?? []),
    ),
    from?.machine,
    to?.machine,
  )
}
