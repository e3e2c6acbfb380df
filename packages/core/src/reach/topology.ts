import type { Address, Attachment, Estate, Filter, Forward, Host, Network, Platform, Port, Route, Subnet, Switch } from '../estate/index.js'
import {
  carriesVlan,
  contains,
  type Family,
  familyOf,
  inPool,
  isLinkLocal,
  ipFromNumber,
  ipToNumber,
  type Prefix,
  prefixAround,
  prefixOf,
} from '../networks/index.js'

/** The two machines of the model that no record stands for. */
export const SITE_GATEWAY = 'site gateway'
export const OUTSIDE = 'outside'
/** An address beyond the estate, for questions to and from outside: RFC 5737 and RFC 3849, set aside for examples. */
export const OUTSIDE_IP: Readonly<Record<Family, string>> = { 4: '203.0.113.250', 6: '2001:db8:ffff::250' }

/** An address as it is set on an interface, with what that machine takes for near and for its way out. */
export interface Configured {
  readonly ip: string
  readonly number: bigint
  readonly family: Family
  /** What the machine takes for its own segment: its address with the length set on it. */
  readonly near: Prefix
  readonly gateway: string | undefined
  /** The network that the address is planned for. */
  readonly homeId: string | undefined
  /** The length the plan gives its subnet. */
  readonly plannedBits: number
  readonly nameServers: readonly string[]
}

/** Where a machine meets a segment. */
export interface Interface {
  readonly id: string
  readonly machine: Machine
  readonly label: string
  readonly networkId: string | undefined
  /** The layer-2 segment it is on; undefined: it leads nowhere. */
  readonly segment: string | undefined
  /** Why its segment does not go on, or why there is none. */
  readonly ends: SegmentEnd | undefined
  readonly isConnected: boolean
  /** Behind a translation that is private to each guest: it sees its host and nobody else. */
  readonly isPrivate: boolean
  /** For a leg of a host: it translates what comes in here and goes out elsewhere. */
  readonly translates: boolean
  readonly addresses: readonly Configured[]
}

/** Why a segment stops at a host, or is not there. */
export interface SegmentEnd {
  readonly code:
    'not-on-host' | 'no-uplink' | 'wireless-uplink' | 'vlan-not-carried' | 'translated' | 'host-only' | 'internal' | 'unplugged'
  readonly sentence: string
  readonly mend: string
  /** It ends beyond the host's cable, at a switch that is another's to mend. */
  readonly isFar?: boolean
}

/** A machine of the model: a guest, a host, a device that only has an address, the site's gateway, or everything outside. */
export interface Machine {
  readonly id: string
  readonly kind: 'guest' | 'host' | 'device' | 'site gateway' | 'outside'
  readonly name: string
  readonly isUp: boolean
  readonly isRouter: boolean
  readonly interfaces: Interface[]
  readonly routes: readonly Route[]
  readonly filters: readonly Filter[]
  readonly forwards: readonly Forward[]
}

/** An interface together with one of its addresses. */
export interface Spot {
  readonly on: Interface
  readonly at: Configured
}

/** Everything the tracer needs to know of an estate, worked out once. */
export interface Topology {
  readonly estate: Estate
  readonly machines: ReadonlyMap<string, Machine>
  /** Who has an address on a segment, connected and powered on. */
  readonly near: (segment: string, ip: string) => readonly Spot[]
  /** Whoever has an address, wherever. */
  readonly anywhere: (ip: string) => readonly Spot[]
  /** Addresses that are somebody's gateway or next hop. */
  readonly gateways: ReadonlySet<string>
  /** The interfaces plugged into a network. */
  readonly interfacesOn: (networkId: string) => readonly Interface[]
  /** The segments that a network has: the wire, and each host that keeps it to itself. */
  readonly segmentsOf: (
    networkId: string,
  ) => readonly { readonly segment: string; readonly ends: SegmentEnd | undefined; readonly isPrivate: boolean }[]
}

/** What a topology is made of. */
export const TOPOLOGY_KINDS = [
  'platform',
  'host',
  'guest',
  'adapter',
  'address',
  'network',
  'subnet',
  'pool',
  'lease',
  'attachment',
  'switch',
  'port',
  'route',
  'filter',
  'forward',
  'estate',
] as const

/** The topology of an estate, built at the first question. */
export const topologyOf = (estate: Estate): Topology => estate.derive(TOPOLOGY_KINDS, buildTopology)

