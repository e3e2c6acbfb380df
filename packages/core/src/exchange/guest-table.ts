import Papa from 'papaparse'
import { type Command, type IdMaker } from '../commands/index.js'
import { adaptersOf, disksOf, type Estate, type FieldsOf, type Guest, guestStates, kinds, leftOut, readField } from '../estate/index.js'
import { cellsOf, readTable, type Table, type TableMapping } from '../formats/index.js'
import { composeGuest } from '../guests/index.js'
import { formatExactBytes, MiB, parseSize, type SizeReading } from '../units/index.js'
import { inNameOrder } from '../lists/index.js'

/** What a column of a table of guests holds. */
export const guestColumns = [
  'name',
  'host',
  'state',
  'vCPU',
  'memory',
  'disks',
  'networks',
  'addresses',
  'made for',
  'system',
  'group',
  'backed up to',
  'tags',
  'note',
  'leave out',
] as const
export type GuestColumn = (typeof guestColumns)[number]

/** The column of each field of a guest. What a table does not hold stays as it is when one is read. */
const columnOf = {
  name: 'name',
  kind: 'state',
  state: 'state',
  hostId: 'host',
  purpose: 'made for',
  systemId: 'system',
  vcpu: 'vCPU',
  memoryMiB: 'memory',
  group: 'group',
  backupStoreId: 'backed up to',
  tags: 'tags',
  note: 'note',
  verifiedAt: null,
  workload: null,
  sockets: null,
  processorMode: null,
  latency: null,
  memoryMinMiB: null,
  firmware: null,
  secureBoot: null,
  trustedModule: null,
  machineType: null,
  mediumId: null,
  mediumConnected: null,
  bootFirst: null,
  installer: null,
  packages: null,
  locale: null,
  identity: null,
  identityFromId: null,
  identityFromName: null,
  identityKey: null,
  clonedVersion: null,
  isRouter: null,
  apartFromId: null,
  clonedFromId: null,
} as const satisfies FieldsOf<'guest', GuestColumn>

/** What a table of guests says nothing of, as the fields are called. */
export const guestTableLeavesOut = (): readonly string[] => leftOut('guest', columnOf)

/** A guest's value in a column, as the table is written and read. */
function cellOf(estate: Estate, guest: Guest, column: GuestColumn): string {
  const adapters = adaptersOf(estate, guest.id)
  switch (column) {
    case 'name':
      return guest.name
    case 'host':
      return estate.find('host', guest.hostId)?.name ?? ''
    case 'state':
      return guest.kind === 'machine' ? guest.state : guest.kind
    case 'vCPU':
      return String(guest.vcpu)
    case 'memory':
      return formatExactBytes(guest.memoryMiB * MiB)
    case 'disks':
      return disksOf(estate, guest.id)
        .map(({ sizeBytes }) => formatExactBytes(sizeBytes))
        .join(' + ')
    case 'networks':
      return adapters.map(({ networkId }) => estate.find('network', networkId)?.name ?? '-').join(' ')
    case 'addresses':
      return adapters.flatMap(({ id }) => estate.referring('address', 'adapterId', id).map(({ ip }) => ip)).join(' ')
    case 'made for':
      return guest.purpose ?? ''
    case 'system':
      return estate.find('system', guest.systemId)?.name ?? ''
    case 'group':
      return guest.group ?? ''
    case 'backed up to':
      return estate.find('store', guest.backupStoreId)?.name ?? ''
    case 'tags':
      return guest.tags.join(' ')
    case 'note':
      return guest.note
    case 'leave out':
      return ''
  }
}

/** Every guest as CSV (RFC 4180), a line each; texts that a spreadsheet would take for a formula are defused. */
export function guestsCsv(estate: Estate): string {
  const columns = guestColumns.filter((column) => column !== 'leave out')
  const rows = inNameOrder(estate.all('guest'))
  return `${Papa.unparse({ fields: columns, data: rows.map((guest) => columns.map((column) => cellOf(estate, guest, column))) }, { escapeFormulae: true })}\r\n`
}

export type GuestTable = Table<GuestColumn>

/** Columns of sizes: a bare number in them needs the column's unit. */
export const guestSizeColumns: ReadonlySet<GuestColumn> = new Set(['memory', 'disks'])

