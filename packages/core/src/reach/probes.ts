import type { Estate, Subnet } from '../estate/index.js'
import { ipFromNumber, ipToNumber, nextFree, preferredSubnet, prefixOf, usableRange } from '../networks/index.js'
import type { InterfaceAddress, Interface, Machine, Topology } from './topology.js'

/** A machine that is not there, plugged into one segment of a network as any new machine would be. */
export interface Probe {
  readonly machine: Machine
  readonly ip: string
}

/**
 * One probe for each segment that a network has: the wire, and each host that keeps it to itself.
 *
 * @param place which of the free addresses it takes, from the low end, so that two probes differ
 */
export function probesOn(topology: Topology, networkId: string, place = 0): readonly Probe[] {
  const { estate } = topology
  const subnet = preferredSubnet(estate, networkId)
  const network = estate.find('network', networkId)
  if (!subnet || !network) return []
  const ip = freeAt(estate, subnet, place)
  if (!ip) return []
  const prefix = prefixOf(subnet)
  const at: InterfaceAddress = {
    ip,
    number: ipToNumber(ip),
    family: prefix.family,
    near: prefix,
    gateway: subnet.gateway ?? undefined,
    homeId: networkId,
    plannedBits: prefix.bits,
    nameServers: subnet.nameServers?.split(' ') ?? [],
  }
  return topology.segmentsOf(networkId).map(({ segment, ends, isPrivate }, index) => {
    const interfaces: Interface[] = []
    const machine: Machine = {
      id: `any machine on ${networkId} ${index} ${place}`,
      kind: 'device',
      name: `a machine on ${network.name}`,
      isUp: true,
      isRouter: false,
      interfaces,
      routes: [],
      filters: [],
      forwards: [],
    }
    interfaces.push({
      id: machine.id,
      machine,
      label: 'its adapter',
      networkId,
      segment,
      ends,
      isConnected: true,
      isPrivate,
      translates: false,
      addresses: [at],
    })
    return { machine, ip }
  })
}

/** An address of a subnet that nobody has; where all are given out, its last. */
function freeAt(estate: Estate, subnet: Subnet, place: number): string | undefined {
  const { first, last } = usableRange(prefixOf(subnet))
  const taken = new Set(estate.referring('address', 'subnetId', subnet.id).map((address) => address.ip))
  if (subnet.gateway) taken.add(subnet.gateway)
  const { family } = prefixOf(subnet)
  let left = place
  const lowest = nextFree(estate, { ...subnet, handOut: 'from the low end' })
  for (let at = lowest ? ipToNumber(lowest) : first; at <= last; at++) {
    const ip = ipFromNumber(family, at)
    if (!taken.has(ip) && left-- === 0) return ip
  }
  return lowest
}

/** The topology with probes in it. */
export function withProbes(topology: Topology, probes: readonly Probe[]): Topology {
  const at = new Map(probes.map((probe) => [`${probe.machine.interfaces[0]?.segment ?? ''} ${probe.ip}`, probe]))
  return {
    ...topology,
    near(segment, ip) {
      const probe = at.get(`${segment} ${ip}`)
      const [on] = probe?.machine.interfaces ?? []
      const [address] = on?.addresses ?? []
      return on && address ? [{ on, at: address }] : topology.near(segment, ip)
    },
  }
}
