import type { Attachment, Estate, Host, Network, Port, Switch } from '../estate/index.js'
import { carriesVlan } from '../networks/index.js'
import type { SegmentEnd } from './topology.js'

/** How a host's uplinks carry a network: all the way, or why not. A host whose wiring is not recorded is taken to carry it. */
export function uplinkEnd(estate: Estate, attachment: Attachment, network: Network): SegmentEnd | undefined {
  const own = estate.find('switch', attachment.switchId)
  const host = estate.find('host', attachment.hostId)?.name ?? 'the host'
  const all = own ? [] : estate.referring('port', 'hostId', attachment.hostId)
  if (!own)
    return all.length > 0 && all.every(({ medium }) => medium === 'wireless')
      ? wirelessEnd(network, `${host} has only Wi-Fi ports`, host)
      : undefined
  const ports = estate.referring('port', 'switchId', own.id)
  if (ports.length === 0)
    return {
      code: 'no-uplink',
      sentence: `Switch ${own.name} of ${host} has no uplink, so ${network.name} stays inside ${host}.`,
      mend: `Make a port of ${host} an uplink of ${own.name}.`,
    }
  const wired = ports.filter(({ medium }) => medium !== 'wireless')
  if (wired.length === 0) return wirelessEnd(network, `The uplink of ${own.name} on ${host} is Wi-Fi`, host)
  const cabled = wired.filter(({ cable }) => cable === 'present')
  if (cabled.length === 0)
    return {
      code: 'no-uplink',
      sentence: `No uplink of ${own.name} on ${host} has a cable, so ${network.name} stays inside ${host}.`,
      mend: `Plug a cable into ${wired.map(({ name }) => name).join(' or ')}, and record it.`,
    }
  const near = vlanProblem(network, own, `switch ${own.name} of ${host}`)
  if (near) return near
  const problems = cabled.map((port) => farProblem(network, port, host))
  return problems.every((problem) => problem !== undefined) ? problems[0] : undefined
}

/** Why what a nested host bridges does not leave it: frames with its guests’ MACs are dropped where its own adapter is plugged in. */
export function macsDropped(estate: Estate, network: Network, host: Host): SegmentEnd {
  const outer = estate.find('guest', host.outerGuestId)
  const outside = estate.find('host', outer?.hostId)?.name ?? 'the outer host'
  return {
    code: 'macs-dropped',
    sentence: `${outside} drops frames on ${network.name} that ${outer?.name ?? host.name} sends with MACs other than its own, so what ${host.name} bridges does not leave it.`,
    mend: `Let foreign MACs through where ${network.name} is attached to ${outside}, and record it; or translate ${network.name} on ${host.name}.`,
  }
}

const wirelessEnd = (network: Network, what: string, host: string): SegmentEnd => ({
  code: 'wireless-uplink',
  sentence: `${what}: a Wi-Fi station cannot send frames for other addresses (IEEE 802.11), so ${network.name} cannot be bridged.`,
  mend: `Use a wired port, or translate ${network.name} on ${host}, or route it there.`,
})

function vlanProblem(network: Network, carrier: Pick<Switch, 'taggedVlans' | 'nativeVlan'>, what: string): SegmentEnd | undefined {
  const id = network.vlanId
  if (id === null || carriesVlan(carrier.taggedVlans, id) || carrier.nativeVlan === id) return undefined
  return {
    code: 'vlan-not-carried',
    sentence: `VLAN ${id} of ${network.name} is not allowed on ${what}.`,
    mend: `Add VLAN ${id} to ${what}, tagged.`,
  }
}

function farProblem(network: Network, port: Port, host: string): SegmentEnd | undefined {
  if (port.farVlans === null && port.farNative === null) return undefined
  const problem = vlanProblem(
    network,
    { taggedVlans: port.farVlans, nativeVlan: port.farNative },
    `the far end of ${port.name} of ${host}${port.farEnd ? ` (${port.farEnd})` : ''}`,
  )
  return problem && { ...problem, isFar: true }
}

const carried = (network: Network, host: string) =>
  `If others are to reach it, use a router with an adapter on ${network.name} and a filter. Attached bridged on ${host}, it is open to everybody on the LAN.`

export function endOf(attachment: Attachment, network: Network, host: string, isPrivateSegment: boolean): SegmentEnd {
  switch (attachment.kind) {
    case 'host-only':
      return {
        code: 'host-only',
        sentence: `${network.name} is host-only on ${host}: it reaches ${host} and its guests there, and goes no further.`,
        mend: carried(network, host),
      }
    case 'internal':
      return {
        code: 'internal',
        sentence: `${network.name} is internal on ${host}: only guests of ${host} are on it.`,
        mend: carried(network, host),
      }
    default:
      return {
        code: 'translated',
        sentence: isPrivateSegment
          ? `${network.name} is behind NAT on ${host}, separately for each guest: a guest there is isolated from all others.`
          : `${network.name} is behind NAT on ${host}: its guests reach out through ${host}, and no connection comes in.`,
        mend: `Forward a port of ${host}, or attach the guest to a bridged network.`,
      }
  }
}