const guesses: readonly (readonly [RegExp, GuestColumn])[] = [
  [/^(name|guest|vm|machine|server)$/i, 'name'],
  [/host|node/i, 'host'],
  [/state|status|power/i, 'state'],
  [/cpu|processor|core/i, 'vCPU'],
  [/mem|ram/i, 'memory'],
  [/disk|storage|drive/i, 'disks'],
  [/network|vlan/i, 'networks'],
  [/address|^ip/i, 'addresses'],
  [/made for|purpose|role|use/i, 'made for'],
  [/system|^os$/i, 'system'],
  [/group/i, 'group'],
  [/back/i, 'backed up to'],
  [/tag/i, 'tags'],
  [/note|comment|remark/i, 'note'],
]
/** The most rows that are read at once. */
const GUEST_ROWS_MAX = 5000

/** Reads a table of guests: CSV with commas, semicolons or tabs, the headings first. @see RFC 4180 */
export const readGuestTable = (text: string): GuestTable | { readonly sentence: string } =>
  readTable<GuestColumn>(text, {
    row: 'a guest',
    rowsMax: GUEST_ROWS_MAX,
    charactersMax: 10_000_000,
    guesses,
    leaveOut: 'leave out',
    numbers: guestSizeColumns,
  })

/** What a table would record: guests added, guests changed, and the lines that cannot be taken. */
export interface GuestImport {
  readonly commands: readonly Command[]
  readonly added: readonly string[]
  readonly changed: readonly string[]
  readonly same: number
  readonly rejected: readonly { readonly line: number; readonly reason: string }[]
}

/**
 * What a table of guests says under a mapping of its columns: a name that is known changes that guest, another adds one.
 * Disks, networks and addresses are taken for new guests only; of known ones they are left as they are.
 */
export function importGuests(estate: Estate, table: GuestTable, mapping: TableMapping<GuestColumn>, context: IdMaker): GuestImport {
  const commands: Command[] = []
  const added: string[] = []
  const changed: string[] = []
  const rejected: { line: number; reason: string }[] = []
  const seen = new Set<string>()
  let same = 0
  for (const [index, row] of table.rows.entries()) {
    const cells = cellsOf(row, mapping)
    const cell = cells.text
    const line = index + 2
    const name = cell('name') ?? ''
    if (name === '') {
      rejected.push({ line, reason: mapping.columns.includes('name') ? 'It has no name.' : 'Choose the column with the names.' })
      continue
    }
    if (seen.has(name.toLowerCase())) {
      rejected.push({ line, reason: `${name} appears twice in the table.` })
      continue
    }
    seen.add(name.toLowerCase())
    const read = readRow(estate, cells)
    if ('reason' in read) {
      rejected.push({ line, reason: `${name}: ${read.reason}` })
      continue
    }
    const known = estate.byKey('guest', { name })[0]
    if (known) {
      const changes = Object.fromEntries(
        Object.entries(read.values).filter(([field, value]) => JSON.stringify(known[field as keyof Guest]) !== JSON.stringify(value)),
      )
      if (Object.keys(changes).length === 0) same++
      else {
        commands.push({ type: 'guest.update', id: known.id, changes })
        changed.push(name)
      }
      continue
    }
    const { vcpu, memoryMiB } = read.values
    if (vcpu === undefined || memoryMiB === undefined) {
      rejected.push({ line, reason: `${name} is new, and needs processors and memory.` })
      continue
    }
    const hostId = read.values.hostId ?? null
    const stores = estate.all('store').filter((store) => store.kind === 'local' && store.hostId === hostId)
    if (hostId && read.disks.length > 0 && stores.length === 0) {
      rejected.push({ line, reason: `${name}: its host has no local store for its disks.` })
      continue
    }
    commands.push(
      ...composeGuest(
        estate,
        {
          guest: { state: 'planned', ...read.values, name, vcpu, memoryMiB },
          disks: read.disks.map((sizeBytes, at) => ({
            use: at === 0 ? 'system' : 'data',
            sizeBytes,
            provisioning: 'thin',
            storeId: hostId ? (stores[0]?.id ?? null) : null,
          })),
          adapters: read.networks.map((networkId, at) => ({
            networkId,
            ip: read.ips[at] ?? null,
            addressing: read.ips[at] ? 'fixed' : 'none',
          })),
        },
        context,
      ),
    )
    added.push(name)
  }
  return { commands, added, changed, same, rejected }
}

