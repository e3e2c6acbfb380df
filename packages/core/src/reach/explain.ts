import { rewire, SWAP_BACK, wrongWires } from '../addresses/index.js'
import type { Command } from '../commands/index.js'
import { contains } from '../networks/index.js'
import { SITE_GATEWAY, type Interface, type Machine, type AddressOnInterface, type Topology } from './topology.js'
import type { Hop, Failure, NextHop } from './walk.js'

/** What stops a packet, in words: the first place where it fails, and what would mend it. */
export interface Reason {
  readonly code: ReasonCode
  readonly sentence: string
  readonly mend: string
  /** Commands that would mend it, where that can be said. */
  readonly fix?: readonly Command[]
}

export type ReasonCode =
  | Exclude<Failure['code'], 'nobody-answers' | 'does-not-forward'>
  | 'nobody-has-it'
  | 'crossed-adapters'
  | 'wrong-network'
  | 'wrong-mask'
  | 'not-on-host'
  | 'macs-dropped'
  | 'no-uplink'
  | 'wireless-uplink'
  | 'vlan-not-carried'
  | 'translated-target'
  | 'private-translation'
  | 'host-only'
  | 'internal'
  | 'does-not-forward'

const networkName = (topology: Topology, id: string | undefined) => topology.estate.find('network', id)?.name ?? 'no network'

/** What to say of the place where a packet stops. */
export function explain(topology: Topology, stop: Failure): Reason {
  const { machine } = stop
  const { name } = machine
  switch (stop.code) {
    case 'powered-off':
      if (machine.standsBy)
        return {
          code: stop.code,
          sentence:
            machine.kind === 'host'
              ? `${name} ${machine.standsBy.why}.`
              : `${name} does not run: ${machine.standsBy.host} ${machine.standsBy.why}.`,
          mend:
            machine.kind === 'host'
              ? `Record ${name}, and what it runs in, as they are.`
              : `Record ${machine.standsBy.host}, and what it runs in, as they are, or move ${name} to a host on which it can run.`,
        }
      return {
        code: stop.code,
        sentence: `${name} is powered off.`,
        mend: `Power ${name} on.`,
        ...(machine.kind === 'guest' ? { fix: [{ type: 'guest.power', guestId: machine.id, state: 'running' }] } : {}),
      }
    case 'no-address':
      return {
        code: stop.code,
        sentence: `${name} has no address, and no DHCP range would give it one.`,
        mend: `Assign an address to an adapter of ${name}.`,
      }
    case 'loop':
      return {
        code: stop.code,
        sentence: `Routing loop: the packet keeps returning to ${name}.`,
        mend: 'Check the routes of the machines on the way.',
      }
    case 'not-from-outside':
      return {
        code: stop.code,
        sentence: 'The address is private (RFC 1918, RFC 4193): the internet does not route to it.',
        mend: 'Give the machine a public address, or forward a port to it from a machine that has one.',
      }
    case 'no-site-route':
      return {
        code: stop.code,
        sentence: `${capital(name)} has no route there: none of its adapters is on that prefix, and no route leads to it.`,
        mend: `Add a route on ${name} to the prefix, via a router that is on it.`,
      }
    case 'not-carried-outside':
      return {
        code: stop.code,
        sentence: 'The address is unique local (RFC 4193) and has no NAT: replies could not be routed back.',
        mend: 'Give the machine an address that is routed outside.',
      }
    case 'not-plugged':
      return ofEnd(topology, stop.on)
    case 'not-connected':
      return {
        code: stop.code,
        sentence: `${capital(stop.on.label)} of ${name} is not connected at power-on.`,
        mend: `Connect it, now and at power-on.`,
        ...connect(stop.on),
      }
    case 'no-route':
      return {
        code: stop.code,
        sentence: `${name} has no gateway and no route for it (${stop.family === 4 ? 'IPv4' : 'IPv6'}).`,
        mend: `Give the subnet of ${name} a gateway, or ${name} a route.`,
      }
    case 'gateway-outside-prefix': {
      const { at } = stop
      return {
        code: stop.code,
        sentence: `The gateway ${at.gateway ?? ''} of ${name} is outside ${at.near.text}, its own subnet: it cannot reach it.`,
        mend:
          at.near.bits === at.plannedBits
            ? `Set the gateway of the subnet to an address in ${at.near.text}.`
            : `Set the length /${at.plannedBits} on ${name}, or a gateway in ${at.near.text}.`,
        ...resetOverrides(topology, stop.on, at.ip),
      }
    }
    case 'via-unreachable':
      return {
        code: stop.code,
        sentence: `${name} has a route via ${stop.via}, but no interface directly connected to ${stop.via}.`,
        mend: 'Correct the route: the next router is on a segment the machine is on.',
      }
    case 'duplicate-address': {
      const names = stop.holders.map(({ on }) => `${on.machine.name} (${on.label})`)
      return {
        code: stop.code,
        sentence: `${stop.way.next} is used twice on ${networkName(topology, stop.way.on.networkId)}: by ${names.join(' and ')}. Either may answer.`,
        mend: `Give one of them another address.`,
      }
    }
    case 'does-not-forward':
      return stop.by.translates
        ? {
            code: 'translated-target',
            sentence: `${networkName(topology, stop.by.networkId)} is behind NAT on ${name}: no new connection comes in from elsewhere.`,
            mend: `Forward a port of ${name} to the guest, or attach the guest to a bridged network.`,
          }
        : {
            code: stop.code,
            sentence: `${name} gets a packet for another machine and does not forward packets.`,
            mend: `Record ${name} as forwarding packets, if it is a router; otherwise correct the gateway or route that leads to it.`,
            ...(machine.kind === 'guest' ? { fix: [{ type: 'guest.update', id: machine.id, changes: { isRouter: true } }] } : {}),
            ...(machine.kind === 'host' ? { fix: [{ type: 'host.update', id: machine.id, changes: { isRouter: true } }] } : {}),
          }
    case 'filtered': {
      const { filter } = stop
      return {
        code: stop.code,
        sentence: `Line ${filter.position} of the filter on ${name} denies it${filter.note ? ` (${filter.note})` : ''}.`,
        mend: `If it is meant to pass, put a line that allows it before line ${filter.position}.`,
      }
    }
    case 'translated-back':
      return {
        code: stop.code,
        sentence: `The answer goes back another way than it came, past ${stop.through.name}, which does NAT: it comes from an address that was not asked.`,
        mend: `Route the reply back through ${stop.through.name}, by a gateway or a route.`,
      }
    case 'nobody-answers':
      return noAnswer(topology, machine, stop.way)
  }
}

