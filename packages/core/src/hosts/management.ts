import {
  contains,
  familyOf,
  ipToNumber,
  isLinkLocal,
  isNearGateway,
  parsePrefix,
  poolHolding,
  prefixAround,
  subnetHolding,
  usableRange,
} from '../networks/index.js'
import { canonicalIp, isHostLabel, type Estate, type Host, type Subnet } from '../estate/index.js'
import { portsOf } from './ports.js'
import type { Severity } from '../lists/index.js'

/** What an installer's screen shows of its network, as typed or pasted. */
export interface ShownNetwork {
  readonly address?: string
  /** Prefix length, 0 to 32 or 128. */
  readonly length?: number
  readonly gateway?: string
  readonly nameServers: readonly string[]
  readonly hostName?: string
  readonly vlanId?: number
}

/** A line of the text that says nothing the checker knows, or says it wrongly. */
export interface UnreadLine {
  readonly line: number
  readonly text: string
  readonly sentence: string
}

/** One sign, named with what to do about it. */
export interface ManagementSign {
  readonly severity: Severity
  readonly sentence: string
  readonly remedy: string
}

const IPV4 = /^\d{1,3}(\.\d{1,3}){3}$/
const labels: readonly [pattern: RegExp, field: 'address' | 'mask' | 'gateway' | 'nameServer' | 'hostName' | 'vlan'][] = [
  [/^(default )?(gateway|gw|router|default route)\b/i, 'gateway'],
  [/^((preferred |primary |alternate |secondary )?(dns|name ?servers?)( servers?| address(es)?)?|resolver)\b/i, 'nameServer'],
  [/^((sub)?net ?mask|mask|prefix( length)?)\b/i, 'mask'],
  [/^(host ?name|name|fqdn|full name)\b/i, 'hostName'],
  [/^vlan( id)?\b/i, 'vlan'],
  [/^(ipv[46] |ip )?(address|addr|ip|ipv[46])\b/i, 'address'],
]

/**
 * Reads what an installer's screen shows, line by line: `Address: 10.61.10.7`, `Netmask 255.255.255.0`, `gateway …`,
 * `DNS …`, `Hostname …`. A prefix may stand behind the address.
 *
 * @returns what was read, and each line that was not, with the reason
 * @example readShownNetwork('IP address 10.61.10.7/24').shown.length // 24
 */
export function readShownNetwork(text: string): { readonly shown: ShownNetwork; readonly unread: readonly UnreadLine[] } {
  const shown: { -readonly [K in keyof ShownNetwork]: ShownNetwork[K] } = { nameServers: [] }
  const unread: UnreadLine[] = []
  text.split(/\r?\n/).forEach((raw, index) => {
    const line = raw.trim()
    if (line === '') return
    const problem = readLine(line, shown)
    if (problem) unread.push({ line: index + 1, text: line, sentence: problem })
  })
  return { shown, unread }
}

function readLine(line: string, shown: { -readonly [K in keyof ShownNetwork]: ShownNetwork[K] }): string | undefined {
  const label = labels.find(([pattern]) => pattern.test(line))
  if (!label) return 'An address, mask, gateway, name server, host name or VLAN was expected, named at the start of the line.'
  const value = line
    .replace(label[0], '')
    .replace(/^[\s:=]+/, '')
    .trim()
  const none = value === '' || /^(none|not set|n\/a|-+|\(none\))$/i.test(value)
  switch (label[1]) {
    case 'address': {
      const [ip = '', length] = value.split('/')
      const address = canonicalIp(ip.trim())
      if (!address) return none ? undefined : `“${value}” is no address.`
      shown.address = address
      if (length !== undefined) return readLength(length.trim(), shown)
      return undefined
    }
    case 'mask':
      return none ? undefined : readLength(value, shown)
    case 'gateway': {
      // Consoles write the interface behind a link-local one: fe80::1%eno1, or fe80::1 dev eno1.
      const gateway = canonicalIp(value.split(/[%\s]/)[0] ?? '')
      if (!gateway) return none ? undefined : `“${value}” is no address of a gateway.`
      shown.gateway = gateway
      return undefined
    }
    case 'nameServer': {
      if (none) return undefined
      const servers = value.split(/[\s,;]+/).filter(Boolean)
      const bad = servers.find((one) => !canonicalIp(one))
      if (bad) return `“${bad}” is no address of a name server.`
      shown.nameServers = [...shown.nameServers, ...servers.flatMap((one) => canonicalIp(one) ?? [])]
      return undefined
    }
    case 'hostName':
      if (!none) shown.hostName = value
      return undefined
    case 'vlan': {
      if (none || /^(untagged|0)$/i.test(value)) return undefined
      const id = Number(value)
      if (!Number.isInteger(id) || id < 1 || id > 4094) return `“${value}” is no VLAN ID: 1 to 4094 (IEEE 802.1Q).`
      shown.vlanId = id
      return undefined
    }
  }
}

