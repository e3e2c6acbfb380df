import { attempt, type Command, type CommandContext } from '../commands/index.js'
import {
  adaptersOf,
  derivedId,
  disksOf,
  holderPhrase,
  kinds,
  readField,
  type Adapter,
  type Estate,
  type EstateBuilder,
  type Guest,
  type Subnet,
} from '../estate/index.js'
import {
  contains,
  familyOf,
  freeRuns,
  inPool,
  ipFromNumber,
  ipToNumber,
  nextFree,
  preferredSubnetFor,
  prefixOf,
  usableRange,
} from '../networks/index.js'
import { crowdedBy } from '../plans/index.js'
import { demandOf, type StoreRoom } from '../placement/index.js'
import { oncePer, type Severity } from '../lists/index.js'
import { expandNames } from './name-pattern.js'
import { CopyPlacer, type CopyNeed, type CopyPlace, type CopySpread } from './place-copies.js'
import { templateOf } from './identity.js'
import { partsLeft } from './identity-parts.js'
import { olderVersions } from './versions.js'

export type CloneCommand = Extract<Command, { type: 'guest.clone' }>

/** How copies come to addresses. */
export const addressings = ['none', 'next free, fixed', 'next free, reserved', 'listed, fixed', 'listed, reserved'] as const
export type Addressing = (typeof addressings)[number]

/** What a batch shall be, as one asks for it. */
export interface BatchWish {
  readonly templateId: string
  /** Patterns and names: see `expandNames`. */
  readonly names: string
  readonly spread: CopySpread
  /** For all on one host: which. */
  readonly hostId: string | null
  readonly addressing: Addressing
  /** For listed ones: one to a line, or parted by commas or spaces; `a-b` is a run. */
  readonly addressList: string
  /** For an adapter of the template, another network. */
  readonly networks: Readonly<Record<string, string>>
  readonly provisioning: 'thin' | 'thick' | null
  /** The store of all disks; worked out for each when null. */
  readonly storeId: string | null
  readonly vcpu: number | null
  readonly memoryMiB: number | null
  readonly systemDiskBytes: number | null
  readonly purpose: string | null
  readonly group: string | null
  readonly tags: readonly string[] | null
  /** Whether each copy is generalised on an isolated first boot. */
  readonly isIsolated: boolean
}

/** What a person wrote into a row, in place of what was worked out. */
export interface RowEdit {
  readonly name?: string
  readonly hostId?: string
  readonly address?: string
  readonly storeId?: string
  readonly vcpu?: number
  readonly memoryMiB?: number
}

export interface RowFinding {
  readonly severity: Severity
  readonly sentence: string
}

/** One copy as it would be made. */
export interface BatchRow {
  readonly name: string
  /** The command that makes it; undefined while it cannot be made. */
  readonly command: CloneCommand | undefined
  readonly place: CopyPlace
  readonly address: string | undefined
  readonly vcpu: number
  readonly memoryMiB: number
  readonly findings: readonly RowFinding[]
}

/** A batch composed: a row for each copy. */
export interface ComposedBatch {
  readonly rows: readonly BatchRow[]
  /** The commands of all rows, in order; undefined while one of them cannot be made. */
  readonly commands: readonly CloneCommand[] | undefined
  /** What is wrong with the wish as a whole. */
  readonly problems: readonly RowFinding[]
  /** The stores with all copies on them. */
  readonly stores: readonly StoreRoom[]
  /** How many rows have no address because none is left. */
  readonly withoutAddress: number
}

/** The wish that one begins with: one copy, as the template is. */
export const usualWish = (estate: Estate, template: Guest, isIsolated: boolean): BatchWish => ({
  templateId: template.id,
  names: nextName(estate, template),
  spread: 'in turn',
  hostId: null,
  addressing: 'none',
  addressList: '',
  networks: {},
  provisioning: null,
  storeId: null,
  vcpu: null,
  memoryMiB: null,
  systemDiskBytes: null,
  purpose: null,
  group: null,
  tags: null,
  isIsolated,
})

