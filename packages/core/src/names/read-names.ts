import Papa from 'papaparse'
import { type Command } from '../commands/index.js'
import { canonicalIp, isHostLabel, kinds, readField, type Address, type Estate } from '../estate/index.js'
import { tooManyLines } from '../formats/index.js'
import { subnetHolding } from '../networks/index.js'
import { nameTable, zoneOf } from './name-table.js'

/** A name and an address as a text gives them. */
export interface NameEntry {
  readonly line: number
  /** As it stood there, in lower case, without a dot at the end. */
  readonly name: string
  readonly ip: string
  readonly mac: string | undefined
}

/** A line that was not taken, with the reason. */
export interface RejectedLine {
  readonly line: number
  readonly text: string
  readonly reason: string
}

export interface NamesRead {
  readonly form: 'hosts' | 'zone file' | 'CSV'
  readonly entries: readonly NameEntry[]
  readonly rejected: readonly RejectedLine[]
}

/** The largest text that is read, characters. */
const NAMES_TEXT_MAX = 2_000_000
const NAMES_LINES_MAX = 60_000

/**
 * Reads names and addresses from hosts(5) lines, a zone file (RFC 1035) or CSV with a heading; which it is, it sees.
 *
 * @param origin zone of relative names in a zone file that names none
 */
export function readNames(text: string, origin?: string): NamesRead {
  if (text.length > NAMES_TEXT_MAX)
    return {
      form: 'hosts',
      entries: [],
      rejected: [{ line: 1, text: '', reason: `The text has ${text.length} characters; at most ${NAMES_TEXT_MAX} are read. Split it.` }],
    }
  const lines = tooManyLines(text, NAMES_LINES_MAX)
  if (lines !== undefined) return { form: 'hosts', entries: [], rejected: [{ line: 1, text: '', reason: lines }] }
  if (/^[ \t]*(\$origin|\$ttl)\b/im.test(text) || /^\S*[ \t]+(\d+\w?[ \t]+)?(in[ \t]+)?(soa|aaaa|a|ptr)[ \t]+\S/im.test(text))
    return readZone(text, origin)
  const first = text.split(/\r?\n/).find((line) => line.trim() !== '' && !line.trim().startsWith('#')) ?? ''
  return /[,;\t]/.test(first) && /\b(ip|address|name|hostname)\b/i.test(first) ? readCsv(text) : readHosts(text)
}

function readHosts(text: string): NamesRead {
  const entries: NameEntry[] = []
  const rejected: RejectedLine[] = []
  text.split(/\r?\n/).forEach((raw, index) => {
    const line = raw.replace(/#.*/, '').trim()
    if (line === '') return
    const [address = '', ...names] = line.split(/\s+/)
    const ip = canonicalIp(address)
    const [name] = names
    if (!ip)
      rejected.push({ line: index + 1, text: raw.trim(), reason: `“${address}” is not an address; a line starts with one (hosts(5)).` })
    else if (!name) rejected.push({ line: index + 1, text: raw.trim(), reason: 'There is no name after the address.' })
    else if (isLocal(ip)) rejected.push({ line: index + 1, text: raw.trim(), reason: 'It is a loopback address, not one of the network.' })
    else entries.push({ line: index + 1, name: fold(name), ip, mac: undefined })
  })
  return { form: 'hosts', entries, rejected }
}

function readCsv(text: string): NamesRead {
  const entries: NameEntry[] = []
  const rejected: RejectedLine[] = []
  const parsed = Papa.parse<Record<string, string>>(text, {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (heading) => heading.trim().toLowerCase(),
  })
  const cell = (row: Record<string, string>, ...headings: string[]) => headings.map((heading) => row[heading]?.trim()).find(Boolean) ?? ''
  const troubles = new Map(parsed.errors.filter(({ code }) => code !== 'UndetectableDelimiter').map((error) => [error.row, error]))
  parsed.data.forEach((row, index) => {
    const line = index + 2
    const said = Object.values(row).flat().join(',')
    const [address, name, mac] = [
      cell(row, 'ip', 'address', 'ip address'),
      cell(row, 'name', 'hostname', 'fqdn'),
      cell(row, 'mac', 'mac address'),
    ]
    const ip = canonicalIp(address)
    const reading = readField(kinds.address.fields.mac, mac)
    const uneven = troubles.get(index)
    if (uneven) rejected.push({ line, text: said, reason: `The row does not fit the heading: ${uneven.message}.` })
    else if (!ip)
      rejected.push({
        line,
        text: said,
        reason: address ? `“${address}” is not an address.` : 'There is no address in a column “ip” or “address”.',
      })
    else if (!name) rejected.push({ line, text: said, reason: 'There is no name in a column “name” or “hostname”.' })
    else if (!reading.ok) rejected.push({ line, text: said, reason: reading.sentence })
    else entries.push({ line, name: fold(name), ip, mac: (reading.value as string | null) ?? undefined })
  })
  return { form: 'CSV', entries, rejected }
}

interface ZoneLine {
  readonly line: number
  readonly text: string
  readonly words: readonly string[]
  /** Whether the line begins with a blank: it goes on with the owner before. */
  readonly isIndented: boolean
  /** Whether a parenthesis opens in it that nothing closes; it was read no further then. */
  readonly isUnclosed: boolean
}

/** A quoted text, which the end of the line ends too; a comment; a parenthesis; a word. Each piece is read once, whatever follows. */
const TOKEN = /"(?:[^"\\]|\\.?)*"?|;.*|[()]|[^\s;()"]+/g
/** A time to live, in seconds or with units as name servers take them: `3600`, `1h30m`. */
const TTL = /^\d+(?:[smhdw]\d+)*[smhdw]?$/i

