import { type Command } from '../commands/index.js'
import { canonicalIp, kinds, readField, type Estate } from '../estate/index.js'
import { tooManyLines } from '../formats/index.js'
import type { RejectedLine } from '../names/index.js'
import { subnetHolding } from '../networks/index.js'

/** Addresses seen in use, as commands; and the lines that say none. */
export interface SeenReading {
  readonly commands: readonly Command[]
  readonly rejected: readonly RejectedLine[]
}

/** A table of neighbours of a whole /16 would have more; nobody pastes one. */
const SEEN_LINES_MAX = 30_000

/** Six octets, whose leading zeros some systems leave out, or three groups of four digits. */
const MAC = /^(?:[0-9a-f]{1,2}(?:[:-][0-9a-f]{1,2}){5}|[0-9a-f]{4}(?:\.[0-9a-f]{4}){2})$/i
const wholeMac = (mac: string): string =>
  mac.includes('.')
    ? mac
    : mac
        .split(/[:-]/)
        .map((octet) => octet.padStart(2, '0'))
        .join(':')
/**
 * Words of `ip neigh`, `arp`, neighbour tables of other systems and lists of leases that are no name, in English, German, French and
 * Spanish.
 */
const words = new Set([
  'dev',
  'lladdr',
  'reachable',
  'stale',
  'delay',
  'probe',
  'probes',
  'permanent',
  'noarp',
  'incomplete',
  'failed',
  'none',
  'managed',
  'extern_learn',
  'extern_valid',
  'offload',
  'router',
  'proxy',
  'protocol',
  'proto',
  'ref',
  'used',
  'nud',
  'dst',
  'via',
  'ether',
  'at',
  'on',
  'c',
  'cm',
  'mp',
  'perm',
  'pub',
  'dynamic',
  'static',
  'ifscope',
  'expires',
  'expired',
  'in',
  'seconds',
  'dynamisch',
  'statisch',
  'unvollständig',
  'dynamique',
  'statique',
  'incomplet',
  'dinámico',
  'dinamico',
  'estático',
  'estatico',
  'incompleto',
  'erreichbar',
  'veraltet',
  'nicht',
  'permanent',
  'unreachable',
  'joignable',
  'obsolète',
  'inaccessible',
  '*',
  '-',
  '?',
  '[ethernet]',
  '[ether]',
  '<incomplete>',
  '<from_interface>',
  // What a system calls the router of its own network, whichever that is: nss-myhostname(8).
  '_gateway',
])
/** What follows one of these is no name: the interface it was seen on, a count, how long ago. */
const BEFORE = /^(?:dev|on|ether|c|cm|mp|perm|pub|ref|used|probes|proto|protocol|nud|expires)$/i
/** Flags as /proc/net/arp has them, and times such as 19m59s or 0/60/0probes: no names. */
const NO_NAME = /^(?:0x[0-9a-f]+|\d+(?:[smhd]\d*)+|\d+\/.*)$/i

/** Headings of tables of neighbours: they say which interface the lines below are of, and what stands in the columns. */
const HEADING =
  /^(address\s+hwtype|ip address\s+hw type|interface ?:|schnittstelle ?:|interfaz ?:|internet address\s|internetadresse\s|adresse internet\s|direcci[oó]n de internet\s|host\s+ethernet address|ifindex\s|neighbor\s|expire)/i
/** A table whose columns behind the MAC say an interface, and no name. */
const IN_COLUMNS = /^(ip address\s+hw type|host\s+ethernet address|ifindex\s)/i

/** A line, or the block of a lease brought to one, with the number of the line it begins on. */
interface SeenLine {
  readonly line: number
  readonly text: string
  /** Whether it is in a table that has no names behind the MAC. */
  readonly isInColumns?: boolean
  /** Why a lease of the block form is none now. */
  readonly ended?: string
}

/**
 * The lines of a text, each lease of the block form (dhcpd.leases(5)) as one line: `lease 10.61.40.101 { … }`. A block that does not end
 * is read as far as it goes.
 */
