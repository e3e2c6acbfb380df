import { canonicalIp } from '../estate/index.js'

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
 * `DNS …`, `Hostname …`. A prefix may follow the address.
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
      if (!address) return none ? undefined : `“${value}” is not an address.`
      shown.address = address
      if (length !== undefined) return readLength(length.trim(), shown)
      return undefined
    }
    case 'mask':
      return none ? undefined : readLength(value, shown)
    case 'gateway': {
      // Consoles write the interface behind a link-local one: fe80::1%eno1, or fe80::1 dev eno1.
      const gateway = canonicalIp(value.split(/[%\s]/)[0] ?? '')
      if (!gateway) return none ? undefined : `“${value}” is not a gateway address.`
      shown.gateway = gateway
      return undefined
    }
    case 'nameServer': {
      if (none) return undefined
      const servers = value.split(/[\s,;]+/).filter(Boolean)
      const bad = servers.find((one) => !canonicalIp(one))
      if (bad) return `“${bad}” is not a name server address.`
      shown.nameServers = [...shown.nameServers, ...servers.flatMap((one) => canonicalIp(one) ?? [])]
      return undefined
    }
    case 'hostName':
      if (!none) shown.hostName = value
      return undefined
    case 'vlan': {
      if (none || /^(untagged|0)$/i.test(value)) return undefined
      const id = Number(value)
      if (!Number.isInteger(id) || id < 1 || id > 4094) return `“${value}” is not a VLAN ID: 1 to 4094 (IEEE 802.1Q).`
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
  if (length === undefined) return `“${text}” is neither a mask such as 255.255.255.0 nor a prefix length.`
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
