import {
  contains,
  familyOf,
  holds,
  ipToNumber,
  isLinkLocal,
  isNearGateway,
  isPrivate,
  parsePrefix,
  subnetHolding,
} from '../networks/index.js'
import { oncePer } from '../lists/index.js'
import type { Filter } from '../estate/index.js'
import {
  OUTSIDE,
  OUTSIDE_IP,
  SITE_GATEWAY,
  type InterfaceAddress,
  type Interface,
  type Machine,
  type AddressOnInterface,
  type Topology,
} from './topology.js'

export type Protocol = 'icmp' | 'tcp' | 'udp'

/** What is asked of the path: a protocol and, for tcp and udp, a port. */
export interface Service {
  readonly protocol: Protocol
  readonly port: number | undefined
}

interface Packet extends Service {
  readonly src: string
  readonly dst: string
}

/** Why a packet stops, and where. What to say of it is worked out only when somebody reads it: see `explain`. */
export type Failure =
  | {
      readonly code: 'powered-off' | 'no-address' | 'loop' | 'not-from-outside' | 'no-site-route' | 'not-carried-outside'
      readonly machine: Machine
    }
  | { readonly code: 'not-plugged' | 'not-connected'; readonly machine: Machine; readonly on: Interface }
  | { readonly code: 'no-route'; readonly machine: Machine; readonly family: 4 | 6 }
  | { readonly code: 'gateway-outside-prefix'; readonly machine: Machine; readonly on: Interface; readonly at: InterfaceAddress }
  | { readonly code: 'via-unreachable'; readonly machine: Machine; readonly via: string }
  | { readonly code: 'nobody-answers'; readonly machine: Machine; readonly way: NextHop }
  | {
      readonly code: 'duplicate-address'
      readonly machine: Machine
      readonly way: NextHop
      readonly holders: readonly AddressOnInterface[]
    }
  | { readonly code: 'does-not-forward'; readonly machine: Machine; readonly by: Interface }
  | { readonly code: 'filtered'; readonly machine: Machine; readonly filter: Filter }
  | { readonly code: 'translated-back'; readonly machine: Machine; readonly through: Machine }

/** What happened at one machine on the way. */
export type Hop =
  | { readonly step: 'sends' | 'forwards'; readonly machine: Machine; readonly way: NextHop }
  | { readonly step: 'leaves'; readonly machine: Machine; readonly isTranslated: boolean }
  | { readonly step: 'translates'; readonly machine: Machine; readonly way: NextHop; readonly as: string }
  | { readonly step: 'forwards port'; readonly machine: Machine; readonly port: number; readonly to: string; readonly toPort: number }
  | { readonly step: 'translates back'; readonly machine: Machine; readonly to: string }
  | { readonly step: 'has it'; readonly machine: Machine; readonly ip: string }
  | { readonly step: 'enters'; readonly machine: Machine }

/** By which interface and from which address a machine sends, and to whom next. */
export interface NextHop {
  readonly on: Interface
  readonly at: InterfaceAddress
  /** The address asked for on the segment: the target itself, or the next router. */
  readonly next: string
  readonly isNear: boolean
  readonly dst: string
}

interface Translation {
  readonly machine: Machine
  readonly kind: 'source' | 'target'
  readonly inside: string
  readonly outside: string
}

/** A packet's way from machine to machine. */
export interface Walk {
  readonly hops: readonly Hop[]
  readonly stop: Failure | undefined
  readonly end: Machine | undefined
  /** Source and target as the last machine sees them. */
  readonly src: string
  readonly dst: string
  readonly visited: readonly Machine[]
  readonly translations: readonly Translation[]
}

const HOPS_MAX = 24
const filterPrefixes = oncePer(({ fromPrefix, toPrefix }: Filter) => ({
  from: fromPrefix ? parsePrefix(fromPrefix) : undefined,
  to: toPrefix ? parsePrefix(toPrefix) : undefined,
}))

/**
 * How a machine sends to an address: the longest prefix that fits, of its interfaces, its routes, then its gateway.
 * Of several gateways the one of its first adapter counts. Common practice, no source.
 */
