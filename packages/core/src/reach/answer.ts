import { canonicalIp, type Estate } from '../estate/index.js'
import { contains, holds } from '../networks/index.js'
import { explain, routeMissing, sayHop, type Reason, type SaidHop } from './explain.js'
import { OUTSIDE, OUTSIDE_IP, type Interface, type Machine, type Topology } from './topology.js'
import { topologyOf } from './build-topology.js'
import { roundTrip, type Protocol, type RoundTrip, type Service, type Walk } from './walk.js'

/** A question: can this machine reach that one? */
export interface ReachQuestion {
  /** A guest's, host's or device's id, `outside`, or `site gateway`. */
  readonly from: string
  /** The same, or an address. */
  readonly to: string
  readonly protocol?: Protocol
  readonly port?: number | undefined
}

/** The answer, with the path in both directions and, where it fails, the first place and what would mend it. */
export interface ReachAnswer {
  readonly reaches: boolean
  /** The address that was asked. */
  readonly target: string | undefined
  readonly there: readonly SaidHop[]
  readonly back: readonly SaidHop[]
  readonly failure: (Reason & { readonly direction: 'there' | 'back'; readonly at: SaidHop['machine'] }) | undefined
  /** What works, and is worth knowing all the same. */
  readonly remarks: readonly string[]
}

/** What `reach` cannot answer: a machine or address that is not there. */
export class ReachError extends Error {
  constructor(
    readonly field: 'from' | 'to' | 'port',
    message: string,
  ) {
    super(message)
  }
}

/**
 * The address by which a machine addresses another: one it treats as directly connected, otherwise the first it shares a family with;
 * for a guest behind a forwarded port, the host's.
 */
function targetOf(from: Machine, to: Machine): string | undefined {
  if (to.id === OUTSIDE)
    return from.interfaces.some((on) => on.addresses.some(({ family }) => family === 4)) ? OUTSIDE_IP[4] : OUTSIDE_IP[6]
  const near = from.interfaces.filter((on) => on.isConnected).flatMap((on) => on.addresses)
  const theirs = to.interfaces.flatMap((on) => on.addresses)
  const families = new Set(from.id === OUTSIDE ? [4, 6] : near.map(({ family }) => family))
  return (
    theirs.find(({ family, number }) => near.some((own) => holds(own.near, family, number))) ??
    theirs.find(({ family }) => families.has(family) && family === 4) ??
    theirs.find(({ family }) => families.has(family)) ??
    theirs[0]
  )?.ip
}

/** The host's address and port that lead to a guest's port by a forward, if there is one. */
function forwardedTarget(topology: Topology, from: Machine, to: Machine, service: Service): { ip: string; port: number } | undefined {
  const adapters = new Set(to.interfaces.map(({ id }) => id))
  for (const machine of topology.machines.values())
    for (const forward of machine.forwards)
      if (adapters.has(forward.adapterId) && forward.protocol === service.protocol && forward.guestPort === service.port) {
        const outer = machine.interfaces.filter((on) => !on.translates)
        const ip = targetOf(from, { ...machine, interfaces: outer })
        if (ip) return { ip, port: forward.hostPort }
      }
  return undefined
}

/** The machine of a question's end. */
function machineOf(topology: Topology, id: string): Machine | undefined {
  const known = topology.machines.get(id)
  if (known) return known
  return topology.anywhere(id)[0]?.on.machine
}

/** A round trip between two machines, as `reach` and the tables take it. */
export function tripBetween(
  topology: Topology,
  from: Machine,
  to: Machine,
  service: Service,
): { trip: RoundTrip; dst: string } | undefined {
  const dst = targetOf(from, to)
  if (!dst) return undefined
  const trip = roundTrip(topology, from, dst, service)
  if (reaches(trip) && trip.there.end === to) return { trip, dst }
  const port = service.port === undefined ? undefined : forwardedTarget(topology, from, to, service)
  if (!port) return { trip, dst }
  return { trip: roundTrip(topology, from, port.ip, { ...service, port: port.port }), dst: port.ip }
}

/** Whether a round trip came back. */
export const reaches = ({ there, back }: RoundTrip): boolean => there.end !== undefined && back?.end !== undefined

/**
 * Whether a machine reaches another, with the path hop by hop in both directions; when it does not, the first place
 * where it fails and what would mend it.
 *
 * @param fromProbe a machine that is not recorded, in the place of the question's
 * @throws ReachError when an end of the question is not there
 * @example reach(estate, { from: playout.id, to: newsroom.id }).reaches // true
 */
export function reach(
  estate: Estate,
  question: ReachQuestion,
  topology: Topology = topologyOf(estate),
  fromProbe?: Machine,
  toProbe?: Machine,
): ReachAnswer {
  const service = serviceOf(question)
  const from = fromProbe ?? machineOf(topology, question.from)
  if (!from) throw new ReachError('from', `From: nothing recorded is called ${question.from}.`)
  const to = toProbe ?? machineOf(topology, question.to)
  const isAddress = !toProbe && topology.machines.get(question.to) === undefined
  const ip = canonicalIp(question.to)
  if (!to && !ip) throw new ReachError('to', `To: nothing recorded is called ${question.to}.`)
  const found =
    to && !isAddress
      ? tripBetween(topology, from, to, service)
      : { trip: roundTrip(topology, from, ip ?? question.to, service), dst: ip ?? question.to }
  if (!found)
    return {
      reaches: false,
      target: undefined,
      there: [],
      back: [],
      failure: {
        // What is off has no address either; that it is off is what has to be mended first.
        ...explain(topology, { code: from.isUp && to && !to.isUp ? 'powered-off' : 'no-address', machine: to ?? from }),
        direction: 'there',
        at: ref(to ?? from),
      },
      remarks: [],
    }
  const { trip, dst } = found
  return {
    reaches: reaches(trip) && (isAddress || trip.there.end === to),
    target: dst,
    there: trip.there.hops.map((hop) => sayHop(topology, hop)),
    back: (trip.back?.hops ?? []).map((hop) => sayHop(topology, hop)),
    failure: failureOf(topology, trip, to, isAddress),
    remarks: remarksOf(topology, trip),
  }
}