/** Records of a master file, one each, with comments gone and parentheses joined: RFC 1035, section 5.1. */
function zoneLines(text: string): ZoneLine[] {
  const rows = text.split(/\r?\n/).map((raw) => ({ raw, words: (raw.match(TOKEN) ?? []).filter((token) => !token.startsWith(';')) }))
  const unclosed = unclosedIn(rows)
  const lines: ZoneLine[] = []
  let open: { line: number; text: string; words: string[]; isIndented: boolean; isUnclosed: boolean; depth: number } | undefined
  for (const [index, { raw, words }] of rows.entries()) {
    if (words.length === 0 && !open) continue
    open ??= { line: index + 1, text: raw.trim(), words: [], isIndented: /^\s/.test(raw), isUnclosed: false, depth: 0 }
    if (unclosed.has(index)) open.isUnclosed = true
    for (const word of words) {
      if (word === '(') open.depth++
      else if (word === ')') open.depth--
      else open.words.push(word)
    }
    if (open.depth > 0 && !open.isUnclosed) continue
    const { depth: _, ...done } = open
    lines.push(done)
    open = undefined
  }
  return lines
}

/** The rows in which a parenthesis opens that is not closed anywhere: what follows them is read all the same. */
function unclosedIn(rows: readonly { readonly words: readonly string[] }[]): ReadonlySet<number> {
  const opened: number[] = []
  for (const [index, { words }] of rows.entries())
    for (const word of words) {
      if (word === '(') opened.push(index)
      else if (word === ')') opened.pop()
    }
  return new Set(opened)
}

const TYPES = new Set([
  'A',
  'AAAA',
  'PTR',
  'CNAME',
  'MX',
  'NS',
  'SOA',
  'TXT',
  'SRV',
  'CAA',
  'DNAME',
  'HINFO',
  'NAPTR',
  'SSHFP',
  'TLSA',
  'DS',
])
/** Records of a zone that say nothing about a machine's address. */
const BESIDE = new Set(['SOA', 'NS'])

function readZone(text: string, given: string | undefined): NamesRead {
  const entries: NameEntry[] = []
  const rejected: RejectedLine[] = []
  let origin = given
  // As a full name: it stays what it was when the origin changes.
  let owner = ''
  for (const { line, text: said, words, isIndented, isUnclosed } of zoneLines(text)) {
    const reject = (reason: string) => rejected.push({ line, text: said, reason })
    const full = (name: string) =>
      name === '@' ? (origin ?? '') : name.endsWith('.') ? fold(name) : origin ? `${fold(name)}.${origin}` : fold(name)
    const [head = '', ...rest] = words
    if (/^\$origin$/i.test(head)) {
      const to = rest[0] ?? ''
      if (to === '') reject('$ORIGIN names no zone.')
      else origin = full(to)
      continue
    }
    if (/^\$ttl$/i.test(head)) continue
    if (head.startsWith('$')) {
      reject(`${head} is not followed here; paste what it stands for.`)
      continue
    }
    const body = isIndented ? words : rest
    if (!isIndented) owner = full(head)
    if (isUnclosed) {
      reject('A parenthesis opens here and is not closed; close it. The lines after it were read by themselves.')
      continue
    }
    // A time to live and the class may come before the type, in either order.
    const at = body.findIndex((word) => TYPES.has(word.toUpperCase()))
    const before = body.slice(0, Math.max(at, 0))
    if (at < 0 || before.some((word) => !TTL.test(word) && !/^(in|ch|hs)$/i.test(word))) {
      reject('It has no record type that is known (A, AAAA, PTR and the like).')
      continue
    }
    const type = body[at]?.toUpperCase() ?? ''
    const value = body[at + 1] ?? ''
    if (BESIDE.has(type)) continue
    if (type === 'A' || type === 'AAAA') {
      const ip = canonicalIp(value)
      if (!ip || (type === 'AAAA') !== ip.includes(':')) reject(`“${value}” is not an address for ${type}.`)
      else if (owner === origin) reject('It is an address of the zone itself, not of a machine.')
      else entries.push({ line, name: owner, ip, mac: undefined })
    } else if (type === 'PTR') {
      const ip = ipOfReverse(owner)
      if (!ip) reject(`“${owner}” is not the reverse name of one address.`)
      else entries.push({ line, name: full(value), ip, mac: undefined })
    } else reject(`${type} records name no address of a machine.`)
  }
  return { form: 'zone file', entries, rejected }
}

