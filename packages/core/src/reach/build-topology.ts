import { standstillOf, type Address, type Estate, type Filter, type Forward, type Host, type Route } from '../estate/index.js'
import { isLinkLocal } from '../networks/index.js'
import { Leases, configured, gatewayLeg } from './configured.js'
import { Places, nowhere, wire } from './places.js'
import { type Interface, type Machine, OUTSIDE, SITE_GATEWAY, type AddressOnInterface, type Topology } from './topology.js'

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

class Builder {
  readonly #estate: Estate
  readonly #machines = new Map<string, Machine>()
  readonly #places: Places
  readonly #leases: Leases

  constructor(estate: Estate) {
    this.#estate = estate
    this.#places = new Places(estate)
    this.#leases = new Leases(estate)
  }

  build(): Topology {
    const estate = this.#estate
    const siteRoutes = estate.all('route').filter(({ guestId, hostId }) => !guestId && !hostId)
    const siteFilters = estate.all('filter').filter(({ guestId, hostId }) => !guestId && !hostId)
    const gateway = this.#machine(SITE_GATEWAY, 'site gateway', 'the site gateway', true, true, undefined, siteRoutes, siteFilters)
    this.#machine(OUTSIDE, 'outside', 'outside', true, false)
    for (const host of estate.all('host')) this.#addHost(host)
    for (const guest of estate.all('guest')) {
      const machine = this.#machine(
        guest.id,
        'guest',
        guest.name,
        guest.state === 'running' && guest.kind !== 'template',
        guest.isRouter,
        estate.find('host', guest.hostId),
        estate.referring('route', 'guestId', guest.id),
        estate.referring('filter', 'guestId', guest.id),
      )
      const adapters = estate.referring('adapter', 'guestId', guest.id)
      for (const adapter of adapters.length > 1 ? [...adapters].sort((a, b) => a.position - b.position) : adapters) {
        const place = adapter.networkId
          ? this.#places.of(adapter.networkId, guest.hostId)
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
            recorded.length > 0
              ? recorded.map((address) => configured(this.#estate, address))
              : this.#leases.of(adapter.networkId, adapter.mac),
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
    runsOn?: Host,
    routes: readonly Route[] = [],
    filters: readonly Filter[] = [],
    forwards: readonly Forward[] = [],
  ): Machine {
    const why = runsOn && standstillOf(this.#estate, runsOn)
    const machine: Machine = {
      id,
      kind,
      name,
      isUp: isUp && why === undefined,
      ...(runsOn && why !== undefined && isUp ? { standsBy: { host: runsOn.name, why } } : {}),
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
      true,
      host.isRouter,
      host,
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
      const place = this.#places.ofHost(networkId, host)
      const kind = place.attachment?.kind
      const own = addresses
        .filter(({ subnetId }) => estate.find('subnet', subnetId)?.networkId === networkId)
        .map((a) => configured(this.#estate, a))
      const translates = kind === 'translated'
      // The gateway of a NAT or host-only network is the host itself, unless a recorded guest has the address.
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
      const legs = [...own, ...implied]
      if (legs.length === 0 || kind === 'internal') continue
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
        addresses: legs,
      })
    }
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
        addresses: [configured(this.#estate, address)],
      })
    }
  }

  /** The site's gateway has an interface wherever a subnet names a gateway that is no recorded machine and the segment has a wire. */
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

  /** Which recorded machine has a network's gateway. A link-local one is distinguished by its network: it may be another's elsewhere. */
  #holdersOf(gateway: string, networkId: string): readonly Address[] {
    const holders = this.#estate.byKey('address', { ip: gateway })
    return isLinkLocal(gateway) ? holders.filter(({ subnetId }) => this.#estate.find('subnet', subnetId)?.networkId === networkId) : holders
  }

  #finish(): Topology {
    const bySegment = new Map<string, Map<string, AddressOnInterface[]>>()
    const byIp = new Map<string, AddressOnInterface[]>()
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
            segment = new Map<string, AddressOnInterface[]>()
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
      segmentsOf: (networkId) => this.#places.segmentsOf(networkId),
    }
  }
}

const buildTopology = (estate: Estate): Topology => new Builder(estate).build()

function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}
