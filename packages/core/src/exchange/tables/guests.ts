import type { Command } from '../../commands/index.js'
import { adaptersOf, disksOf, guestStates, kinds, type Guest } from '../../estate/index.js'
import { composeGuest } from '../../guests/index.js'
import { MiB } from '../../units/index.js'
import { guestCell, guestFieldColumns } from './guest-cells.js'
import { guestColumns, type GuestColumn } from './guest-columns.js'
import { findSystem } from '../find-system.js'
import { BY_DHCP, headings } from './headings.js'
import { changesTo, tagsIn, type RowContext, type RowNotes, type TableKind } from './row.js'

type Notes = RowNotes<GuestColumn>

/** States as others call them. */
const STATES = {
  on: 'running',
  up: 'running',
  started: 'running',
  poweredon: 'running',
  off: 'stopped',
  down: 'stopped',
  poweredoff: 'stopped',
  shutoff: 'stopped',
  halted: 'stopped',
  // As the same is said in German, French and Spanish, without accents.
  an: 'running',
  ein: 'running',
  eingeschaltet: 'running',
  lauft: 'running',
  laeuft: 'running',
  laufend: 'running',
  gestartet: 'running',
  inbetrieb: 'running',
  aktiv: 'running',
  aus: 'stopped',
  ausgeschaltet: 'stopped',
  heruntergefahren: 'stopped',
  angehalten: 'stopped',
  gestoppt: 'stopped',
  geplant: 'planned',
  vorlage: 'template',
  allume: 'running',
  allumee: 'running',
  demarre: 'running',
  demarree: 'running',
  enmarche: 'running',
  enfonction: 'running',
  enfonctionnement: 'running',
  enservice: 'running',
  actif: 'running',
  active: 'running',
  eteint: 'stopped',
  eteinte: 'stopped',
  arrete: 'stopped',
  arretee: 'stopped',
  prevu: 'planned',
  prevue: 'planned',
  modele: 'template',
  encendido: 'running',
  encendida: 'running',
  enmarcha: 'running',
  enejecucion: 'running',
  enfuncionamiento: 'running',
  activo: 'running',
  activa: 'running',
  apagado: 'stopped',
  apagada: 'stopped',
  detenido: 'stopped',
  detenida: 'stopped',
  parado: 'stopped',
  parada: 'stopped',
  previsto: 'planned',
  prevista: 'planned',
  plantilla: 'template',
} as const
const KINDS = ['template', 'external'] as const
/** What a machine is called, and where another column has its name, what it runs on. */
const SERVER = /^(?:server|rechner|serveur|servidor)$/i

const fields = kinds.guest.fields

/** A table of guests: a known name changes that guest, another adds one. */
export const guestTable: TableKind<GuestColumn> = {
  holds: 'guest',
  columns: guestColumns,
  // The order decides where two would fit.
  guesses: [
    [
      /^(?:(?:vm|guest|machine|server|host|rechner|maschinen?|gast|computer)[\s_-]*name|name|guest|vm|virtual machine|machine|gast|(?:virtuelle )?maschine|bezeichnung|nom|nom (?:de (?:la )?|du )?(?:vm|machine|serveur)|machine virtuelle|nombre|nombre (?:de (?:la )?|del )?(?:vm|m[aá]quina|servidor)|m[aá]quina(?: virtual)?)$/i,
      'name',
    ],
    [SERVER, 'name'],
    [headings.mac, 'MACs'],
    [headings.vlan, 'VLAN'],
    [headings.purpose, 'made for'],
    [headings.sort, 'leave out'],
    [headings.sortOf, 'leave out'],
    [headings.measured, 'leave out'],
    [/patch|updated|aktualisiert|mise [aà] jour|actualiza/i, 'last patched'],
    [/back|sicherung|sauvegard|copia de seguridad|respaldo/i, 'backed up to'],
    [/host|\bnodes?\b|hypervisor|\bwirt\b|knoten|h[oô]te\b|n(?:œ|oe)ud|anfitri[oó]n|\bnodo\b/i, 'host'],
    [headings.disks, 'disks'],
    [headings.cpu, 'vCPU'],
    [headings.memory, 'memory'],
    [/contact|phone|mail|telefon|kontakt|ansprech|t[eé]l[eé]phone|contacto|correo/i, 'contact'],
    [headings.network, 'networks'],
    [headings.address, 'addresses'],
    [headings.state, 'state'],
    [
      /owner|responsible|department|besitzer|eigent[uü]mer|verantwortlich|zust[aä]ndig|abteilung|propri[eé]taire|responsable|due[nñ]o|propietari|departamento/i,
      'owner',
    ],
    [/critical|priority|kritik|kritisch|priorit|critici?t|critique|cr[ií]tic|prioridad/i, 'criticality'],
    [/system|^os$|syst[eè]me|sistema/i, 'system'],
    [/group|gruppe|groupe|grupo/i, 'group'],
    [headings.tags, 'tags'],
    [headings.note, 'note'],
    [SERVER, 'host'],
  ],
  sizes: new Set(['memory', 'disks']),
  several: new Set(['disks']),
  sheetName: /guest|\bvms?\b|virtual|virtuel|maschine|machine|m[aá]quina|g[aä]ste/i,
  read(cells, notes, context) {
    const name = notes.name('name', fields.name)
    const known = name === undefined ? undefined : context.estate.byKey('guest', { name })[0]
    const read = valuesOf(cells, notes, context)
    if (name === undefined) return undefined
    if (known) return { name, isKnown: true, commands: changesOf(known, read, notes, context) }
    return { name, isKnown: false, commands: additionsOf(name, read, notes, context) }
  },
}

