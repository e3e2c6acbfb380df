import type { Estate, Filter, Forward, Route } from '../estate/index.js'
import type { Family, Prefix } from '../networks/index.js'

/** The two machines of the model that have no record. */
export const SITE_GATEWAY = 'site gateway'

export const OUTSIDE = 'outside'

/** An address beyond the estate, for questions to and from outside: RFC 5737 and RFC 3849, set aside for examples. */
export const OUTSIDE_IP: Readonly<Record<Family, string>> = { 4: '203.0.113.250', 6: '2001:db8:ffff::250' }

/** An address as it is set on an interface, with its directly connected prefix and its default gateway. */
export interface InterfaceAddress {
  readonly ip: string
  readonly number: bigint
  readonly family: Family
  /** What the machine takes for its own segment: its address with the length set on it. */
  readonly near: Prefix
  readonly gateway: string | undefined
  /** The network that the address is planned for. */
  readonly homeId: string | undefined
  /** The recorded length of its subnet. */
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
  /** For an interface of a host: NAT for what comes in here and goes out elsewhere. */
  readonly translates: boolean
  readonly addresses: readonly InterfaceAddress[]
}

/** Why a segment stops at a host, or is not there. */
export interface SegmentEnd {
  readonly code:
    | 'not-on-host'
    | 'macs-dropped'
    | 'no-uplink'
    | 'wireless-uplink'
    | 'vlan-not-carried'
    | 'translated'
    | 'host-only'
    | 'internal'
    | 'unplugged'
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
  /** Why it is not up, where that is not its own state but that of what it runs on: its host, and what is said after the name. */
  readonly standsBy?: { readonly host: string; readonly why: string }
  readonly isRouter: boolean
  readonly interfaces: Interface[]
  readonly routes: readonly Route[]
  readonly filters: readonly Filter[]
  readonly forwards: readonly Forward[]
}

/** An interface together with one of its addresses. */
export interface AddressOnInterface {
  readonly on: Interface
  readonly at: InterfaceAddress
}

/** Everything the tracer needs to know of an estate, worked out once. */
export interface Topology {
  readonly estate: Estate
  readonly machines: ReadonlyMap<string, Machine>
  /** Who has an address on a segment, connected and powered on. */
  readonly near: (segment: string, ip: string) => readonly AddressOnInterface[]
  /** Whoever has an address, wherever. */
  readonly anywhere: (ip: string) => readonly AddressOnInterface[]
  /** Addresses that are somebody's gateway or next hop. */
  readonly gateways: ReadonlySet<string>
  /** The interfaces plugged into a network. */
  readonly interfacesOn: (networkId: string) => readonly Interface[]
  /** The segments that a network has: the wire, and each host that keeps it to itself. */
  readonly segmentsOf: (
    networkId: string,
  ) => readonly { readonly segment: string; readonly ends: SegmentEnd | undefined; readonly isPrivate: boolean }[]
}
