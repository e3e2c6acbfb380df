import { canonicalIp, type Estate } from '../estate/index.js'
import { nameTable } from '../names/index.js'
import { isPrivate } from '../networks/index.js'
import { reach, ReachError, reaches, type ReachAnswer } from './answer.js'
import { topologyOf } from './build-topology.js'
import { roundTrip } from './walk.js'

/** What a machine would learn of a name. */
export interface LookUp {
  readonly outcome: 'answer' | 'unknown name' | 'no name server' | 'no answer'
  readonly name: string
  readonly addresses: readonly string[]
  /** The name server that answered, or that was asked last. */
  readonly server: string | undefined
  readonly sentence: string
}

/** What a recorded machine would see when it pings. */
export interface PingAnswer {
  readonly outcome: 'reply' | 'no route' | 'unreachable' | 'timeout' | 'wrong name'
  readonly target: string
  readonly address: string | undefined
  /** How many routers the answer came through. */
  readonly hops: number | undefined
  readonly sentence: string
  readonly lookUp: LookUp | undefined
  readonly path: ReachAnswer | undefined
}

/**
 * Looks a name up as a recorded machine would: asks its name servers in order; a recorded one knows the recorded
 * names, one outside knows none of them.
 *
 * @throws ReachError when the machine is not there
 * @example lookUp(estate, playout.id, 'newsroom').addresses // ['10.61.40.2']
 */
export function lookUp(estate: Estate, fromId: string, name: string): LookUp {
  const topology = topologyOf(estate)
  const from = topology.machines.get(fromId)
  if (!from) throw new ReachError('from', `From: nothing recorded is called ${fromId}.`)
  const asked = name.trim().toLowerCase().replace(/\.$/, '')
  const servers = [
    ...new Set(from.interfaces.flatMap((on) => (on.isConnected ? on.addresses.flatMap(({ nameServers }) => nameServers) : []))),
  ]
  if (servers.length === 0)
    return {
      outcome: 'no name server',
      name,
      addresses: [],
      server: undefined,
      sentence: `${from.name} has no name server; set one on its subnet.`,
    }
  for (const server of servers) {
    const trip = roundTrip(topology, from, server, { protocol: 'udp', port: 53 })
    if (!reaches(trip)) continue
    const isOurs = topology.anywhere(server).length > 0
    const domain = estate.all('estate')[0]?.domain
    const known = isOurs
      ? nameTable(estate).names.filter(
          ({ label, zone }) => asked === `${label}.${zone ?? ''}` || (asked === label && (!zone || zone === domain)),
        )
      : []
    if (known.length > 0)
      return {
        outcome: 'answer',
        name,
        addresses: known.map(({ ip }) => ip),
        server,
        sentence: `${server} says: ${known.map(({ ip }) => ip).join(', ')}.`,
      }
    return {
      outcome: 'unknown name',
      name,
      addresses: [],
      server,
      sentence: isOurs
        ? `${server} does not know “${asked}”.`
        : `${server} is ${isPrivate(server) ? 'not a recorded machine' : 'outside'} and knows none of the recorded names.`,
    }
  }
  return {
    outcome: 'no answer',
    name,
    addresses: [],
    server: servers.at(-1),
    sentence: `No name server answers ${from.name}: asked ${servers.join(', ')} at udp port 53.`,
  }
}

/**
 * Pings as a recorded machine would, by name or by address, and says what it would see.
 *
 * @param target a name or an address
 * @throws ReachError when the machine is not there
 * @example ping(estate, playout.id, '10.61.40.2').outcome // 'reply'
 */
export function ping(estate: Estate, fromId: string, target: string): PingAnswer {
  const literal = canonicalIp(target.trim())
  const found = literal ? undefined : lookUp(estate, fromId, target)
  const topology = topologyOf(estate)
  const from = topology.machines.get(fromId)
  if (!from) throw new ReachError('from', `From: nothing recorded is called ${fromId}.`)
  // A machine that has IPv4 only does not try the other.
  const usable = (ip: string) => from.interfaces.some((on) => on.addresses.some(({ family }) => (family === 6) === ip.includes(':')))
  const address = literal ?? found?.addresses.find(usable) ?? found?.addresses[0]
  if (!address)
    return {
      outcome: 'wrong name',
      target,
      address: undefined,
      hops: undefined,
      sentence: `${target}: name not known. ${found?.sentence ?? ''}`.trim(),
      lookUp: found,
      path: undefined,
    }
  const path = reach(estate, { from: fromId, to: address })
  const hops = path.back.filter(({ machine }) => machine.id !== fromId).length - 1
  const failure = path.failure
  const outcome = path.reaches ? 'reply' : failure ? seenAs(failure, fromId) : 'timeout'
  const said = {
    reply: `${address} answers, through ${hops > 0 ? `${hops} router${hops > 1 ? 's' : ''}` : 'no router'}.`,
    'no route': `${address}: network is unreachable.`,
    unreachable: `${address}: host unreachable, says ${failure?.at.name ?? 'a router'}.`,
    timeout: `${address}: no answer within the time.`,
    'wrong name': '',
  }[outcome]
  return { outcome, target, address, hops: path.reaches ? Math.max(0, hops) : undefined, sentence: said, lookUp: found, path }
}

/** What a failure looks like from where one pings. */
function seenAs(
  { code, direction, at }: NonNullable<ReachAnswer['failure']>,
  fromId: string,
): Exclude<PingAnswer['outcome'], 'reply' | 'wrong name'> {
  if (direction === 'back') return 'timeout'
  const isOwn = at.id === fromId
  if (
    isOwn &&
    (code === 'no-route' ||
      code === 'no-address' ||
      code === 'gateway-outside-prefix' ||
      code === 'not-connected' ||
      code === 'via-unreachable')
  )
    return 'no route'
  // A filter, and a machine that passes nothing on, say nothing; a router that finds nobody says so.
  if (
    code === 'filtered' ||
    code === 'does-not-forward' ||
    code === 'translated-target' ||
    code === 'not-from-outside' ||
    code === 'duplicate-address'
  )
    return 'timeout'
  return 'unreachable'
}