interface Read {
  readonly values: Partial<Omit<Guest, 'id'>>
  readonly disks: readonly number[]
  readonly adapters: readonly PlannedAdapter[]
}

interface PlannedAdapter {
  networkId: string | null
  ips: string[]
  mac: string | null
}

function valuesOf(cells: Parameters<TableKind<GuestColumn>['read']>[0], notes: Notes, { estate }: RowContext): Read {
  const values: { -readonly [K in keyof Guest]?: Guest[K] } = {}
  const set = <K extends keyof Guest>(field: K, value: Guest[K] | undefined) => {
    if (value !== undefined) values[field] = value
  }
  set('hostId', notes.named('host', 'host'))
  set('backupStoreId', notes.named('store', 'backed up to'))
  set('vcpu', notes.whole('vCPU', fields.vcpu))
  const memory = notes.size('memory', 'memory')
  if (memory !== undefined) set('memoryMiB', notes.field('memory', fields.memoryMiB, Math.round(memory / MiB)))
  const state = notes.choice('state', [...guestStates, ...KINDS], STATES)
  if (state === 'template' || state === 'external') set('kind', state)
  else set('state', state)
  // A cell that is empty takes away what is recorded: own exports read back unchanged.
  for (const [column, field] of guestFieldColumns)
    if (cells.text(column) === '') set(field, null)
    else set(field, field === 'patchedOn' ? notes.day(column, fields[field]) : notes.field(column, fields[field]))
  const system = cells.text('system')
  if (system !== undefined) {
    const found = system === '' ? null : findSystem(estate, system)
    if (found === undefined) notes.remark(`There is no system “${system}”; it is kept in the note.`)
    else set('systemId', found?.id ?? null)
    if (found && found.name !== system) notes.remark(`“${system}” is taken as ${found.name}.`)
    set('note', withSystem(notes.note('note'), found === undefined ? system : undefined))
  } else set('note', notes.note('note'))
  const tags = cells.text('tags')
  if (tags !== undefined) set('tags', tagsIn(tags))
  return { values, disks: notes.sizes('disks', 'disk'), adapters: adaptersIn(notes) }
}

const withSystem = (note: string | undefined, system: string | undefined): string | undefined =>
  system === undefined ? note : [note, `System: ${system}`].filter(Boolean).join('\n')

/** The adapters that a row speaks of: by its networks, its VLANs, its addresses and its MACs. */
function adaptersIn(notes: Notes): readonly PlannedAdapter[] {
  const adapters: PlannedAdapter[] = []
  const plug = (networkId: string | null) => adapters.push({ networkId, ips: [], mac: null })
  for (const text of notes.list('networks')) plug(text === '-' ? null : (notes.network('networks', text) ?? null))
  for (const text of notes.list('VLAN')) {
    const networkId = notes.network('VLAN', text)
    if (networkId !== undefined && !adapters.some((adapter) => adapter.networkId === networkId)) plug(networkId)
  }
  for (const text of notes.list('addresses')) {
    if (BY_DHCP.test(text)) continue
    const at = notes.address('addresses', text)
    if (!at) continue
    const { networkId } = at.subnet
    const own = adapters.find((adapter) => adapter.networkId === networkId) ?? adapters.find((adapter) => adapter.networkId === null)
    if (own) Object.assign(own, { networkId, ips: [...own.ips, at.ip] })
    else adapters.push({ networkId, ips: [at.ip], mac: null })
  }
  for (const [at, text] of notes.list('MACs').entries()) {
    const mac = text === '-' ? null : notes.field<string>('MACs', kinds.adapter.fields.mac, text)
    if (mac === undefined) continue
    if (!adapters[at]) plug(null)
    const adapter = adapters[at]
    if (adapter) adapter.mac = mac
  }
  if (notes.list('addresses').some((text) => BY_DHCP.test(text)))
    notes.remark(
      `It gets its address by DHCP; ${adapters.length > 0 ? 'none is recorded' : 'no network is named, so no adapter is made for it'}.`,
    )
  return adapters
}