export function wayOf(machine: Machine, dst: string): NextHop | Failure | 'outside' {
  const family = familyOf(dst)
  const value = ipToNumber(dst)
  let best: { way: NextHop | Failure; bits: number } | undefined
  let fallback: { on: Interface; at: InterfaceAddress } | undefined
  let hasAddress = false
  let unplugged: Interface | undefined
  for (const on of machine.interfaces)
    for (const at of on.addresses) {
      if (at.family !== family) continue
      if (!on.isConnected) {
        unplugged ??= on
        continue
      }
      hasAddress = true
      if (holds(at.near, family, value) && at.near.bits > (best?.bits ?? -1))
        best = { way: { on, at, next: dst, isNear: true, dst }, bits: at.near.bits }
      // A router’s own link-local address is the others’ gateway, not its own.
      if (at.gateway && !fallback && !on.addresses.some(({ ip }) => ip === at.gateway)) fallback = { on, at }
    }
  for (const route of machine.routes) {
    const prefix = parsePrefix(route.prefix)
    if (!holds(prefix, family, value) || prefix.bits <= (best?.bits ?? -1)) continue
    const spot = spotNear(machine, route.via)
    best = {
      way: spot ? { ...spot, next: route.via, isNear: false, dst } : { code: 'via-unreachable', machine, via: route.via },
      bits: prefix.bits,
    }
  }
  if (best) return best.way
  if (machine.id === SITE_GATEWAY) return 'outside'
  if (fallback?.at.gateway)
    return isNearGateway(fallback.at.near, fallback.at.gateway)
      ? { ...fallback, next: fallback.at.gateway, isNear: false, dst }
      : { code: 'gateway-outside-prefix', machine, ...fallback }
  if (hasAddress) return { code: 'no-route', machine, family }
  return unplugged ? { code: 'not-connected', machine, on: unplugged } : { code: 'no-address', machine }
}

function spotNear(machine: Machine, ip: string): AddressOnInterface | undefined {
  const spots = machine.interfaces.flatMap((on) => (on.isConnected ? on.addresses.map((at) => ({ on, at })) : []))
  const near = spots.find(({ at }) => contains(at.near, ip))
  if (near || !isLinkLocal(ip)) return near
  // The record of a route names no interface: the one whose gateway it is, or else the first with IPv6.
  return spots.find(({ at }) => at.gateway === ip) ?? spots.find(({ at }) => at.family === 6)
}

/** Who answers for the next address on the segment. */
function neighbour(topology: Topology, machine: Machine, way: NextHop, asked: Walk | undefined): AddressOnInterface | Failure {
  const { on, next } = way
  if (!on.segment) return { code: 'not-plugged', machine, on }
  // A private translation lets an answer in to the guest that asked, and to it alone.
  if (on.isPrivate && on.translates && asked)
    for (const asker of asked.visited)
      for (const its of asker.interfaces)
        for (const at of its.addresses) if (asker !== machine && its.segment === on.segment && at.ip === next) return { on: its, at }
  const all = topology.near(on.segment, next)
  const holders = all.filter((spot) => spot.on.machine !== machine && (!on.isPrivate || spot.on.translates))
  const [first] = holders
  if (!first) return { code: 'nobody-answers', machine, way }
  return holders.length > 1 ? { code: 'duplicate-address', machine, way, holders } : first
}

function denied(machine: Machine, packet: Packet): Filter | undefined {
  for (const filter of machine.filters) {
    const { from, to } = filterPrefixes(filter)
    if (from && !contains(from, packet.src)) continue
    if (to && !contains(to, packet.dst)) continue
    if (filter.protocol && filter.protocol !== packet.protocol) continue
    if (
      filter.portFirst !== null &&
      (packet.port === undefined || packet.port < filter.portFirst || packet.port > (filter.portLast ?? filter.portFirst))
    )
      continue
    return filter.action === 'deny' ? filter : undefined
  }
  return undefined
}

/** Stops that come of a machine having sent elsewhere than it would have. */
const ASTRAY: ReadonlySet<Failure['code']> = new Set(['no-route', 'nobody-answers', 'no-site-route', 'loop', 'via-unreachable'])