function seenLines(text: string): readonly SeenLine[] {
  const lines: SeenLine[] = []
  let isInColumns = false
  let block: { line: number; ip: string; mac: string; name: string; state: string } | undefined
  const close = () => {
    if (!block) return
    const { line, ip, mac, name, state } = block
    const isFree = state !== '' && state !== 'active'
    lines.push({ line, text: `${ip} ${mac} ${name}`.trim(), ...(isFree ? { ended: `The lease is ${state}.` } : {}) })
    block = undefined
  }
  for (const [index, raw] of text.split(/\r?\n/).entries()) {
    const line = raw.trim()
    const opens = /^lease\s+(\S+)\s*\{/i.exec(line)
    if (opens) {
      close()
      block = { line: index + 1, ip: opens[1] ?? '', mac: '', name: '', state: '' }
    } else if (block && line.startsWith('}')) close()
    else if (block) {
      block.mac = /^hardware\s+ethernet\s+([^\s;]+)/i.exec(line)?.[1] ?? block.mac
      block.name = /^client-hostname\s+"([^"]*)"/i.exec(line)?.[1] ?? block.name
      block.state = /^binding\s+state\s+(\w+)/i.exec(line)?.[1]?.toLowerCase() ?? block.state
    } else if (HEADING.test(line)) isInColumns = IN_COLUMNS.test(line)
    else if (line !== '' && !line.startsWith('#')) lines.push({ line: index + 1, text: line, isInColumns })
  }
  close()
  return lines
}

/** The name in a line, if there is one: a line of `ip neigh` has none. */
const nameIn = (parts: readonly string[], mac: string): string | null =>
  parts.includes('lladdr')
    ? null
    : (parts.find(
        (part, place) =>
          part !== mac &&
          !canonicalIp(part) &&
          !words.has(part.toLowerCase()) &&
          !BEFORE.test(parts[place - 1] ?? '') &&
          /[a-z]/i.test(part) &&
          !NO_NAME.test(part) &&
          !/^([0-9a-f]{2}:){6,}/i.test(part),
      ) ?? null)

/**
 * Reads which address was seen with which MAC: lines of `ip neigh`, of `arp -n` and `arp -a` of several systems, a DHCP server’s leases of
 * one line each or in blocks, or just an address and a MAC, with a name if there is one. What was seen before at an address is replaced;
 * of several lines about one address the last counts.
 *
 * @param now when it was seen, ISO 8601 in UTC
 * @see ip-neighbour(8), arp(8) of the Linux manual pages; dhcpd.leases(5)
 * @example readSeen(estate, '10.61.40.101 dev eth0 lladdr 00:00:5e:00:53:c0 REACHABLE', now, newId).commands.length // 1
 */
export function readSeen(estate: Estate, text: string, now: string, newId: () => string): SeenReading {
  const rejected: RejectedLine[] = []
  const seen = new Map<string, Command>()
  const lines = tooManyLines(text, SEEN_LINES_MAX)
  if (lines !== undefined) return { commands: [], rejected: [{ line: 1, text: '', reason: lines }] }
  seenLines(text).forEach(({ line: number, text: line, ended, isInColumns }) => {
    const reject = (reason: string) => rejected.push({ line: number, text: line, reason })
    if (ended !== undefined) {
      // An earlier block of the same address is over with it.
      seen.delete(canonicalIp(line.split(' ')[0] ?? '') ?? '')
      return void reject(ended)
    }
    const parts = line.split(/[\s,;()]+/).filter(Boolean)
    const ip = parts.map((part) => canonicalIp(part)).find(Boolean)
    const mac = parts.find((part) => MAC.test(part))
    if (!ip) return void reject('It has no address.')
    if (!mac || /^00?([:-]00?){5}$/.test(mac))
      return void reject(/failed|incomplete|00[:-]00[:-]00/i.test(line) ? 'No machine answered.' : 'It has no MAC.')
    const reading = readField(kinds.lease.fields.mac, wholeMac(mac))
    if (!reading.ok) return void reject(reading.sentence)
    const subnet = subnetHolding(estate, ip)
    if (!subnet) return void reject(`${ip} is in no recorded subnet.`)
    const name = nameIn(isInColumns ? parts.slice(0, parts.indexOf(mac)) : parts, mac)
    const changes = { mac: reading.value as string, name, seenAt: now }
    const before = estate.byKey('lease', { ip }).find(({ subnetId }) => subnetId === subnet.id)
    seen.set(
      ip,
      before
        ? { type: 'lease.update', id: before.id, changes }
        : { type: 'lease.add', record: { id: newId(), subnetId: subnet.id, ip, ...changes } },
    )
    return undefined
  })
  return { commands: [...seen.values()], rejected }
}