/** What to say of a machine that needs a route to a prefix by way of a router beside it. */
export function routeMissing(
  topology: Topology,
  machine: Machine,
  prefix: string,
  { router, via }: { readonly router: Machine; readonly via: string },
): Pick<Reason, 'sentence' | 'mend' | 'fix'> {
  const on =
    machine.kind === 'guest'
      ? { guestId: machine.id }
      : machine.kind === 'host'
        ? { hostId: machine.id }
        : machine.id === SITE_GATEWAY
          ? {}
          : undefined
  return {
    sentence: `${machine.kind === 'site gateway' ? capital(machine.name) : machine.name} has no route to ${prefix}, to which ${router.name} beside it forwards.`,
    mend: `Add a route on ${machine.name}: ${prefix} via ${via}, which is ${router.name}.`,
    ...(on ? { fix: [{ type: 'route.add', record: { ...on, prefix, via } }] } : {}),
  }
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/** The reason that an interface's segment ends, or is not there. */
function ofEnd(topology: Topology, on: Interface): Reason {
  const end = on.ends
  if (!end) return { code: 'not-plugged', sentence: `${on.label} of ${on.machine.name} has no target.`, mend: 'Plug it into a network.' }
  const code =
    end.code === 'unplugged'
      ? 'not-plugged'
      : end.code === 'translated'
        ? on.isPrivate
          ? 'private-translation'
          : 'translated-target'
        : end.code
  const hostId = topology.estate.find('guest', on.machine.id)?.hostId
  const fix: readonly Command[] | undefined =
    end.code === 'not-on-host' && hostId && on.networkId
      ? [{ type: 'attachment.add', record: { hostId, networkId: on.networkId, kind: 'bridged' } }]
      : undefined
  return { code, sentence: end.sentence, mend: end.mend, ...(fix ? { fix } : {}) }
}

/** Nobody on the segment answers for an address: who should, and why not. */
function noAnswer(topology: Topology, machine: Machine, { on, at, next, isNear }: NextHop): Reason {
  const elsewhere = topology.anywhere(next).filter((spot) => spot.on.machine !== machine)
  const here = elsewhere.find((spot) => spot.on.segment === on.segment)
  const what = isNear ? next : `The gateway ${next}`
  const network = networkName(topology, on.networkId)
  if (here && !here.on.machine.isUp) return explain(topology, { code: 'powered-off', machine: here.on.machine })
  if (here && !here.on.isConnected) return explain(topology, { code: 'not-connected', machine: here.on.machine, on: here.on })
  if (here && on.isPrivate)
    return {
      code: 'private-translation',
      sentence: `${network} is behind NAT, separately for each guest, here: ${machine.name} and ${here.on.machine.name} do not see each other.`,
      mend: 'Attach both to a bridged or host-only network, or forward a port of the host.',
    }
  // The sender's own plug first: an address of another network says that the adapter is in the wrong one.
  if (at.homeId && on.networkId && at.homeId !== on.networkId) return wrongNetwork(topology, { on, at })
  const [other] = elsewhere
  if (!other)
    return {
      code: 'nobody-has-it',
      sentence: `No recorded machine on ${network} has ${what}.`,
      mend: isNear
        ? 'Assign the address, or ask for another.'
        : `Assign ${next} to a router on ${network}, or correct the gateway of the subnet.`,
    }
  if (other.at.homeId && other.on.networkId && other.at.homeId !== other.on.networkId && other.at.homeId === on.networkId)
    return wrongNetwork(topology, other)
  if (other.on.networkId === on.networkId) {
    const ends = [other.on, on].find(({ ends: end }) => end !== undefined)
    if (ends) return ofEnd(topology, ends)
  }
  if (isNear && at.near.bits !== at.plannedBits)
    return {
      code: 'wrong-mask',
      sentence: `${machine.name} has the length /${at.near.bits} where /${at.plannedBits} is planned, treats ${next} as local and looks for it on ${network}; it is on ${networkName(topology, other.on.networkId)}.`,
      mend: `Set the length /${at.plannedBits} on ${machine.name}.`,
      ...resetOverrides(topology, on, at.ip),
    }
  if (isNear && contains(at.near, next))
    return {
      code: 'wrong-mask',
      sentence: `${machine.name} treats ${next} as local, since ${at.near.text} contains it; it is on ${networkName(topology, other.on.networkId)}.`,
      mend: 'Two segments share a prefix: give one of them another, or correct their lengths.',
    }
  return {
    code: 'nobody-has-it',
    sentence: `${what} is not on ${network}: ${other.on.machine.name} has it on ${networkName(topology, other.on.networkId)}.`,
    mend: isNear ? 'Correct the address or the network.' : 'Correct the gateway of the subnet.',
  }
}

/** An interface whose address belongs to another network; on a router with two such, they are crossed. */
function wrongNetwork(topology: Topology, { on, at }: AddressOnInterface): Reason {
  const { machine } = on
  const home = networkName(topology, at.homeId)
  const plugged = networkName(topology, on.networkId)
  const wires = wrongWires(topology.estate, machine)
  const twin = wires.find(({ adapter, homeId }) => adapter.id !== on.id && adapter.networkId === at.homeId && homeId === on.networkId)
  const fix = rewire(wires)
  return twin
    ? {
        code: 'crossed-adapters',
        sentence: `${on.label} and adapter ${twin.adapter.position} of ${machine.name} are swapped: ${at.ip} belongs to ${home} and is plugged into ${plugged}.`,
        mend: SWAP_BACK,
        fix,
      }
    : {
        code: 'wrong-network',
        sentence: `${on.label} of ${machine.name} has ${at.ip}, which belongs to ${home}, and is plugged into ${plugged}.`,
        mend: `Plug it into ${home}, or give it an address of ${plugged}.`,
        ...(fix.length > 0 ? { fix } : {}),
      }
}

const connect = (on: Interface): { fix?: readonly Command[] } =>
  on.machine.kind === 'guest' ? { fix: [{ type: 'adapter.update', id: on.id, changes: { isConnected: true } }] } : {}

/** The planned length and gateway again, where the machine's own differ. */
function resetOverrides(topology: Topology, on: Interface, ip: string): { fix?: readonly Command[] } {
  const address = topology.estate
    .byKey('address', { ip })
    .find((one) => (one.adapterId === on.id || one.hostId === on.machine.id) && (one.length !== null || one.gateway !== null))
  return address ? { fix: [{ type: 'address.update', id: address.id, changes: { length: null, gateway: null } }] } : {}
}

/** One machine on the way, and what it does. */
export interface SaidHop {
  readonly machine: { readonly kind: Machine['kind']; readonly id: string; readonly name: string }
  /** The network it sends on, where it does. */
  readonly network: string | undefined
  readonly sentence: string
}

/** A hop in words. */
export function sayHop(topology: Topology, hop: Hop): SaidHop {
  const { machine } = hop
  const way = 'way' in hop ? hop.way : undefined
  const network = way && networkName(topology, way.on.networkId)
  const said = (sentence: string): SaidHop => ({ machine: { kind: machine.kind, id: machine.id, name: machine.name }, network, sentence })
  switch (hop.step) {
    case 'sends':
    case 'forwards':
      return said(
        hop.way.isNear
          ? `${hop.step} it to ${hop.way.next}, directly connected: in ${hop.way.at.near.text} on ${network ?? ''}`
          : `${hop.step} it to ${hop.way.next} on ${network ?? ''}, ${isGateway(hop.way) ? 'its gateway' : 'by its route'}: ${hop.way.dst} is not in this subnet`,
      )
    case 'translates':
      return said(`translates: sends it on as ${hop.as} on ${network ?? ''}`)
    case 'translates back':
      return said(`knows the connection and translates back to ${hop.to}`)
    case 'forwards port':
      return said(`forwards its port ${hop.port} to ${hop.to}, port ${hop.toPort}`)
    case 'leaves':
      return said(hop.isTranslated ? 'sends it outside, with its own public address' : 'sends it outside')
    case 'enters':
      return said(`sends it to ${SITE_GATEWAY}`)
    case 'has it':
      return said(`has ${hop.ip}: delivered`)
  }
}

const isGateway = ({ at, next }: NextHop) => at.gateway === next
