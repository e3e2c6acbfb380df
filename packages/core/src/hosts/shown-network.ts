import { canonicalIp, kinds, readField } from '../estate/index.js'
import { tooManyLines } from '../formats/index.js'

/** What an installer's screen shows of its network, as typed or pasted. */
export interface ShownNetwork {
  readonly address?: string
  /** Prefix length, 0 to 32 or 128. */
  readonly length?: number
  readonly gateway?: string
  readonly nameServers: readonly string[]
  readonly hostName?: string
  readonly vlanId?: number
  /** The port the screen speaks of, by its name. */
  readonly port?: string
  /** In the form `00:00:5e:00:53:11`. */
  readonly mac?: string
}

/** A line of the text that says nothing the checker knows, or says it wrongly. */
export interface UnreadLine {
  readonly line: number
  readonly text: string
  readonly sentence: string
}

/** What was read of a screen, and what was not. */
export interface ShownReading {
  readonly shown: ShownNetwork
  readonly unread: readonly UnreadLine[]
  /** Whether no line of it says anything that is known, as of a screen in a language that is not read: it is no sign of anything then. */
  readonly isUnknown: boolean
}

/** As systems name ports: `eno1`, `ens1f0`, `en0`. */
const PORT_NAME = /^[a-z]+\d[\w.-]*$/i
const IPV4 = /^\d{1,3}(\.\d{1,3}){3}$/

/** No screen has a longer line, characters. */
const LINE_MAX = 300
const SCREEN_LINES_MAX = 2000

type Shown = { -readonly [K in keyof ShownNetwork]: ShownNetwork[K] }
type Said = 'address' | 'mask' | 'gateway' | 'nameServer' | 'hostName' | 'vlan' | 'port' | 'mac'

/**
 * What the labels of installers, consoles and configuration files mean, in plain words and without numbers: in English, German, French and
 * Spanish. Common practice, no source.
 */
const labels: readonly [words: RegExp, said: Said][] = [
  [
    /(default )?(ipv[46] )?(gateway|gw|router|default route)|standard ?gateway|passerelle( par d[eé]faut)?|puerta de enlace( predeterminada)?|pasarela/,
    'gateway',
  ],
  [
    /(preferred |primary |alternate |secondary )?(dns|name ?servers?)( ?servers?| address(es)?)?|resolver|(bevorzugter |alternativer )?dns server|namens ?server|serveurs? (dns|de noms)( pr[eé]f[eé]r[eé])?|servidor(es)? (dns|de nombres)( preferido)?/,
    'nameServer',
  ],
  [
    /(ipv[46] )?((sub)?net ?mask|mask|prefix( ?length)?)|subnetz ?maske|netz ?maske|pr[aä]fix( ?l[aä]nge)?|masque( de sous r[eé]seau| r[eé]seau)?|m[aá]scara( de (sub)?red)?|longitud del prefijo/,
    'mask',
  ],
  [
    /(mac|hardware|physical|ethernet) ?(address|addr|adresse)|mac|hwaddr|ether|physi(sche|kalische) adresse|adresse (mac|physique)|direcci[oó]n (mac|f[ií]sica)/,
    'mac',
  ],
  [
    /(network |management |ethernet )?(interface|adapter|device|nic|port|network card)( name)?|schnittstelle|netzwerk ?karte|netzwerk ?adapter|carte r[eé]seau|interfaz( de red)?|tarjeta de red/,
    'port',
  ],
  [
    /host ?name|name|fqdn|full name|computer name|rechner ?name|computer ?name|nom( d.h[oô]te| de machine)?|nombre( del? (equipo|host|anfitri[oó]n))?/,
    'hostName',
  ],
  [/vlan( ?id)?/, 'vlan'],
  [/(static )?(ip|ipv[46])? ?(address|addr|adresse)|ip|ipv[46]|cidr|inet6?|adresse (ip|ipv[46])|direcci[oó]n (ip|ipv[46])/, 'address'],
]
const patterns = labels.map(([words, said]) => ({
  said,
  whole: new RegExp(`^(?:${words.source})$`, 'i'),
  start: new RegExp(`^(?:${words.source})\\b`, 'i'),
}))

