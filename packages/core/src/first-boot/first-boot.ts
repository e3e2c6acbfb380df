import { adaptersOf, timeZoneOf, type Address, type Estate, type Guest, type Network, type Subnet } from '../estate/index.js'
import { fullName, zoneOf } from '../names/index.js'
import { preferredSubnet, prefixOf } from '../networks/index.js'

/** One adapter as the machine is told to set it up; found by its MAC, whatever the system calls it. */
export interface BootAdapter {
  /** A label in the files: `lan1` is the guest's first adapter. */
  readonly label: string
  readonly mac: string
  /** Fixed addresses with their prefix length, such as `10.61.30.47/24`. */
  readonly addresses: readonly string[]
  /** Whether it asks for its IPv4 address. */
  readonly isDhcp: boolean
  /** Gateways, at most one for each family; of the first adapter that has one, so that there is one way out. */
  readonly gateways: readonly string[]
  readonly nameServers: readonly string[]
  readonly searchDomains: readonly string[]
  /** Where it differs from 1500. */
  readonly mtu: number | undefined
}

/** What a machine is told at its first boot. */
export interface FirstBoot {
  /** Changes with every copy: a new one makes the machine run its first boot. */
  readonly instanceId: string
  readonly hostName: string
  readonly domain: string | undefined
  readonly timeZone: string
  /** Such as `en_GB`. */
  readonly locale: string | undefined
  /** Such as `gb`. */
  readonly keyboard: string | undefined
  readonly packages: readonly string[]
  readonly adapters: readonly BootAdapter[]
  /** What the record lacks, in sentences. */
  readonly gaps: readonly string[]
}

/** The place of what Insel does not keep: a person fills it in. */
export const TO_BE_FILLED_IN = 'FILL-IN-PASSWORD-HASH'

/**
 * What a guest is to be told at its first boot, from its record: name, addresses, language, what to install.
 *
 * @example firstBootOf(estate, guest).adapters[0] // { label: 'lan1', mac: '02:1a:4b:00:00:07', addresses: ['10.61.30.47/24'], … }
 */
export function firstBootOf(estate: Estate, guest: Guest): FirstBoot {
  const gaps: string[] = []
  let [hasWayOut4, hasWayOut6] = [false, false]
  const adapters = adaptersOf(estate, guest.id).flatMap((adapter): BootAdapter[] => {
    const network = estate.find('network', adapter.networkId)
    if (adapter.mac === null) {
      gaps.push(`Adapter ${adapter.position} has no recorded MAC, by which it would be found; record it.`)
      return []
    }
    if (!network) {
      gaps.push(`Adapter ${adapter.position} is plugged into no network.`)
      return []
    }
    const given = estate.referring('address', 'adapterId', adapter.id)
    const fixed = given.filter(({ kind }) => kind === 'fixed')
    const subnets = [...new Set([...given.flatMap((address) => subnetOf(estate, address) ?? []), ...fallback(estate, network, given)])]
    if (given.length === 0) gaps.push(`Adapter ${adapter.position} on ${network.name} has no planned address; it asks DHCP for one.`)
    const gateways = subnets.flatMap((subnet) => {
      if (subnet.gateway === null || fixed.every((address) => address.subnetId !== subnet.id)) return []
      const isSix = subnet.gateway.includes(':')
      if (isSix ? hasWayOut6 : hasWayOut4) return []
      if (isSix) hasWayOut6 = true
      else hasWayOut4 = true
      return [subnet.gateway]
    })
    return [
      {
        label: `lan${adapter.position}`,
        mac: adapter.mac,
        addresses: fixed.map((address) => `${address.ip}/${lengthOf(estate, address)}`),
        isDhcp: fixed.every(({ ip }) => ip.includes(':')),
        gateways,
        nameServers: [...new Set(subnets.flatMap(({ nameServers }) => serversIn(nameServers)))],
        searchDomains: [...new Set([network.searchDomain ?? zoneOf(estate, network.id)].filter((one) => one !== undefined))],
        mtu: network.mtu === 1500 ? undefined : network.mtu,
      },
    ]
  })
  const networkId = adaptersOf(estate, guest.id).find((adapter) => adapter.networkId !== null)?.networkId
  const locale = readLocale(guest.locale)
  return {
    instanceId: `${guest.id}-${guest.identityKey?.slice(-8) ?? 'first'}`,
    hostName: guest.name.toLowerCase(),
    domain: zoneOf(estate, networkId ?? undefined) ?? undefined,
    timeZone: timeZoneOf(estate),
    ...locale,
    packages: packagesIn(guest.packages),
    adapters,
    gaps,
  }
}

/** The full name of a machine. */
export const fullNameOf = ({ hostName, domain }: Pick<FirstBoot, 'hostName' | 'domain'>): string =>
  fullName({ label: hostName, zone: domain })

const subnetOf = (estate: Estate, { subnetId }: Address): Subnet | undefined => estate.find('subnet', subnetId)
const lengthOf = (estate: Estate, address: Address): number => {
  const subnet = subnetOf(estate, address)
  return subnet ? prefixOf(subnet).bits : address.ip.includes(':') ? 64 : 24
}
const fallback = (estate: Estate, network: Network, given: readonly Address[]): readonly Subnet[] =>
  given.length > 0 ? [] : [preferredSubnet(estate, network.id)].filter((subnet) => subnet !== undefined)
const serversIn = (text: string | null): readonly string[] => (text ?? '').split(/[\s,;]+/).filter(Boolean)

/** `en_GB, keyboard gb` as the record has it: a language with its territory, and a layout. */
function readLocale(text: string | null): Pick<FirstBoot, 'locale' | 'keyboard'> {
  const locale = /\b([a-z]{2,3}_[A-Z]{2})\b/.exec(text ?? '')?.[1]
  const keyboard = /keyboard\s+([a-z]{2,8})\b/i.exec(text ?? '')?.[1]?.toLowerCase()
  return { locale, keyboard }
}

/** Names of packages in what is to be installed; words in a sentence are none. */
const packagesIn = (text: string | null): readonly string[] =>
  (text ?? '').split(/[,;\n]+/).flatMap((part) => (/^[a-z0-9][a-z0-9+.-]+$/.test(part.trim()) ? [part.trim()] : []))