/** What a stop comes of: an adapter on the way that is on the prefix and not plugged in, so that the packet went astray. */
function causeOf(stop: Failure, visited: readonly Machine[], dst: string): Failure {
  if (!ASTRAY.has(stop.code)) return stop
  const wanted = stop.code === 'via-unreachable' ? stop.via : dst
  for (const machine of visited.toReversed()) {
    const on = machine.interfaces.find((one) => !one.isConnected && one.addresses.some(({ near }) => contains(near, wanted)))
    const way = on && wayOf(machine, wanted)
    if (on && !(typeof way === 'object' && 'isNear' in way && way.isNear)) return { code: 'not-connected', machine, on }
  }
  return stop
}

/** Whether a machine answers for an address: not for that of an adapter that is not plugged in, which some systems do not even set up. */
const has = (machine: Machine, ip: string) => machine.interfaces.some((on) => on.isConnected && on.addresses.some((at) => at.ip === ip))
/** Whether an address is somewhere outside: public, and in no recorded subnet. */
const isBeyond = ({ estate }: Topology, ip: string) =>
  isOutsideIp(ip) || (ip !== SITE_GATEWAY && !isPrivate(ip) && !subnetHolding(estate, ip))
const isOutsideIp = (ip: string) => ip === OUTSIDE_IP[4] || ip === OUTSIDE_IP[6]

/**
 * Follows a packet from a machine to whoever has its target's address.
 *
 * @param asked the walk that this one answers: the way back goes through its translations and its filters' memory
 */
export function walk(topology: Topology, start: Machine, packet: Packet, asked?: Walk): Walk {
  const hops: Hop[] = []
  const visited: Machine[] = [start]
  const translations: Translation[] = []
  const here: { machine: Machine; by: Interface | undefined } = { machine: start, by: undefined }
  let now: Packet = packet
  const done = (stop?: Failure): Walk => ({
    hops,
    stop: stop && causeOf(stop, visited, now.dst),
    end: stop ? undefined : here.machine,
    src: now.src,
    dst: now.dst,
    visited,
    translations,
  })
  const arrive = (machine: Machine, by: Interface | undefined) => {
    here.machine = machine
    here.by = by
    visited.push(machine)
  }
  if (!start.isUp) return done({ code: 'powered-off', machine: start })
  if (has(start, packet.dst)) {
    hops.push({ step: 'has it', machine: start, ip: packet.dst })
    return done()
  }
  for (let count = 0; count < HOPS_MAX; count++) {
    const { machine, by } = here
    const isFirst = visited.length === 1
    let jump: Interface | undefined
    if (!isFirst) {
      const filter = asked?.visited.includes(machine) ? undefined : denied(machine, now)
      if (filter) return done({ code: 'filtered', machine, filter })
      const back = asked?.translations.find((one) => one.kind === 'source' && one.machine === machine && one.outside === now.dst)
      const port = !asked && has(machine, now.dst) ? forwardOf(topology, machine, now) : undefined
      if (back) {
        now = { ...now, dst: back.inside }
        hops.push({ step: 'translates back', machine, to: back.inside })
      } else if (port) {
        translations.push({ machine, kind: 'target', inside: port.ip, outside: now.dst })
        hops.push({ step: 'forwards port', machine, port: now.port ?? 0, to: port.ip, toPort: port.port })
        now = { ...now, dst: port.ip, port: port.port }
        jump = port.on
      } else if (has(machine, now.dst) || (machine.id === OUTSIDE && isBeyond(topology, now.dst))) {
        hops.push({ step: 'has it', machine, ip: now.dst })
        return done()
      } else if (!machine.isRouter && !by?.translates)
        return done(by ? { code: 'does-not-forward', machine, by } : { code: 'no-site-route', machine })
      const through = asked?.translations.find((one) => one.kind === 'target' && one.machine === machine && one.inside === now.src)
      if (through) now = { ...now, src: through.outside }
    }
    if (machine.id === OUTSIDE) {
      const isKnown = asked?.translations.some((one) => one.outside === now.dst) === true
      if (!isKnown && isPrivate(now.dst)) return done({ code: 'not-from-outside', machine })
      hops.push({ step: 'enters', machine })
      const gateway = topology.machines.get(SITE_GATEWAY)
      if (!gateway) return done({ code: 'no-site-route', machine })
      arrive(gateway, undefined)
      continue
    }
    if (jump) {
      if (!jump.machine.isUp) return done({ code: 'powered-off', machine: jump.machine })
      arrive(jump.machine, jump)
      continue
    }
    const way = wayOf(machine, now.dst)
    if (way === 'outside') {
      const outside = topology.machines.get(OUTSIDE)
      if (!outside || !isBeyond(topology, now.dst)) return done({ code: 'no-site-route', machine })
      const translates = isPrivate(now.src)
      if (translates && now.src.includes(':')) return done({ code: 'not-carried-outside', machine })
      if (translates) {
        translations.push({ machine, kind: 'source', inside: now.src, outside: SITE_GATEWAY })
        now = { ...now, src: SITE_GATEWAY }
      }
      hops.push({ step: 'leaves', machine, isTranslated: translates })
      arrive(outside, undefined)
      continue
    }
    if ('code' in way) return done(way)
    const isElsewhere = way.on.segment !== by?.segment
    if (!isFirst && !asked && by?.translates && isElsewhere) {
      hops.push({ step: 'translates', machine, way, as: way.at.ip })
      translations.push({ machine, kind: 'source', inside: now.src, outside: way.at.ip })
      now = { ...now, src: way.at.ip }
    } else hops.push({ step: isFirst ? 'sends' : 'forwards', machine, way })
    // Into a segment behind NAT nothing new is let in but by a forwarded port.
    if (!isFirst && !asked && way.on.translates && isElsewhere) return done({ code: 'does-not-forward', machine, by: way.on })
    const next = neighbour(topology, machine, way, asked)
    if ('code' in next) return done(next)
    arrive(next.on.machine, next.on)
  }
  return done({ code: 'loop', machine: here.machine })
}