/** How a host's uplinks carry a network: all the way, or why not. A host whose wiring is not recorded is taken to carry it. */
export function uplinkEnd(estate: Estate, attachment: Attachment, network: Network): SegmentEnd | undefined {
  const own = estate.find('switch', attachment.switchId)
  const host = estate.find('host', attachment.hostId)?.name ?? 'the host'
  const all = own ? [] : estate.referring('port', 'hostId', attachment.hostId)
  if (!own)
    return all.length > 0 && all.every(({ medium }) => medium === 'wireless')
      ? wirelessEnd(network, `${host} has Wi-Fi ports alone`, host)
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

const wirelessEnd = (network: Network, what: string, host: string): SegmentEnd => ({
  code: 'wireless-uplink',
  sentence: `${what}: a station’s frames carry no foreign addresses (IEEE 802.11), so ${network.name} cannot be bridged.`,
  mend: `Use a wired port, or translate ${network.name} on ${host}, or route it there.`,
})

function vlanProblem(network: Network, carrier: Pick<Switch, 'taggedVlans' | 'nativeVlan'>, what: string): SegmentEnd | undefined {
  const id = network.vlanId
  if (id === null || carriesVlan(carrier.taggedVlans, id) || carrier.nativeVlan === id) return undefined
  return {
    code: 'vlan-not-carried',
    sentence: `VLAN ${id} of ${network.name} is not carried by ${what}.`,
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

/** A segment as one attachment of a network gives it to a host and its guests. */
interface Place {
  readonly segment: string | undefined
  readonly ends: SegmentEnd | undefined
  readonly isPrivate: boolean
  readonly attachment: Attachment | undefined
}

const nowhere = (ends: SegmentEnd): Place => ({ segment: undefined, ends, isPrivate: false, attachment: undefined })

class Builder {
  readonly #estate: Estate
  readonly #machines = new Map<string, Machine>()
  readonly #places = new Map<string, Place>()
  readonly #leased = new Map<string, () => string | undefined>()

  constructor(estate: Estate) {
    this.#estate = estate
  }

  build(): Topology {
    const estate = this.#estate
    const siteRoutes = estate.all('route').filter(({ guestId, hostId }) => !guestId && !hostId)
    const siteFilters = estate.all('filter').filter(({ guestId, hostId }) => !guestId && !hostId)
    const gateway = this.#machine(SITE_GATEWAY, 'site gateway', 'the site gateway', true, true, siteRoutes, siteFilters)
    this.#machine(OUTSIDE, 'outside', 'outside', true, false)
    for (const host of estate.all('host')) this.#addHost(host)
    for (const guest of estate.all('guest')) {
      const machine = this.#machine(
        guest.id,
        'guest',
        guest.name,
        guest.state === 'running' && guest.kind !== 'template',
        guest.isRouter,
        estate.referring('route', 'guestId', guest.id),
        estate.referring('filter', 'guestId', guest.id),
      )
      const adapters = estate.referring('adapter', 'guestId', guest.id)
      for (const adapter of adapters.length > 1 ? [...adapters].sort((a, b) => a.position - b.position) : adapters) {
        const place = adapter.networkId
          ? this.#placeOf(adapter.networkId, guest.hostId)
          : nowhere({
              code: 'unplugged',
              sentence: `Adapter ${adapter.position} of ${guest.name} is plugged into no network.`,
              mend: 'Plug it into a network.',
            })
        const recorded = estate.referring('address', 'adapterId', adapter.id)
        machine.interfaces.push({
          id: adapter.id,
          machine,
          label: `adapter ${adapter.position}`,
          networkId: adapter.networkId ?? undefined,
          segment: place.segment,
          ends: place.ends,
          isConnected: adapter.isConnected,
          isPrivate: place.isPrivate,
          translates: false,
          addresses:
            recorded.length > 0 ? recorded.map((address) => this.#configured(address)) : this.#leaseFor(adapter.networkId, adapter.mac),
        })
      }
    }
    this.#addDevices()
    this.#addSiteLegs(gateway)
    return this.#finish()
  }

  #machine(
    id: string,
    kind: Machine['kind'],
    name: string,
    isUp: boolean,
    isRouter: boolean,
    routes: readonly Route[] = [],
    filters: readonly Filter[] = [],
    forwards: readonly Forward[] = [],
  ): Machine {
    const machine: Machine = {
      id,
      kind,
      name,
      isUp,
      isRouter,
      interfaces: [],
      routes,
      filters: filters.length > 1 ? [...filters].sort((a, b) => a.position - b.position || (a.id < b.id ? -1 : 1)) : filters,
      forwards,
    }
    this.#machines.set(id, machine)
    return machine
  }

  #addHost(host: Host): void {
    const estate = this.#estate
    const machine = this.#machine(
      host.id,
      'host',
      host.name,
      this.#isHostUp(host),
      host.isRouter,
      estate.referring('route', 'hostId', host.id),
      estate.referring('filter', 'hostId', host.id),
      estate.referring('forward', 'hostId', host.id),
    )
    const addresses = estate.referring('address', 'hostId', host.id)
    const attachments = estate.referring('attachment', 'hostId', host.id)
    const homes = new Set(addresses.flatMap(({ subnetId }) => estate.find('subnet', subnetId)?.networkId ?? []))
    for (const attachment of attachments) homes.add(attachment.networkId)
    const isManagement = (networkId: string) => estate.find('network', networkId)?.role === 'management'
    for (const networkId of [...homes].sort((a, b) => Number(isManagement(b)) - Number(isManagement(a)) || (a < b ? -1 : 1))) {
      const network = estate.find('network', networkId)
      if (!network) continue
      const place = this.#placeOf(networkId, host.id)
      const kind = place.attachment?.kind
      const own = addresses
        .filter(({ subnetId }) => estate.find('subnet', subnetId)?.networkId === networkId)
        .map((a) => this.#configured(a))
      const translates = kind === 'translated'
      // The gateway of a translated or host-only network is the host itself, unless a guest of the plan has the address.
      const implied =
        own.length === 0 && (translates || kind === 'host-only')
          ? estate
              .referring('subnet', 'networkId', networkId)
              .flatMap((subnet) =>
                subnet.gateway && !this.#holdersOf(subnet.gateway, networkId).some(({ adapterId }) => adapterId)
                  ? [gatewayLeg(estate, subnet, subnet.gateway)]
                  : [],
              )
          : []
      const configured = [...own, ...implied]
      if (configured.length === 0 || kind === 'internal') continue
      machine.interfaces.push({
        id: `${host.id}/${networkId}`,
        machine,
        label: `leg on ${network.name}`,
        networkId,
        segment: place.segment,
        ends: place.ends,
        isConnected: true,
        isPrivate: place.isPrivate,
        translates,
        addresses: configured,
      })
    }
  }

  /** A nested host is up when it is in service and the guest it is runs. */
  #isHostUp(host: Host): boolean {
    if (host.state !== 'in service') return false
    return host.kind === 'physical' || this.#estate.find('guest', host.outerGuestId)?.state === 'running'
  }

  /** Where a network is for a machine on a host; for one on no host, on the wire itself. */
  #placeOf(networkId: string, hostId: string | null | undefined): Place {
    const key = `${networkId}@${hostId ?? ''}`
    const known = this.#places.get(key)
    if (known) return known
    const network = this.#estate.find('network', networkId)
    const place = network
      ? hostId
        ? this.#placeOnHost(network, hostId)
        : { segment: wire(networkId), ends: undefined, isPrivate: false, attachment: undefined }
      : nowhere({ code: 'unplugged', sentence: 'The network was removed.', mend: 'Plug the adapter into a network.' })
    this.#places.set(key, place)
    return place
  }

  #placeOnHost(network: Network, hostId: string): Place {
    const estate = this.#estate
    const host = estate.find('host', hostId)
    const hostName = host?.name ?? 'the host'
    const attachment = estate.referring('attachment', 'hostId', hostId).find((one) => one.networkId === network.id)
    if (!attachment)
      return nowhere({
        code: 'not-on-host',
        sentence: `${hostName} does not carry ${network.name}.`,
        mend: `Carry ${network.name} to ${hostName}, or plug the adapter into another network.`,
      })
    const inside = `${network.id}@${hostId}`
    if (attachment.kind === 'bridged') {
      if (host?.kind === 'nested') return this.#placeInside(network, host, attachment, inside)
      const ends = uplinkEnd(estate, attachment, network)
      return { segment: ends ? inside : wire(network.id), ends, isPrivate: false, attachment }
    }
    const platform: Platform | undefined = estate.find('platform', host?.platformId)
    const isPrivateSegment = attachment.kind === 'translated' && platform?.translation === 'private segment'
    return { segment: inside, ends: endOf(attachment, network, hostName, isPrivateSegment), isPrivate: isPrivateSegment, attachment }
  }

  /** What a nested host bridges leaves it by an adapter of the guest it is. */
  #placeInside(network: Network, host: Host, attachment: Attachment, inside: string): Place {
    const outer = this.#estate.find('guest', host.outerGuestId)
    const uplink = outer && this.#estate.referring('adapter', 'guestId', outer.id).find(({ networkId }) => networkId === network.id)
    if (!outer || !uplink)
      return {
        segment: inside,
        ends: {
          code: 'no-uplink',
          sentence: `${outer?.name ?? 'The guest'}, which is the nested host ${host.name}, has no adapter on ${network.name}.`,
          mend: `Give ${outer?.name ?? 'it'} an adapter on ${network.name}.`,
        },
        isPrivate: false,
        attachment,
      }
    return { ...this.#placeOf(network.id, outer.hostId), attachment }
  }

  /** Reserved addresses with a name or a MAC and no guest: printers, phones and the like, on the wire. */
  #addDevices(): void {
    for (const address of this.#estate.all('address')) {
      if (address.adapterId || address.hostId || (!address.name && !address.mac)) continue
      const subnet = this.#estate.find('subnet', address.subnetId)
      if (!subnet || subnet.gateway === address.ip) continue
      const machine = this.#machine(address.id, 'device', address.name ?? address.ip, true, false)
      machine.interfaces.push({
        id: address.id,
        machine,
        label: 'its port',
        networkId: subnet.networkId,
        segment: wire(subnet.networkId),
        ends: undefined,
        isConnected: true,
        isPrivate: false,
        translates: false,
        addresses: [this.#configured(address)],
      })
    }
  }

  /** The site's gateway has a leg wherever a subnet names a gateway that is no machine of the plan and the segment has a wire. */
  #addSiteLegs(gateway: Machine): void {
    const estate = this.#estate
    for (const network of estate.all('network')) {
      const attachments = estate.referring('attachment', 'networkId', network.id)
      if (attachments.length > 0 && !attachments.some(({ kind }) => kind === 'bridged')) continue
      const addresses = estate.referring('subnet', 'networkId', network.id).flatMap((subnet) => {
        if (!subnet.gateway) return []
        const isOurs = this.#holdersOf(subnet.gateway, network.id).some(({ adapterId, hostId }) => adapterId ?? hostId)
        return isOurs ? [] : [gatewayLeg(estate, subnet, subnet.gateway)]
      })
      if (addresses.length === 0) continue
      gateway.interfaces.push({
        id: `${SITE_GATEWAY}/${network.id}`,
        machine: gateway,
        label: `leg on ${network.name}`,
        networkId: network.id,
        segment: wire(network.id),
        ends: undefined,
        isConnected: true,
        isPrivate: false,
        translates: false,
        addresses,
      })
    }
  }

  /** Who has a network's gateway in the plan. A link-local one is told apart by its network: it may be another's elsewhere. */
  #holdersOf(gateway: string, networkId: string): readonly Address[] {
    const holders = this.#estate.byKey('address', { ip: gateway })
    return isLinkLocal(gateway) ? holders.filter(({ subnetId }) => this.#estate.find('subnet', subnetId)?.networkId === networkId) : holders
  }

  #configured(address: Address): Configured {
    const subnet = this.#estate.find('subnet', address.subnetId)
    const planned = subnet ? prefixOf(subnet) : prefixAround(address.ip, familyOf(address.ip) === 4 ? 32 : 128)
    return configure(
      this.#estate,
      subnet?.networkId,
      planned,
      address.ip,
      address.gateway ?? subnet?.gateway ?? undefined,
      address.length,
      subnet?.nameServers ?? null,
    )
  }

  /** The address an adapter without a recorded one gets from a pool: the one seen with its MAC, or one nobody has. */
  #leaseFor(networkId: string | null, mac: string | null): readonly Configured[] {
    if (!networkId) return []
    const estate = this.#estate
    const subnet = estate.referring('subnet', 'networkId', networkId).find((one) => estate.referring('pool', 'subnetId', one.id).length > 0)
    if (!subnet) return []
    const seen = estate.referring('lease', 'subnetId', subnet.id).find((lease) => lease.mac === mac)
    let next = this.#leased.get(subnet.id)
    if (!next) {
      next = leaser(estate, subnet.id)
      this.#leased.set(subnet.id, next)
    }
    const ip = seen?.ip ?? next()
    return ip ? [configure(estate, networkId, prefixOf(subnet), ip, subnet.gateway ?? undefined, null, subnet.nameServers)] : []
  }

  #finish(): Topology {
    const bySegment = new Map<string, Map<string, Spot[]>>()
    const byIp = new Map<string, Spot[]>()
    const gateways = new Set<string>(this.#estate.all('route').map(({ via }) => via))
    const byNetwork = new Map<string, Interface[]>()
    for (const machine of this.#machines.values())
      for (const on of machine.interfaces) {
        if (on.networkId) push(byNetwork, on.networkId, on)
        for (const at of on.addresses) {
          const spot = { on, at }
          if (at.gateway) gateways.add(at.gateway)
          push(byIp, at.ip, spot)
          if (!on.segment || !on.isConnected || !machine.isUp) continue
          let segment = bySegment.get(on.segment)
          if (!segment) {
            segment = new Map<string, Spot[]>()
            bySegment.set(on.segment, segment)
          }
          push(segment, at.ip, spot)
        }
      }
    return {
      estate: this.#estate,
      machines: this.#machines,
      near: (segment, ip) => bySegment.get(segment)?.get(ip) ?? [],
      anywhere: (ip) => byIp.get(ip) ?? [],
      gateways,
      interfacesOn: (networkId) => byNetwork.get(networkId) ?? [],
      segmentsOf: (networkId) => this.#segmentsOf(networkId),
    }
  }

  #segmentsOf(networkId: string): ReturnType<Topology['segmentsOf']> {
    const attachments = this.#estate.referring('attachment', 'networkId', networkId)
    if (attachments.length === 0) return [{ segment: wire(networkId), ends: undefined, isPrivate: false }]
    const found = new Map<string, ReturnType<Topology['segmentsOf']>[number]>()
    for (const { hostId } of attachments) {
      const { segment, ends, isPrivate } = this.#placeOf(networkId, hostId)
      if (segment && !found.has(segment)) found.set(segment, { segment, ends, isPrivate })
    }
    return [...found.values()]
  }
}