/** A name as what stands before the number at its end, and that number. @example countedName('edge-12') // { stem: 'edge-', number: 12 } */
function countedName(name: string): { readonly stem: string; readonly number: number } {
  let end = name.length
  while (end > 0 && /\d/.test(name[end - 1] ?? '')) end--
  return { stem: name.slice(0, end), number: end === name.length ? 1 : Number(name.slice(end)) }
}

/** What the first version of a template is called: the later ones have a version in their names. */
const firstNameOf = (estate: Estate, template: Guest): string => (olderVersions(estate, template.id).at(-1) ?? template).name

/** `server-3` after `server-1` and `server-2`: the name of a template with the first number that is free. */
function nextName(estate: Estate, template: Guest): string {
  const { stem: named } = countedName(firstNameOf(estate, template).replace(/^tpl-/, ''))
  const stem = named.endsWith('-') ? named.slice(0, -1) : named
  for (let number = 1; ; number++) if (estate.byKey('guest', { name: `${stem}-${number}` }).length === 0) return `${stem}-${number}`
}

/**
 * The pattern for so many copies of a template, from the first number that is free.
 *
 * @example patternFor(estate, template, 5) // 'server-{1..5}'
 */
export function patternFor(estate: Estate, template: Guest, count: number): string {
  const first = nextName(estate, template)
  const { stem, number } = countedName(first)
  return count === 1 ? first : `${stem}{${number}..${number + count - 1}}`
}

/** Times mean nothing while it is composed. */
const contextOf = (id: string): CommandContext => ({ now: '1970-01-01T00:00:00.000Z', revision: 1, newId: () => derivedId(id, 'made') })

/**
 * Composes a batch: names, places, stores, addresses and MACs of every copy, and what speaks against each. Keys of open plans are taken.
 *
 * @param idOf the id of the copy in a row, the same each time
 * @param edits what a person wrote into rows, by their position from 0
 * @example composeBatch(estate, { ...usualWish(estate, template, false), names: 'edge-{1..5}' }, (row) => ids[row], new Map()).rows[0].place.why
 */
export function composeBatch(
  estate: Estate,
  wish: BatchWish,
  idOf: (row: number) => string,
  edits: ReadonlyMap<number, RowEdit> = new Map(),
): ComposedBatch {
  const template = estate.find('guest', wish.templateId)
  const nothing = (sentence: string): ComposedBatch => ({
    rows: [],
    commands: undefined,
    problems: [{ severity: 'error', sentence }],
    stores: [],
    withoutAddress: 0,
  })
  if (!template) return nothing('The template is not recorded any more; choose another.')
  const names = expandNames(wish.names)
  if (!names.ok) return nothing(names.sentence)
  const composing = new Composing(estate, template, wish)
  const rows = names.names.map((name, index) => composing.row(name, idOf(index), edits.get(index) ?? {}))
  const commands = rows.flatMap(({ command }) => command ?? [])
  return {
    rows,
    commands: commands.length === rows.length ? commands : undefined,
    problems: [...problemsOf(estate, template, wish), ...composing.problems],
    stores: composing.stores,
    withoutAddress: rows.filter(({ findings }) => findings.some(({ sentence }) => sentence === NO_ADDRESS)).length,
  }
}

const NO_ADDRESS = 'No address is left for it.'

/** What is wrong with the wish whatever the rows are. */
function problemsOf(estate: Estate, template: Guest, { isIsolated }: BatchWish): readonly RowFinding[] {
  const version = templateOf(estate, template.id)
  const left = partsLeft(version, estate.find('system', template.systemId))
  const problems: RowFinding[] = []
  if (version?.withdrawnOn)
    problems.push({
      severity: 'error',
      sentence: `Version ${version.version} is withdrawn since ${version.withdrawnOn}; copy a newer one.`,
    })
  if (template.mediumId)
    problems.push({ severity: 'warning', sentence: `${template.name} has a medium attached; eject it before it is copied.` })
  if (template.state === 'running' && template.kind === 'machine')
    problems.push({ severity: 'warning', sentence: `${template.name} is running; its copy would be only crash-consistent. Stop it first.` })
  if (left.length > 0 && !isIsolated)
    problems.push({
      severity: 'warning',
      sentence: `${template.name} is not recorded as free of its ${left.map(({ label }) => label).join(', ')}: the copies start with them. Generalise it once, or boot each copy isolated first.`,
    })
  return problems
}