/** Where a host's port leads: the guest's adapter, its address and port. */
function forwardOf(topology: Topology, machine: Machine, packet: Packet): { on: Interface; ip: string; port: number } | undefined {
  const forward = machine.forwards.find(({ protocol, hostPort }) => protocol === packet.protocol && hostPort === packet.port)
  if (!forward) return undefined
  const adapter = topology.estate.find('adapter', forward.adapterId)
  const on = topology.machines.get(adapter?.guestId ?? '')?.interfaces.find(({ id }) => id === forward.adapterId)
  const ip = on?.addresses[0]?.ip
  // Only a guest behind this host: one that has moved away leaves the port leading nowhere.
  const isHere = on?.segment !== undefined && machine.interfaces.some(({ segment }) => segment === on.segment)
  return on && ip && isHere && on.isConnected ? { on, ip, port: forward.guestPort } : undefined
}

/** A question put to a machine, and the answer's way back. */
export interface RoundTrip {
  readonly there: Walk
  readonly back: Walk | undefined
}

/**
 * A packet from a machine to an address, and the answer back to it.
 *
 * @param dst the address the machine sends to
 */
export function roundTrip(topology: Topology, from: Machine, dst: string, service: Service): RoundTrip {
  const src = sourceIp(from, dst)
  const there = walk(topology, from, { src, dst, ...service })
  if (!there.end) return { there, back: undefined }
  // A machine that asks itself needs no network.
  if (there.end === from) return { there, back: { ...there, hops: [] } }
  const walked = walk(topology, there.end, { src: there.dst, dst: there.src, protocol: service.protocol, port: undefined }, there)
  if (!walked.end) return { there, back: walked }
  // An answer that does not come from the address that was asked, or to somebody else, is no answer.
  const through = there.translations.find((one) => !walked.visited.includes(one.machine))
  const isAnswer = walked.end === from && walked.src === dst
  if (isAnswer) return { there, back: walked }
  const stop: Failure = through
    ? { code: 'translated-back', machine: walked.end, through: through.machine }
    : { code: 'no-site-route', machine: walked.end }
  return { there, back: { ...walked, stop, end: undefined } }
}

/** The address a machine sends from. */
export function sourceIp(from: Machine, dst: string): string {
  if (from.id === OUTSIDE) return OUTSIDE_IP[dst.includes(':') ? 6 : 4]
  const way = wayOf(from, dst)
  return way !== 'outside' && 'at' in way ? way.at.ip : (from.interfaces[0]?.addresses[0]?.ip ?? '')
}