/** A subnet's gateway as its router has it: by a link-local address it is on the subnet's prefix all the same. */
function gatewayLeg(estate: Estate, subnet: Subnet, gateway: string): Configured {
  const leg = configure(estate, subnet.networkId, prefixOf(subnet), gateway, undefined, null)
  return isLinkLocal(gateway) ? { ...leg, near: prefixOf(subnet) } : leg
}

const buildTopology = (estate: Estate): Topology => new Builder(estate).build()

const wire = (networkId: string) => `wire of ${networkId}`

function configure(
  estate: Estate,
  homeId: string | undefined,
  planned: Prefix,
  ip: string,
  gateway: string | undefined,
  length: number | null,
  nameServers: string | null = null,
): Configured {
  const near = length === null && contains(planned, ip) ? planned : prefixAround(ip, length ?? planned.bits)
  return {
    ip,
    number: ipToNumber(ip),
    family: planned.family,
    near,
    gateway: gateway === ip ? undefined : gateway,
    homeId,
    plannedBits: planned.bits,
    nameServers: nameServers?.split(' ') ?? [],
  }
}

/** Gives the addresses of a subnet's pools one after the other, leaving out those somebody has. */
function leaser(estate: Estate, subnetId: string): () => string | undefined {
  const taken = new Set([
    ...estate.referring('address', 'subnetId', subnetId).map(({ ip }) => ip),
    ...estate.referring('lease', 'subnetId', subnetId).map(({ ip }) => ip),
    estate.find('subnet', subnetId)?.gateway,
  ])
  const pools = [...estate.referring('pool', 'subnetId', subnetId)].sort((a, b) => (ipToNumber(a.first) < ipToNumber(b.first) ? -1 : 1))
  let [index, at] = [0, pools[0] ? ipToNumber(pools[0].first) : 0n]
  return () => {
    for (let pool = pools[index]; pool; pool = pools[++index], at = pool ? ipToNumber(pool.first) : 0n)
      while (inPool(pool, ipFromNumber(familyOf(pool.first), at))) {
        const ip = ipFromNumber(familyOf(pool.first), at++)
        if (!taken.has(ip)) return ip
      }
    return undefined
  }
}

const carried = (network: Network, host: string) =>
  `If others are to reach it, let a router with a leg on ${network.name} carry what it allows. Attached bridged on ${host}, it is open to everybody on the wire.`

function endOf(attachment: Attachment, network: Network, host: string, isPrivateSegment: boolean): SegmentEnd {
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
          ? `${network.name} is translated on ${host}, privately for each guest: a guest there sees nobody and is seen by nobody.`
          : `${network.name} is translated on ${host}: its guests reach out through ${host}, and nobody reaches in.`,
        mend: `Forward a port of ${host}, or attach the guest to a bridged network.`,
      }
  }
}

function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}