interface ReadRow {
  readonly values: Partial<Omit<Guest, 'id'>>
  readonly disks: readonly number[]
  readonly networks: readonly (string | null)[]
  readonly ips: readonly string[]
}

function readRow(estate: Estate, cells: ReturnType<typeof cellsOf<GuestColumn>>): ReadRow | { readonly reason: string } {
  const cell = cells.text
  const values: { -readonly [K in keyof Guest]?: Guest[K] } = {}
  let reason: string | undefined
  const named = (kind: 'host' | 'system' | 'store', field: 'hostId' | 'systemId' | 'backupStoreId') => {
    const text = cell(columnOf[field])
    if (text === undefined) return
    const found = text === '' ? undefined : estate.byKey(kind, { name: text })[0]
    if (text !== '' && !found) reason ??= `there is no ${kind} “${text}”.`
    values[field] = found?.id ?? null
  }
  named('host', 'hostId')
  named('system', 'systemId')
  named('store', 'backupStoreId')
  const vcpu = cell('vCPU')
  if (vcpu) {
    if (/^\d+$/.test(vcpu)) values.vcpu = Number(vcpu)
    else reason ??= `“${vcpu}” is not a number of processors.`
  }
  const memory = cell('memory')
  if (memory) {
    const reading = sizeIn(memory, 'memory', cells)
    if (reading.ok) values.memoryMiB = Math.round(reading.bytes / MiB)
    else reason ??= reading.sentence
  }
  const state = cell('state')?.toLowerCase()
  if (state === 'template') values.kind = 'template'
  else if (state === 'external') values.kind = 'external'
  else if (state) {
    const known =
      ({ on: 'running', off: 'stopped', poweredon: 'running', poweredoff: 'stopped', 'shut off': 'stopped' } as const)[state] ?? state
    if (guestStates.some((one) => one === known)) values.state = known as Guest['state']
    else reason ??= `“${state}” is not a state of a guest.`
  }
  for (const field of ['purpose', 'group'] as const) {
    const text = cell(columnOf[field])
    if (text !== undefined) values[field] = text === '' ? null : text
  }
  const note = cell('note')
  if (note !== undefined) values.note = note
  const tags = cell('tags')
  if (tags !== undefined)
    values.tags = [
      ...new Set(
        tags
          .toLowerCase()
          .split(/[\s,;#]+/)
          .filter(Boolean),
      ),
    ].sort()
  const disks = (cell('disks') ?? '')
    .split('+')
    .map((text) => text.trim())
    .filter(Boolean)
    .flatMap((text) => {
      const reading = sizeIn(text, 'disks', cells)
      if (reading.ok) return [reading.bytes]
      reason ??= reading.sentence
      return []
    })
  const networks = (cell('networks') ?? '')
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map((text) => {
      const network = text === '-' ? undefined : estate.byKey('network', { name: text })[0]
      if (text !== '-' && !network) reason ??= `there is no network “${text}”.`
      return network?.id ?? null
    })
  const ips = (cell('addresses') ?? '').split(/[\s,;]+/).filter(Boolean)
  for (const [field, value] of Object.entries({ name: cell('name'), ...values })) {
    const reading = readField(kinds.guest.fields[field as keyof typeof kinds.guest.fields], value)
    if (!reading.ok) reason ??= reading.sentence
  }
  return reason ? { reason } : { values, disks, networks, ips }
}

/** A size in a cell. A share of something is not the size of a machine to be made. */
function sizeIn(text: string, column: 'memory' | 'disks', cells: ReturnType<typeof cellsOf<GuestColumn>>): SizeReading {
  const context = column === 'memory' ? 'memory' : 'disk'
  if (text.endsWith('%') || (cells.unit(column) === '%' && /^[\d.,\s]+$/.test(text)))
    return {
      ok: false,
      sentence: `“${text}” is a share in percent, not a size. Leave the column out, or import it as observations.`,
    }
  return parseSize(text, context, cells.hints(column))
}