function readLength(text: string, shown: { -readonly [K in keyof ShownNetwork]: ShownNetwork[K] }): string | undefined {
  const bits = text.replace(/^\//, '')
  if (/^\d{1,3}$/.test(bits) && Number(bits) <= 128) {
    shown.length = Number(bits)
    return undefined
  }
  const length = IPV4.test(text) ? maskLength(text) : undefined
  if (length === undefined) return `“${text}” is no mask such as 255.255.255.0, nor a prefix length.`
  shown.length = length
  return undefined
}

/** The prefix length of a mask in dotted form; undefined when its ones are not in one piece. */
export function maskLength(mask: string): number | undefined {
  if (!canonicalIp(mask)) return undefined
  const bits = mask
    .split('.')
    .map((part) => Number(part).toString(2).padStart(8, '0'))
    .join('')
  return /^1*0*$/.test(bits) ? (bits.indexOf('0') === -1 ? 32 : bits.indexOf('0')) : undefined
}

/**
 * Holds what the installer shows against the plan of a host and names each sign that it found no network, or the wrong
 * one.
 *
 * @see common practice for the signs; RFC 3927 (169.254.0.0/16), RFC 1123 (names), RFC 3021 (/31), IEEE 802.1Q (VLAN)
 */
export function checkManagement(estate: Estate, host: Host, shown: ShownNetwork): readonly ManagementSign[] {
  const plan = managementPlan(estate, host)
  return [
    ...checkAddress(estate, shown, plan),
    ...checkGateway(estate, shown, plan),
    ...checkNameServers(shown),
    ...checkName(estate, host, shown),
    ...checkVlan(shown, plan),
    ...checkUplinks(estate, host),
  ]
}

/** What is planned for a host's management: its address and the subnet it lies in. */
export interface ManagementPlan {
  readonly ip: string | undefined
  readonly subnet: Subnet | undefined
  readonly length: number | undefined
  readonly networkName: string | undefined
  readonly vlanId: number | null
  readonly fullName: string
}

/** The planned management address of a host: one in a management network before any other. */
export function managementPlan(estate: Estate, host: Host): ManagementPlan {
  const addresses = estate.referring('address', 'hostId', host.id)
  const isManagement = (subnetId: string) => estate.find('network', estate.find('subnet', subnetId)?.networkId)?.role === 'management'
  const address = addresses.find(({ subnetId }) => isManagement(subnetId)) ?? addresses[0]
  const subnet = estate.find('subnet', address?.subnetId)
  const network = estate.find('network', subnet?.networkId)
  const domain = estate.all('estate')[0]?.domain
  return {
    ip: address?.ip,
    subnet,
    length: subnet ? Number(subnet.prefix.split('/')[1]) : undefined,
    networkName: network?.name,
    vlanId: network?.vlanId ?? null,
    fullName: domain ? `${host.name.toLowerCase()}.${domain}` : host.name.toLowerCase(),
  }
}

function checkAddress(estate: Estate, { address, length }: ShownNetwork, plan: ManagementPlan): ManagementSign[] {
  const planned = plan.ip ? `${plan.ip}/${plan.length ?? '?'}` : undefined
  if (!address)
    return [{ severity: 'error', sentence: 'The installer shows no address.', remedy: `Set ${planned ?? 'a fixed address'} by hand.` }]
  const signs: ManagementSign[] = []
  if (familyOf(address) === 4 && contains(parsePrefix('169.254.0.0/16'), address))
    return [
      {
        severity: 'error',
        sentence: `${address} is an address the machine gave itself: no DHCP server answered (169.254.0.0/16, RFC 3927).`,
        remedy: `Look at the cable: is it in the port that carries management, does its light burn, does the switch port carry the VLAN? Then set ${planned ?? 'the planned address'} by hand.`,
      },
    ]
  if (plan.ip && address !== plan.ip)
    signs.push({
      severity: 'error',
      sentence: `The installer shows ${address}; planned is ${plan.ip}.`,
      remedy: `Set ${planned ?? plan.ip} as a fixed address, or change the plan.`,
    })
  if (length !== undefined && plan.length !== undefined && length !== plan.length)
    signs.push({
      severity: 'error',
      sentence: `The mask is /${length} against the planned /${plan.length}: the host takes other machines for near that are far, or the other way round.`,
      remedy: `Set the prefix length ${plan.length}.`,
    })
  const subnet = subnetHolding(estate, address)
  if (!subnet)
    signs.push({
      severity: 'warning',
      sentence: `${address} lies in no subnet of the plan.`,
      remedy: 'The cable may be in a port of another network; look which switch port it leads to, or add the subnet.',
    })
  else {
    const pool = poolHolding(estate, subnet.id, address)
    if (pool)
      signs.push({
        severity: 'error',
        sentence: `${address} lies in the DHCP pool ${pool.first} to ${pool.last}: the server may give it to somebody else.`,
        remedy: 'Take a fixed address outside every pool.',
      })
    const other = plan.ip === address ? undefined : estate.byKey('address', { ip: address })[0]
    if (other)
      signs.push({ severity: 'error', sentence: `${address} is recorded for another machine.`, remedy: 'Take the planned address.' })
  }
  if (length !== undefined) {
    const around = prefixAround(address, length)
    const usable = usableRange(around)
    const number = ipToNumber(address)
    if (number < usable.first)
      signs.push({
        severity: 'error',
        sentence: `${address}/${length} is the network’s own address, no host’s.`,
        remedy: 'Take another address.',
      })
    else if (number > usable.last)
      signs.push({ severity: 'error', sentence: `${address}/${length} is the broadcast address.`, remedy: 'Take another address.' })
  }
  return signs
}

function checkGateway(estate: Estate, { address, length, gateway }: ShownNetwork, plan: ManagementPlan): ManagementSign[] {
  const planned = plan.subnet?.gateway ?? undefined
  const set = planned ? `Set the gateway ${planned}.` : 'Set the gateway of the subnet.'
  if (!gateway || gateway === '0.0.0.0' || gateway === '::')
    return planned || gateway
      ? [
          {
            severity: 'error',
            sentence: `The gateway is ${gateway ?? 'not set'}: the host reaches nothing outside its own subnet.`,
            remedy: set,
          },
        ]
      : []
  const signs: ManagementSign[] = []
  if (address && length !== undefined && familyOf(address) === familyOf(gateway) && !isNearGateway(prefixAround(address, length), gateway))
    signs.push({
      severity: 'error',
      sentence: `The gateway ${gateway} lies outside ${address}/${length}, so it cannot be reached.`,
      remedy: `${set} Check the mask as well.`,
    })
  // An IPv6 host shows the link-local address by which its router announces itself (RFC 4861), whatever the plan calls it.
  if (isLinkLocal(gateway) && (!planned || familyOf(planned) === 6)) return signs
  if (planned && gateway !== planned)
    signs.push({ severity: 'error', sentence: `The gateway is ${gateway}; planned is ${planned}.`, remedy: set })
  else if (!planned && !estate.all('subnet').some((one) => one.gateway === gateway))
    signs.push({
      severity: 'warning',
      sentence: `The gateway ${gateway} belongs to no subnet of the plan.`,
      remedy: 'See where the cable leads.',
    })
  return signs
}

function checkNameServers({ nameServers, address }: ShownNetwork): ManagementSign[] {
  if (nameServers.length === 0)
    return [
      {
        severity: 'warning',
        sentence: 'No name server is set: the host resolves no name.',
        remedy: 'Set the estate’s name servers, two where there are two.',
      },
    ]
  const own = nameServers.find((server) => server.startsWith('127.') || server === '::1' || server === address)
  return own
    ? [
        {
          severity: 'error',
          sentence: `The name server is ${own}, the host itself, and a host is no resolver: the installer fell back.`,
          remedy: 'Set the estate’s name servers.',
        },
      ]
    : []
}

function checkName(estate: Estate, host: Host, { hostName }: ShownNetwork): ManagementSign[] {
  const { fullName } = managementPlan(estate, host)
  const remedy = `Set ${fullName}.`
  if (!hostName || /^localhost(\.|$)/i.test(hostName))
    return [{ severity: 'error', sentence: `The host name is ${hostName ?? 'not set'}.`, remedy }]
  const parts = hostName.replace(/\.$/, '').split('.')
  const bad = parts.find((part) => !isHostLabel(part))
  if (bad !== undefined || hostName.length > 253)
    return [
      {
        severity: 'error',
        sentence: `“${hostName}” is no host name: letters, digits and hyphens, up to 63 in a part, no hyphen at an end (RFC 1123).`,
        remedy,
      },
    ]
  if (parts.length === 1) return [{ severity: 'warning', sentence: `“${hostName}” is not fully qualified.`, remedy }]
  return hostName.toLowerCase().replace(/\.$/, '') === fullName
    ? []
    : [{ severity: 'warning', sentence: `The host name is ${hostName}; planned is ${fullName}.`, remedy }]
}

function checkVlan({ vlanId }: ShownNetwork, plan: ManagementPlan): ManagementSign[] {
  if (vlanId === undefined || vlanId === plan.vlanId) return []
  return [
    {
      severity: 'error',
      sentence: `The installer tags VLAN ${vlanId}; ${plan.networkName ?? 'the plan'} ${plan.vlanId === null ? 'is untagged' : `is VLAN ${plan.vlanId}`}.`,
      remedy:
        plan.vlanId === null
          ? 'Leave the VLAN empty.'
          : `Set VLAN ${plan.vlanId}, or leave it empty where the switch port is untagged in it.`,
    },
  ]
}

function checkUplinks(estate: Estate, host: Host): ManagementSign[] {
  const ports = portsOf(estate, host).filter(({ role }) => role === 'management')
  const wired = ports.filter(({ medium }) => medium !== 'wireless')
  const signs: ManagementSign[] = ports
    .filter(({ medium }) => medium === 'wireless')
    .map((port) => ({
      severity: 'error' as const,
      sentence: `${port.name} is Wi-Fi: it cannot carry the management network.`,
      remedy: 'Plan a wired port, or route: a station forwards no foreign addresses (IEEE 802.11).',
    }))
  if (wired.length === 0)
    signs.push({
      severity: 'warning',
      sentence: 'No wired port is planned for management.',
      remedy: 'Give two ports the management role in the port plan, and see that the installer uses them.',
    })
  else if (wired.length === 1)
    signs.push({
      severity: 'notice',
      sentence: `Management has one uplink, ${wired[0]?.name ?? ''}.`,
      remedy: 'Plan a second port, both active, so that one pulled cable does not take the host out of reach.',
    })
  for (const port of wired)
    if (port.cable === 'missing')
      signs.push({
        severity: 'warning',
        sentence: `${port.name} carries management and has no cable recorded.`,
        remedy: 'Plug it in, look for the light, and record it.',
      })
  return signs
}

/** What to do after the first boot, in order. Common practice, no source. */
export const firstChecks = [
  'ping the gateway',
  'ping the name server',
  'resolve the own name',
  'open the management page',
  'note the certificate’s fingerprint',
  'note the end of the trial or licence',
] as const