function failureOf(topology: Topology, trip: RoundTrip, to: Machine | undefined, isAddress: boolean): ReachAnswer['failure'] {
  const stopped: readonly [Walk | undefined, 'there' | 'back'][] = [
    [trip.there, 'there'],
    [trip.back, 'back'],
  ]
  for (const [walk, direction] of stopped) {
    if (!walk?.stop) continue
    const reason = explain(topology, walk.stop)
    const asked = direction === 'back' ? trip.there.visited[0] : isAddress ? topology.anywhere(walk.dst)[0]?.on.machine : to
    const on = asked?.interfaces.find((one) => one.addresses.some(({ ip }) => ip === walk.dst))
    const better =
      on && (missingRoute(topology, walk, on) ?? (direction === 'there' && !isAddress ? behindTranslation(topology, walk, on) : undefined))
    return { ...missingWay(better ?? reason, walk, to, direction), direction, at: ref(walk.stop.machine) }
  }
  const end = trip.there.end
  if (end && to && !isAddress && end !== to)
    return {
      code: 'duplicate-address',
      sentence: `${trip.there.dst} is answered by ${end.name}, not by ${to.name}: both have it.`,
      mend: 'Give one of them another address.',
      direction: 'there',
      at: ref(end),
    }
  return undefined
}

/** The answer fails for want of a route back: said as such, since it is found on the other side than one looks. */
function missingWay(reason: Reason, walk: Walk, to: Machine | undefined, direction: 'there' | 'back'): Reason {
  if (direction === 'there' || (reason.code !== 'no-route' && reason.code !== 'no-site-route')) return reason
  return {
    ...reason,
    sentence: `It arrives at ${to?.name ?? 'the target'}, but the reply does not get back: ${reason.sentence}`,
  }
}

/** The routers that carry packets to a segment from elsewhere. */
function* routersOf(
  topology: Topology,
  on: Interface,
  except?: Machine,
): Generator<{ readonly router: Machine; readonly elsewhere: readonly Interface[] }> {
  for (const router of topology.machines.values()) {
    if (!router.isUp || !router.isRouter || router === on.machine || router === except) continue
    const legs = router.interfaces.filter(({ isConnected, segment }) => isConnected && segment !== undefined)
    if (legs.some(({ segment }) => segment === on.segment))
      yield { router, elsewhere: legs.filter(({ segment }) => segment !== on.segment) }
  }
}

/** A machine that knows no way to a segment, beside a router that is on it: what is missing is a route, whatever the segment is. */
function missingRoute(topology: Topology, { stop, dst }: Walk, on: Interface): Reason | undefined {
  if (stop?.code !== 'no-route' && stop?.code !== 'no-site-route') return undefined
  const { machine } = stop
  const at = on.addresses.find(({ ip }) => ip === dst)
  if (!at) return undefined
  for (const { router, elsewhere } of routersOf(topology, on, machine))
    for (const leg of elsewhere)
      for (const own of machine.interfaces) {
        if (!own.isConnected || own.segment !== leg.segment) continue
        const via = leg.addresses.find(({ ip, family }) => family === at.family && own.addresses.some(({ near }) => contains(near, ip)))
        if (via) return { code: stop.code, ...routeMissing(topology, machine, at.near.text, { router, via: via.ip }) }
      }
  return undefined
}

/** A target behind a translation, host-only or internal segment that a packet from elsewhere cannot get to. */
function behindTranslation(topology: Topology, walk: Walk, on: Interface): Reason | undefined {
  const stop = walk.stop
  if (!stop || !['no-site-route', 'not-from-outside', 'no-route', 'nobody-answers', 'does-not-forward'].includes(stop.code))
    return undefined
  if (!on.ends || walk.visited.some((machine) => machine.interfaces.some(({ segment }) => segment === on.segment))) return undefined
  // A router leads in: what is missing is on the way to it, and the segment is as it is meant to be.
  for (const { elsewhere } of routersOf(topology, on)) if (elsewhere.length > 0) return undefined
  return explain(topology, { code: 'not-plugged', machine: on.machine, on })
}

/** An answer that comes back another way than the question went. */
function remarksOf(topology: Topology, { there, back }: RoundTrip): string[] {
  if (!there.end || !back?.end) return []
  const routers = (walk: Walk) => walk.visited.slice(1, -1).map(({ id }) => id)
  const [out, home] = [routers(there), routers(back).reverse()]
  if (out.join() === home.join()) return []
  const names = (ids: readonly string[]) => ids.map((id) => topology.machines.get(id)?.name ?? id).join(', ') || 'straight'
  return [
    `The reply takes a different path: there by ${names(out)}, back by ${names(home.reverse())}. A stateful filter on one of them would drop it.`,
  ]
}

const ref = ({ kind, id, name }: Machine): SaidHop['machine'] => ({ kind, id, name })
/** @throws ReachError when tcp or udp is asked without a port */
export function serviceOf({ protocol = 'icmp', port }: Pick<ReachQuestion, 'protocol' | 'port'>): Service {
  if (protocol === 'icmp') return { protocol, port: undefined }
  if (port === undefined || !Number.isInteger(port) || port < 1 || port > 65535)
    throw new ReachError('port', `Port: ${protocol} asks for a port from 1 to 65535.`)
  return { protocol, port }
}