/** What came of copies that were tried on an estate, by their commands: a key in one row leaves the others as they were. */
const triedOn = oncePer((_: Estate) => new Map<string, string | undefined>())
const TRIED_MAX = 10_000
/** An estate with what plans would make, for each. */
const crowdOf = oncePer(crowdedBy)

/** A batch while it is composed, row after row. */
class Composing {
  readonly problems: RowFinding[] = []
  readonly #estate: Estate
  readonly #template: Guest
  readonly #wish: BatchWish
  readonly #placer: CopyPlacer
  /** With what plans would make: that is spoken for, and takes no room yet. */
  readonly #crowded: Estate
  /** Names and addresses that rows of this batch have, with the row. */
  readonly #names = new Map<string, number>()
  readonly #given = new Map<string, number>()
  #rows = 0
  /** With the copies so far on their hosts, for subnets that hand out by host. */
  #placed: EstateBuilder | undefined
  readonly #need: CopyNeed
  readonly #adapter: Adapter | undefined
  readonly #networkId: string | null
  readonly #listed: readonly string[]
  #listedAt = 0
  #free: Iterator<string, undefined> | undefined

  constructor(estate: Estate, template: Guest, wish: BatchWish) {
    this.#estate = estate
    this.#template = template
    this.#wish = wish
    this.#crowded = crowdOf(estate)
    const adapters = adaptersOf(estate, template.id)
    const networkOf = (adapter: Adapter) => wish.networks[adapter.id] ?? adapter.networkId
    this.#adapter = adapters.find((adapter) => networkOf(adapter) !== null)
    this.#networkId = this.#adapter ? networkOf(this.#adapter) : null
    this.#need = {
      vcpu: wish.vcpu ?? template.vcpu,
      memoryMiB: wish.memoryMiB ?? template.memoryMiB,
      latency: template.latency,
      disks: disksOf(estate, template.id).map((disk, index) => ({
        ...disk,
        provisioning: wish.provisioning ?? disk.provisioning,
        sizeBytes: index === 0 ? Math.max(disk.sizeBytes, wish.systemDiskBytes ?? 0) : disk.sizeBytes,
      })),
    }
    this.#placer = new CopyPlacer(estate, wish.spread, {
      ...demandOf(estate, template),
      kind: 'machine',
      isRunning: false,
      guestId: undefined,
      mediumId: null,
      backupStoreId: null,
      networkIds: [...new Set(adapters.flatMap((adapter) => networkOf(adapter) ?? []))],
    })
    const list = readAddressList(wish.addressing.startsWith('listed') ? wish.addressList : '')
    this.#listed = list.addresses
    if (list.sentence) this.problems.push({ severity: 'error', sentence: list.sentence })
    if (wish.addressing !== 'none' && !this.#adapter)
      this.problems.push({ severity: 'error', sentence: `${template.name} has no adapter on a network, so its copies get no address.` })
  }

  get stores(): readonly StoreRoom[] {
    return this.#placer.stores
  }

  row(name: string, id: string, edit: RowEdit): BatchRow {
    const wish = this.#wish
    const findings: RowFinding[] = []
    const need = {
      ...this.#need,
      storeId: edit.storeId ?? wish.storeId,
      vcpu: edit.vcpu ?? this.#need.vcpu,
      memoryMiB: edit.memoryMiB ?? this.#need.memoryMiB,
    }
    const place = this.#placer.place(need, edit.hostId ?? (wish.spread === 'one host' ? (wish.hostId ?? this.#template.hostId) : null))
    if (place.verdict !== 'fits') findings.push({ severity: place.verdict === 'no' ? 'error' : 'warning', sentence: place.why })
    const known = edit.name ?? name
    const reading = readField(kinds.guest.fields.name, known)
    if (!reading.ok) findings.push({ severity: 'error', sentence: reading.sentence })
    const address = this.#address(edit, place, findings)
    const command = place.host && reading.ok ? this.#command(String(reading.value), id, need, place, edit, address) : undefined
    if (command) {
      const sentence = this.#inBatch(this.#names, command.name.toLowerCase(), `Name ${command.name}`) ?? this.#refusalOf(command)
      if (sentence) findings.push({ severity: 'error', sentence })
      if (this.#placed) attempt(this.#placed, [command], contextOf(id))
    }
    this.#rows++
    const isMade = findings.every(({ severity }) => severity !== 'error')
    return { name: known, command: isMade ? command : undefined, place, address, vcpu: need.vcpu, memoryMiB: need.memoryMiB, findings }
  }

  /** The address of the next row, with what speaks against it. */
  #address(edit: RowEdit, place: CopyPlace, findings: RowFinding[]): string | undefined {
    const { addressing } = this.#wish
    const written = edit.address?.trim()
    if (written === '') return undefined
    const error = (sentence: string) => void findings.push({ severity: 'error', sentence })
    const found = written ?? this.#next(preferredSubnetFor(this.#estate, this.#networkId, null), place)
    if (found === undefined) {
      if (addressing !== 'none' && this.#adapter) error(NO_ADDRESS)
      return undefined
    }
    const reading = readField(kinds.address.fields.ip, found)
    if (!reading.ok) {
      error(reading.sentence)
      return undefined
    }
    const ip = String(reading.value)
    const subnet = preferredSubnetFor(this.#estate, this.#networkId, ip)
    const network = this.#estate.find('network', this.#networkId)?.name ?? 'no network'
    if (!subnet || !contains(prefixOf(subnet), ip)) error(`${ip} is in no subnet of ${network}.`)
    else {
      const [{ first, last }, at] = [usableRange(prefixOf(subnet)), ipToNumber(ip)]
      if (at < first || at > last) error(`${ip} is not assignable in ${subnet.prefix}.`)
      if (ip === subnet.gateway) error(`${ip} is the gateway of ${network}.`)
      const [holder] = this.#crowded.byKey('address', { ip }).filter(({ subnetId }) => subnetId === subnet.id)
      const twice = this.#inBatch(this.#given, ip, ip)
      if (holder) error(`${ip} is already used by ${holderPhrase(this.#crowded, 'address', holder)}.`)
      else if (twice) error(twice)
    }
    const pool = subnet && this.#estate.referring('pool', 'subnetId', subnet.id).find((one) => inPool(one, ip))
    if (pool && !addressing.endsWith('reserved'))
      findings.push({ severity: 'warning', sentence: `${ip} is inside a DHCP range; DHCP may hand it to another machine.` })
    const lease = subnet && this.#estate.referring('lease', 'subnetId', subnet.id).find((one) => one.ip === ip)
    if (lease) findings.push({ severity: 'warning', sentence: `${ip} was seen in use by ${lease.mac}.` })
    return ip
  }

  #next(subnet: Subnet | undefined, place: CopyPlace): string | undefined {
    const { addressing } = this.#wish
    if (addressing === 'none' || !subnet) return undefined
    if (addressing.startsWith('listed')) return this.#listed[this.#listedAt++]
    // By host block each depends on where the copy goes; otherwise they follow each other.
    if (subnet.handOut === 'by host block') return nextFree((this.#placed ??= this.#crowded.edit()).estate, subnet, place.host?.id)
    this.#free ??= freeOnes(this.#crowded, subnet)
    for (;;) {
      const { done, value } = this.#free.next()
      if (done) return undefined
      // A person may have written it into an earlier row.
      if (!this.#given.has(value)) return value
    }
  }

  /** A sentence where a row before has the same already; this row has it from now on. */
  #inBatch(taken: Map<string, number>, key: string, what: string): string | undefined {
    const before = taken.get(key)
    if (before === undefined) taken.set(key, this.#rows)
    return before === undefined || before === this.#rows
      ? undefined
      : `${what} is already used by copy ${before + 1} of this batch; choose another.`
  }

  /** Why a copy could not be made beside what is there; worked out once for each that was ever composed on this estate. */
  #refusalOf(command: CloneCommand): string | undefined {
    const known = triedOn(this.#crowded)
    const key = JSON.stringify(command)
    if (known.has(key)) return known.get(key)
    if (known.size > TRIED_MAX) known.clear()
    const outcome = attempt(this.#crowded.edit(), [command], contextOf(command.id ?? ''))
    const sentence = outcome.ok ? undefined : outcome.refusal.message
    known.set(key, sentence)
    return sentence
  }

  #command(name: string, id: string, need: CopyNeed, place: CopyPlace, edit: RowEdit, address: string | undefined): CloneCommand {
    const { provisioning, systemDiskBytes, purpose, group, tags, networks, addressing, isIsolated } = this.#wish
    const disks = disksOf(this.#estate, this.#template.id)
    const at = this.#adapter && address ? { [this.#adapter.id]: address } : undefined
    const given = <T>(key: string, value: T | null | undefined) => (value === null || value === undefined ? {} : { [key]: value })
    return {
      type: 'guest.clone',
      id,
      guestId: this.#template.id,
      name,
      hostId: place.host?.id ?? '',
      stores: Object.fromEntries(disks.flatMap((disk, index) => (place.stores[index] ? [[disk.id, place.stores[index].id]] : []))),
      ...given('vcpu', need.vcpu === this.#template.vcpu ? null : need.vcpu),
      ...given('memoryMiB', need.memoryMiB === this.#template.memoryMiB ? null : need.memoryMiB),
      ...given('provisioning', provisioning),
      ...given('systemDiskBytes', systemDiskBytes),
      ...given('purpose', purpose),
      ...given('group', group),
      ...given('tags', tags),
      ...(Object.keys(networks).length > 0 ? { networks } : {}),
      ...(at ? (addressing.endsWith('reserved') && edit.address === undefined ? { reservations: at } : { addresses: at }) : {}),
      ...(isIsolated ? { isIsolated } : {}),
    }
  }
}

/** The free addresses of a subnet, in the order in which it hands them out. */
function* freeOnes(estate: Estate, subnet: Subnet): Generator<string, undefined> {
  const { family } = prefixOf(subnet)
  const isDown = subnet.handOut === 'from the high end'
  const runs = freeRuns(estate, subnet)
  for (const { first, last } of isDown ? [...runs].reverse() : runs)
    for (let at = isDown ? last : first; at >= first && at <= last; at += isDown ? -1n : 1n) yield ipFromNumber(family, at)
  return undefined
}

/** Longer runs are a mistake. */
const RUN_MAX = 1024

/** Addresses as they were listed; a run `a-b` in one piece. */
function readAddressList(text: string): { readonly addresses: readonly string[]; readonly sentence?: string } {
  const addresses: string[] = []
  for (const word of text.split(/[\s,;]+/).filter(Boolean)) {
    const [from, to, ...more] = word.split('-')
    const reading = readField(kinds.address.fields.ip, from ?? '')
    if (!reading.ok || more.length > 0)
      return { addresses, sentence: `“${word}” is not an address or a run such as 10.61.30.20-10.61.30.29.` }
    if (to === undefined) {
      addresses.push(String(reading.value))
      continue
    }
    const run = runOf(String(reading.value), to)
    if (!run) return { addresses, sentence: `“${word}” is not a run: it goes from a lower to a higher address, over at most ${RUN_MAX}.` }
    addresses.push(...run)
  }
  return { addresses }
}

/** @param to the last address, or the last part of it alone */
function runOf(first: string, to: string): readonly string[] | undefined {
  const last = /^\d+$/.test(to) ? first.slice(0, first.lastIndexOf('.') + 1) + to : to
  const reading = readField(kinds.address.fields.ip, last)
  if (!reading.ok || familyOf(first) !== familyOf(String(reading.value))) return undefined
  const [from, end] = [ipToNumber(first), ipToNumber(String(reading.value))]
  if (end < from || end - from >= BigInt(RUN_MAX)) return undefined
  return Array.from({ length: Number(end - from) + 1 }, (_, index) => ipFromNumber(familyOf(first), from + BigInt(index)))
}