/** The address of a reverse name; also of a part of a /24 (RFC 2317), whose label is left out. */
export function ipOfReverse(name: string): string | undefined {
  const four = /^(\d+)\.(?:[^./-]*[/-][^.]*\.)?(\d+)\.(\d+)\.(\d+)\.in-addr\.arpa$/.exec(name)
  if (four) return canonicalIp(four.slice(1).reverse().join('.'))
  const six = /^((?:[0-9a-f]\.){32})ip6\.arpa$/.exec(name)
  const digits = six?.[1]?.replaceAll('.', '')
  return digits ? canonicalIp(Array.from(digits).reverse().join('').match(/.{4}/g)?.join(':') ?? '') : undefined
}

const fold = (name: string) => name.toLowerCase().replace(/\.$/, '')
const isLocal = (ip: string) =>
  ip.startsWith('127.') || ip === '::1' || ip.startsWith('ff') || ip.startsWith('fe80:') || ip.startsWith('fe00:')

/** What an import would do: commands, what is right already, and what cannot be taken. */
export interface NamesImport {
  readonly form: NamesRead['form']
  readonly commands: readonly Command[]
  readonly rejected: readonly RejectedLine[]
  /** How many lines say what is recorded already. */
  readonly known: number
}

/**
 * The commands that record the names and addresses of a text: a guest’s or host’s address is assigned to it, any other
 * is reserved under its name. Nothing is applied.
 *
 * @param newId makes the ids of what is added
 */
export function importNames(estate: Estate, text: string, newId: () => string): NamesImport {
  const domain = zoneOf(estate, undefined)
  const { form, entries, rejected } = readNames(text, domain)
  const out: RejectedLine[] = [...rejected]
  const commands: Command[] = []
  let known = 0
  const taken = new Map<string, string>()
  for (const entry of entries) {
    const result = importOne(estate, entry, newId, taken)
    if (result === 'known') known++
    else if ('reason' in result) out.push({ line: entry.line, text: `${entry.ip} ${entry.name}`, reason: result.reason })
    else {
      commands.push(result)
      taken.set(entry.ip, entry.name)
    }
  }
  return { form, commands, rejected: out.sort((a, b) => a.line - b.line), known }
}

function importOne(
  estate: Estate,
  { ip, name, mac }: NameEntry,
  newId: () => string,
  taken: ReadonlyMap<string, string>,
): Command | 'known' | { reason: string } {
  const subnet = subnetHolding(estate, ip)
  if (!subnet) return { reason: `${ip} is in no recorded subnet; add the subnet first.` }
  const zone = zoneOf(estate, subnet.networkId)
  const label = zone && name.endsWith(`.${zone}`) ? name.slice(0, -zone.length - 1) : name
  if (label.includes('.') && label !== name)
    return {
      reason: `${name} is below the zone ${zone}: recorded names have one label. It is taken when the search domain of its network is ${name.slice(name.indexOf('.') + 1)}.`,
    }
  if (label.includes('.')) return { reason: `${name} is not in the zone ${zone ?? 'of the estate'} of ${subnet.prefix}.` }
  if (!isHostLabel(label)) return { reason: `“${label}” is not a host name: letters, digits and hyphens, no hyphen at an end (RFC 1123).` }
  if (taken.has(ip)) return taken.get(ip) === name ? 'known' : { reason: `${ip} was already named ${taken.get(ip) ?? ''} above.` }
  const holder = estate.byKey('address', { ip }).find((address) => address.subnetId === subnet.id)
  if (holder) return agreeing(estate, holder, label)
  const [guest] = estate.byKey('guest', { name: label })
  const [host] = estate.byKey('host', { name: label })
  const id = newId()
  if (host && !guest) return { type: 'address.assign', id, hostId: host.id, subnetId: subnet.id, ip, kind: 'fixed' }
  const adapter = guest && estate.referring('adapter', 'guestId', guest.id).find(({ networkId }) => networkId === subnet.networkId)
  if (guest && !adapter)
    return {
      reason: `${guest.name} has no adapter on ${estate.find('network', subnet.networkId)?.name ?? 'that network'}, where ${ip} belongs.`,
    }
  if (adapter) return { type: 'address.assign', id, adapterId: adapter.id, subnetId: subnet.id, ip, kind: 'fixed' }
  return {
    type: 'address.add',
    record: { id, subnetId: subnet.id, ip, kind: mac ? 'DHCP reservation' : 'reserved', name: label, ...(mac ? { mac } : {}) },
  }
}

/** Whether a recorded address has the name; one without a name takes it. */
function agreeing(estate: Estate, holder: Address, label: string): Command | 'known' | { reason: string } {
  const named = nameTable(estate).byAddress.get(holder.id)
  if (named?.label === label) return 'known'
  if (!holder.adapterId && !holder.hostId && !holder.name) return { type: 'address.update', id: holder.id, changes: { name: label } }
  return { reason: `${holder.ip} is recorded as ${named?.label ?? 'another machine’s'}; the text names it ${label}.` }
}
