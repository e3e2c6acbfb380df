import { adaptersOf, type Address, type Estate, isHostLabel } from '../estate/index.js'
import { compareIps, familyOf, isLinkLocal, type Family } from '../networks/index.js'

/** A name that belongs in a zone, with its address. */
export interface NamedAddress {
  /** The part before the zone, in lower case. */
  readonly label: string
  /** The zone, without a dot at its end; undefined when neither network nor estate names one. */
  readonly zone: string | undefined
  readonly ip: string
  readonly address: Address
  /** The machine that has it, in words. */
  readonly owner: string
  /** Whether it is the machine's first address of its family, to which the reverse name points. */
  readonly isFirst: boolean
}

/** A name with its zone behind it; the bare one where there is no zone. */
export const fullName = ({ label, zone }: Pick<NamedAddress, 'label' | 'zone'>): string => (zone ? `${label}.${zone}` : label)

/** A machine or address that gets no name, with the reason. */
export interface Unnamed {
  readonly what: string
  readonly reason: string
}

export interface NameTable {
  readonly names: readonly NamedAddress[]
  /** The same by the address record's id. */
  readonly byAddress: ReadonlyMap<string, NamedAddress>
  readonly unnamed: readonly Unnamed[]
}

/**
 * The names of an estate: each guest and host by its name at its first address, `name-network` at its others, and what
 * an address names itself. Templates have none.
 */
export const nameTable = (estate: Estate): NameTable =>
  estate.derive(['host', 'guest', 'adapter', 'address', 'network', 'subnet', 'estate'], buildTable)

/** The zone in which the machines of a network are named. */
export function zoneOf(estate: Estate, networkId: string | undefined): string | undefined {
  return estate.find('network', networkId)?.searchDomain ?? estate.all('estate')[0]?.domain ?? undefined
}

function buildTable(estate: Estate): NameTable {
  const names: NamedAddress[] = []
  const unnamed: Unnamed[] = []
  const add = (machine: string, owner: string, addresses: readonly Address[]) => {
    const seen = new Set<Family>()
    if (addresses.length > 0 && !isHostLabel(machine))
      unnamed.push({ what: owner, reason: `“${machine}” is not a host name: letters, digits and hyphens, no hyphen at an end (RFC 1123).` })
    for (const address of addresses) {
      if (isLinkLocal(address.ip)) {
        unnamed.push({
          what: address.ip,
          reason: 'A link-local address is good on its own segment only: no name leads to it (RFC 4472, 2.1).',
        })
        continue
      }
      const network = networkOf(estate, address)
      const family = familyOf(address.ip)
      const isFirst = !seen.has(family)
      seen.add(family)
      const label = (address.name ?? (isFirst ? machine : `${machine}-${network?.name ?? 'net'}`)).toLowerCase()
      if (isHostLabel(label)) names.push({ label, zone: zoneOf(estate, network?.id), ip: address.ip, address, owner, isFirst })
      else if (isHostLabel(machine))
        unnamed.push({ what: address.ip, reason: `“${label}” is not a host name (RFC 1123); name the address itself.` })
    }
  }
  for (const host of estate.all('host')) {
    const addresses = estate.referring('address', 'hostId', host.id)
    const isManagement = (address: Address) => networkOf(estate, address)?.role === 'management'
    add(
      host.name,
      `host ${host.name}`,
      inOrder(addresses, (a, b) => Number(isManagement(b)) - Number(isManagement(a))),
    )
  }
  for (const guest of estate.all('guest')) {
    if (guest.kind === 'template') continue
    const adapters = adaptersOf(estate, guest.id)
    add(
      guest.name,
      `guest ${guest.name}`,
      adapters.flatMap((adapter) => inOrder(estate.referring('address', 'adapterId', adapter.id))),
    )
  }
  for (const address of estate.all('address'))
    if (!address.adapterId && !address.hostId && address.name) add(address.name, `address ${address.name}`, [address])
  return { names, byAddress: new Map(names.map((named) => [named.address.id, named])), unnamed }
}

const networkOf = (estate: Estate, address: Address) => estate.find('network', estate.find('subnet', address.subnetId)?.networkId)

function inOrder(addresses: readonly Address[], first: (a: Address, b: Address) => number = () => 0): Address[] {
  return [...addresses].sort((a, b) => first(a, b) || compareIps(a.ip, b.ip))
}