/** What a row changes of a guest that is recorded; devices that differ are left as they are, and named. */
function changesOf(known: Guest, { values, disks, adapters }: Read, notes: Notes, { estate }: RowContext): readonly Command[] {
  const changes = changesTo(known, values)
  const commands: Command[] = Object.keys(changes).length > 0 ? [{ type: 'guest.update', id: known.id, changes }] : []
  const own = adaptersOf(estate, known.id)
  const isLikeOwn = adapters.length === own.length && adapters.every(({ networkId }, at) => (networkId ?? null) === own[at]?.networkId)
  for (const [at, { mac }] of adapters.entries()) {
    const adapter = own[at]
    if (!mac || !adapter || adapter.mac === mac) continue
    if (adapter.mac === null || isLikeOwn) commands.push({ type: 'adapter.update', id: adapter.id, changes: { mac } })
  }
  const kept = (['disks', 'networks', 'addresses'] as const).filter((column) => {
    const text = notes.text(column)
    if (text === undefined) return false
    if (column === 'disks')
      return !sameList(
        disks.map(String),
        disksOf(estate, known.id).map(({ sizeBytes }) => String(sizeBytes)),
      )
    const asRead =
      column === 'networks'
        ? adapters.map(({ networkId }) => estate.find('network', networkId)?.name ?? '-')
        : adapters.flatMap(({ ips }) => ips).toSorted()
    const recorded = guestCell(estate, known, column).split(' ').filter(Boolean)
    return !sameList(asRead, column === 'addresses' ? recorded.toSorted() : recorded)
  })
  if (kept.length > 0) notes.remark(`${sentenceList(kept)} differ from the record and are left as they are: change them on its page.`)
  return commands
}

const sameList = (a: readonly string[], b: readonly string[]): boolean => a.length === b.length && a.every((one, at) => one === b[at])
const sentenceList = (words: readonly string[]): string => {
  const list = words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1) ?? ''}` : (words[0] ?? '')
  return `${list.charAt(0).toUpperCase()}${list.slice(1)}`
}

/** The commands that record a new guest with its devices. A MAC is made for a machine that is planned, never for one that exists. */
function additionsOf(
  name: string,
  { values, disks, adapters }: Read,
  notes: Notes,
  { estate, ids, stateOfNew }: RowContext,
): readonly Command[] {
  const { vcpu, memoryMiB } = values
  const missing = [vcpu === undefined && 'processors', memoryMiB === undefined && 'memory'].filter(Boolean)
  // What was refused for another reason is not missing.
  if (missing.length > 0 && !notes.problems.some(({ column }) => column === 'vCPU' || column === 'memory'))
    notes.refuse(vcpu === undefined ? 'vCPU' : 'memory', `It is new, and needs ${missing.join(' and ')}.`)
  const hostId = values.hostId ?? null
  const stores = hostId === null ? [] : estate.referring('store', 'hostId', hostId).filter((store) => store.kind === 'local')
  if (hostId && disks.length > 0 && stores.length === 0)
    notes.refuse(
      'disks',
      `${estate.find('host', hostId)?.name ?? 'Its host'} has no local store for its disks. Add one to it, or leave the column out.`,
    )
  if (vcpu === undefined || memoryMiB === undefined) return []
  const state = values.kind === 'template' ? 'stopped' : (values.state ?? stateOfNew)
  const isPlanned = state === 'planned' && values.kind === undefined
  return composeGuest(
    estate,
    {
      guest: { ...values, state, name, vcpu, memoryMiB },
      disks: disks.map((sizeBytes, at) => ({
        use: at === 0 ? 'system' : 'data',
        sizeBytes,
        provisioning: 'thin',
        storeId: hostId ? (stores[0]?.id ?? null) : null,
      })),
      adapters: adapters.map(({ networkId, ips, mac }) => ({
        networkId,
        ip: ips[0] ?? null,
        moreIps: ips.slice(1),
        addressing: ips[0] ? ('fixed' as const) : ('none' as const),
        ...(mac !== null || !isPlanned ? { mac } : {}),
      })),
    },
    ids,
  )
}