/** A label without what is only in it for looks: `DNS1`, `IPADDR0`, `NAME_SERVER_2`, `Hostname (FQDN)`. */
const plain = (label: string): string =>
  label
    .replace(/\([^()]*\)/g, ' ')
    .replace(/[_-]/g, ' ')
    .trim()
    .replace(/\s+/g, ' ')
    .replace(/(?<!ipv) ?#?\d$/i, '')

/** A line as what it says and the value: what stands behind a colon, an equals sign, a row of dots, a gap, or the label itself. */
function split(line: string): { readonly said: Said; readonly value: string } | undefined {
  const [label = '', ...rest] = line.replace(/\s?\.(?:\s?\.)+|\t|\s{2,}/g, ' : ').split(/[:=]/)
  const named = rest.length > 0 ? patterns.find(({ whole }) => whole.test(plain(label))) : undefined
  if (named) return { said: named.said, value: bare(line.slice(label.trimEnd().length)) }
  const first = patterns.find(({ start }) => start.test(line))
  const value = first && bare(line.replace(first.start, ''))
  // Much begins with the word for a port and speaks of something else: its speed, its state.
  return first && value !== undefined && (first.said !== 'port' || PORT_NAME.test(value)) ? { said: first.said, value } : undefined
}

/** A value without its quotes, and without what is said of it behind: `10.61.10.7(Preferred)`. */
function bare(value: string): string {
  const text = value.replace(/^[\s:=.]+/, '').trim()
  const remark = text.endsWith(')') ? text.lastIndexOf('(') : -1
  const said = (remark > 0 ? text.slice(0, remark) : text).trim()
  return /^(["']).*\1$/.test(said) ? said.slice(1, -1) : said
}

/**
 * Reads what an installer's screen shows, line by line: `Address: 10.61.10.7`, `Netmask 255.255.255.0`, `gateway …`,
 * `DNS1=…`, `Hostname (FQDN): …`, `Subnet Mask . . . : …`. A prefix or a mask may follow the address.
 *
 * @returns what was read, and each line that was not, with the reason
 * @example readShownNetwork('IP address 10.61.10.7/24').shown.length // 24
 */
export function readShownNetwork(text: string): ShownReading {
  const shown: Shown = { nameServers: [] }
  const unread: UnreadLine[] = []
  const lines = tooManyLines(text, SCREEN_LINES_MAX)
  if (lines !== undefined) return { shown, unread: [{ line: 1, text: '', sentence: lines }], isUnknown: true }
  let last: Said | undefined
  let readLines = 0
  text.split(/\r?\n/).forEach((raw, index) => {
    if (raw.length > LINE_MAX) {
      unread.push({
        line: index + 1,
        text: `${raw.slice(0, LINE_MAX)}…`,
        sentence: `This line is longer than a screen’s, ${LINE_MAX} characters.`,
      })
      return
    }
    // Screens begin their lines with frames, bullets and marks of what is chosen.
    for (const part of raw.split(/[,;]\s+(?=[A-Za-z][\w ]*[:=])/)) {
      const line = part
        .replace(/[│|]/g, ' ')
        .replace(/^[\s*•>\-[\]()]+/, '')
        .trimEnd()
      if (line === '') continue
      const isMore = last === 'nameServer' && line.split(/[\s,;]+/).every((word) => canonicalIp(word))
      const reading = isMore ? ({ said: 'nameServer', value: line } as const) : split(line)
      last = reading?.said
      const problem = reading
        ? readValue(reading.said, reading.value, shown)
        : 'An address, mask, gateway, name server, host name, VLAN, port or MAC was expected, named at the start of the line.'
      if (problem === undefined) readLines++
      else unread.push({ line: index + 1, text: raw.trim(), sentence: problem })
    }
  })
  return { shown, unread, isUnknown: readLines === 0 && unread.length > 0 }
}

function readValue(said: Said, value: string, shown: Shown): string | undefined {
  const none = value === '' || /^(none|not set|n\/a|-+|\(none\))$/i.test(value)
  if (none) return undefined
  switch (said) {
    case 'address': {
      const [ip = '', length] = value.split(/[\s/]+/).filter((word) => !/^(netmask|subnet|mask|prefix)$/i.test(word))
      const address = canonicalIp(ip)
      if (!address) return `“${value}” is not an address.`
      shown.address = address
      return length === undefined ? undefined : readLength(length, shown)
    }
    case 'mask':
      return readLength(value, shown)
    case 'gateway': {
      // Consoles write the interface behind a link-local one: fe80::1%eno1, or fe80::1 dev eno1.
      const gateway = canonicalIp(value.split(/[%\s]/)[0] ?? '')
      if (!gateway) return `“${value}” is not a gateway address.`
      shown.gateway = gateway
      return undefined
    }
    case 'nameServer': {
      const servers = value.split(/[\s,;]+/).filter(Boolean)
      const bad = servers.find((one) => !canonicalIp(one))
      if (bad) return `“${bad}” is not a name server address.`
      shown.nameServers = [...shown.nameServers, ...servers.flatMap((one) => canonicalIp(one) ?? [])]
      return undefined
    }
    case 'hostName':
      shown.hostName = value
      return undefined
    case 'vlan': {
      if (/^(untagged|0)$/i.test(value)) return undefined
      const id = Number(value)
      if (!Number.isInteger(id) || id < 1 || id > 4094) return `“${value}” is not a VLAN ID: 1 to 4094 (IEEE 802.1Q).`
      shown.vlanId = id
      return undefined
    }
    case 'port':
      shown.port = value.split(/[\s(]/)[0] ?? value
      return undefined
    case 'mac': {
      const mac = readField(kinds.port.fields.mac, value.split(/\s/)[0])
      if (!mac.ok || typeof mac.value !== 'string') return `“${value}” is not a MAC: six pairs of hexadecimal digits (IEEE 802).`
      shown.mac = mac.value
      return undefined
    }
  }
}

function readLength(text: string, shown: Shown): string | undefined {
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
