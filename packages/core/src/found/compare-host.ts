import { type Command } from '../commands/index.js'
import {
  kinds,
  readField,
  type Drive,
  type Estate,
  type Field,
  type Host,
  type MemoryModule,
  type NewRecord,
  type Port,
} from '../estate/index.js'
import type { FoundDrive, FoundHost, FoundPort } from './found.js'
import { formatLabelBytes, formatMbps, formatMiB, formatNumber } from '../units/index.js'
import { drivesIn, levelOf, portsOf } from '../hosts/index.js'

/** One thing, as recorded beside as seen. */
export interface ComparedLine {
  /** Stable within a comparison. */
  readonly key: string
  readonly about: string
  readonly planned: string
  readonly found: string
  readonly isSame: boolean
  /** Commands that record what was found; none where nothing has to change. */
  readonly takeOver: readonly Command[]
  /** Why a person has to decide, where that is not plain from what was found. */
  readonly byHand?: string
}

const NOT_RECORDED = 'not recorded'
const NOT_SEEN = 'not seen'
/** Usable memory differs a little from boot to boot with what firmware takes. */
const MEMORY_TOLERANCE = 0.02
/** Labels are rounded: a 480 GB drive has 480.1 GB. */
const LABEL_TOLERANCE = 0.02

/**
 * Holds what was found on a machine against what is recorded, field by field. Only what was seen is compared: a tool that
 * says nothing about drives raises no missing drive.
 */
export function compareFound(estate: Estate, host: Host, found: FoundHost): readonly ComparedLine[] {
  return [
    ...compareFields(host, found),
    ...compareModules(estate, host, found),
    ...compareDrives(estate, host, found),
    ...comparePorts(estate, host, found),
    ...compareAddresses(estate, host, found),
  ]
}

type Changes = Partial<Omit<Host, 'id'>>
const updateOf = (host: Host, changes: Changes): Command[] => [{ type: 'host.update', id: host.id, changes }]

/** What was found, in the host's own fields and their stored form. */
const inHostFields = ({ cpuFlags, controllers, ...found }: FoundHost) => ({
  ...found,
  ...(cpuFlags === undefined ? {} : { cpuFlags: wordsOf(kinds.host.fields.cpuFlags, cpuFlags) }),
  ...(controllers?.length ? { controllers: wordsOf(kinds.host.fields.controllers, controllers.join(' ')) } : {}),
})

/** A text of words as its field stores it; one that the field refuses stays as it is and is refused when it is taken over. */
function wordsOf(field: Field, text: string): string {
  const reading = readField(field, text)
  return reading.ok && typeof reading.value === 'string' ? reading.value : text
}

function compareFields(host: Host, found: FoundHost): ComparedLine[] {
  const values = inHostFields(found)
  const line = <K extends keyof Changes & keyof typeof values>(
    field: K,
    about: string,
    say: (value: NonNullable<(typeof values)[K]>) => string,
    isSame: (planned: NonNullable<Host[K]>, seen: NonNullable<(typeof values)[K]>) => boolean = (a, b) => (a as unknown) === b,
  ): ComparedLine[] => {
    const seen = values[field]
    if (seen === undefined) return []
    const planned = host[field]
    const same = planned !== null && isSame(planned as never, seen as never)
    return [
      {
        key: field,
        about,
        planned: planned === null ? NOT_RECORDED : say(planned as never),
        found: say(seen as never),
        isSame: same,
        takeOver: same ? [] : updateOf(host, { [field]: seen }),
      },
    ]
  }
  const asIs = (value: string | number) => (typeof value === 'number' ? formatNumber(value, 0) : value)
  return [
    ...line('model', 'model', asIs),
    ...line('processorModel', 'processor', asIs),
    ...line('sockets', 'sockets', asIs),
    ...line('coresPerSocket', 'cores per socket', asIs),
    ...line('threadsPerCore', 'threads per core', asIs),
    ...line('clockMHz', 'clock', (value) => `${value} MHz`),
    ...line('cpuFlags', 'processor flags', (flags) => `${levelOf(flags).level ?? 'below x86-64-v1'}, ${flags.split(' ').length} flags`),
    ...line(
      'memoryMiB',
      'usable memory',
      (value) => formatMiB(value),
      (a, b) => Math.abs(a - b) <= a * MEMORY_TOLERANCE,
    ),
    ...line('memorySlots', 'memory slots', asIs),
    ...line('firmware', 'firmware mode', asIs),
    ...line('secureBoot', 'secure boot', asIs),
    ...line(
      'drawWatts',
      'power draw',
      (value) => `${value} W`,
      (a, b) => b <= a,
    ),
    ...line('controllers', 'storage controllers', asIs),
  ]
}

function compareModules(estate: Estate, host: Host, found: FoundHost): ComparedLine[] {
  if (found.modules.length === 0) return []
  const recorded = new Map(estate.referring('module', 'hostId', host.id).map((one) => [one.slot, one]))
  const say = (module: Pick<MemoryModule, 'sizeMiB' | 'speedMTs'>) =>
    `${formatMiB(module.sizeMiB)}${module.speedMTs ? ` at ${module.speedMTs} MT/s` : ''}`
  const seen = new Set(found.modules.map(({ slot }) => slot))
  return [
    ...found.modules.map((module): ComparedLine => {
      const planned = recorded.get(module.slot)
      const speedMTs = module.speedMTs ?? null
      const isSame =
        planned?.state === 'fitted' && planned.sizeMiB === module.sizeMiB && (speedMTs === null || planned.speedMTs === speedMTs)
      return {
        key: `module-${module.slot}`,
        about: `memory in slot ${module.slot}`,
        planned: planned ? `${say(planned)}${planned.state === 'planned' ? ', planned' : ''}` : NOT_RECORDED,
        found: say({ sizeMiB: module.sizeMiB, speedMTs }),
        isSame,
        takeOver: isSame
          ? []
          : planned
            ? [
                {
                  type: 'module.update',
                  id: planned.id,
                  changes: { sizeMiB: module.sizeMiB, state: 'fitted', ...(speedMTs === null ? {} : { speedMTs }) },
                },
              ]
            : [{ type: 'module.add', record: { hostId: host.id, slot: module.slot, sizeMiB: module.sizeMiB, speedMTs } }],
      }
    }),
    ...[...recorded.values()]
      .filter((module) => module.state === 'fitted' && !seen.has(module.slot))
      .map((module): ComparedLine => ({
        key: `module-${module.slot}`,
        about: `memory in slot ${module.slot}`,
        planned: say(module),
        found: NOT_SEEN,
        isSame: false,
        takeOver: [{ type: 'module.remove', id: module.id }],
      })),
  ]
}

const sayDrive = (bytes: number, kind: string | undefined | null, model: string | undefined | null, serial: string | undefined | null) =>
  [formatLabelBytes(bytes), kind, model, serial && `serial ${serial}`].filter(Boolean).join(', ')

function compareDrives(estate: Estate, host: Host, found: FoundHost): ComparedLine[] {
  if (found.drives.length === 0) return []
  const open = [...drivesIn(estate, host)]
  const take = (matches: (drive: Drive) => boolean) => {
    const at = open.findIndex(matches)
    return at < 0 ? undefined : open.splice(at, 1)[0]
  }
  const isNear = (drive: Drive, seen: FoundDrive) => Math.abs(drive.labelBytes - seen.bytes) <= drive.labelBytes * LABEL_TOLERANCE
  // Serials first, over all drives: only what no serial settles is matched by size.
  const bySerial = new Map(found.drives.map((seen) => [seen, seen.serial ? take((drive) => drive.serial === seen.serial) : undefined]))
  let bay = Math.max(-1, ...drivesIn(estate, host).map(({ position }) => position))
  const lines = found.drives.map((seen): ComparedLine => {
    const planned = bySerial.get(seen) ?? take((drive) => !drive.serial && isNear(drive, seen))
    const known = {
      ...(seen.model ? { model: seen.model } : {}),
      ...(seen.serial ? { serial: seen.serial } : {}),
      ...(seen.kind ? { kind: seen.kind } : {}),
    }
    const isSame =
      planned !== undefined &&
      isNear(planned, seen) &&
      Object.entries(known).every(([field, value]) => planned[field as 'model' | 'serial' | 'kind'] === value)
    const record: NewRecord<'drive'> = { hostId: host.id, position: planned?.position ?? ++bay, labelBytes: seen.bytes, ...known }
    return {
      key: `drive-${seen.serial ?? seen.name}`,
      about: planned ? `drive in bay ${planned.position}` : `new drive ${seen.name}`,
      planned: planned ? sayDrive(planned.labelBytes, planned.kind, planned.model, planned.serial) : NOT_RECORDED,
      found: sayDrive(seen.bytes, seen.kind, seen.model, seen.serial),
      isSame,
      takeOver: isSame
        ? []
        : planned
          ? [{ type: 'drive.update', id: planned.id, changes: { ...known, ...(isNear(planned, seen) ? {} : { labelBytes: seen.bytes }) } }]
          : [{ type: 'drive.add', record }],
    }
  })
  return [
    ...lines,
    ...open.map((drive): ComparedLine => ({
      key: `drive-bay-${drive.position}`,
      about: `drive in bay ${drive.position}`,
      planned: sayDrive(drive.labelBytes, drive.kind, drive.model, drive.serial),
      found: NOT_SEEN,
      isSame: false,
      takeOver: [{ type: 'drive.remove', id: drive.id }],
    })),
  ]
}

const sayPort = (port: {
  name?: string
  mac?: string | null
  speedMbps?: number | undefined
  medium?: string | undefined
  cable?: string | undefined
  driver?: string | null
}) =>
  [
    port.name,
    port.mac,
    port.speedMbps === undefined ? undefined : formatMbps(port.speedMbps),
    port.medium,
    port.cable && `cable ${port.cable}`,
    port.driver && `driver ${port.driver}`,
  ]
    .filter(Boolean)
    .join(', ')

function comparePorts(estate: Estate, host: Host, found: FoundHost): ComparedLine[] {
  if (found.ports.length === 0) return []
  const open = [...portsOf(estate, host)]
  const take = (matches: (port: Port) => boolean) => {
    const at = open.findIndex(matches)
    return at < 0 ? undefined : open.splice(at, 1)[0]
  }
  const byMac = new Map(found.ports.map((seen) => [seen, seen.mac ? take((port) => port.mac === seen.mac) : undefined]))
  const lines = found.ports.map((seen): ComparedLine => {
    const planned = byMac.get(seen) ?? take((port) => port.name === seen.name)
    const known = portFields(seen)
    const isSame = planned !== undefined && Object.entries(known).every(([field, value]) => planned[field as keyof Port] === value)
    return {
      key: `port-${seen.name}`,
      about: planned ? `port ${planned.name}` : `new port ${seen.name}`,
      planned: planned ? sayPort(planned) : NOT_RECORDED,
      found: sayPort(known),
      isSame,
      takeOver: isSame
        ? []
        : planned
          ? [{ type: 'port.update', id: planned.id, changes: known }]
          : [{ type: 'port.add', record: { hostId: host.id, ...known, name: seen.name } }],
    }
  })
  return [
    ...lines,
    ...open.map((port): ComparedLine => ({
      key: `port-${port.name}`,
      about: `port ${port.name}`,
      planned: sayPort(port),
      found: NOT_SEEN,
      isSame: false,
      takeOver: [{ type: 'port.remove', id: port.id }],
    })),
  ]
}

/** What was seen of a port, in the record's own fields; what was not seen is left out. */
function portFields(seen: FoundPort): Partial<Pick<Port, 'name' | 'mac' | 'speedMbps' | 'cable' | 'driver' | 'medium'>> {
  return {
    name: seen.name,
    ...(seen.mac ? { mac: seen.mac } : {}),
    ...(seen.speedMbps ? { speedMbps: seen.speedMbps } : {}),
    ...(seen.hasLink === undefined ? {} : { cable: seen.hasLink ? ('present' as const) : ('missing' as const) }),
    ...(seen.driver ? { driver: seen.driver.toLowerCase() } : {}),
    ...(seen.isWireless ? { medium: 'wireless' as const } : seen.isFibre ? { medium: 'fibre' as const } : {}),
  }
}

function compareAddresses(estate: Estate, host: Host, found: FoundHost): ComparedLine[] {
  if (found.addresses.length === 0) return []
  const planned = estate.referring('address', 'hostId', host.id).map((address) => ({
    ip: address.ip,
    length: Number(estate.find('subnet', address.subnetId)?.prefix.split('/')[1]),
  }))
  const seen = new Map(found.addresses.map((address) => [address.ip, address]))
  return planned.map(({ ip, length }): ComparedLine => {
    const there = seen.get(ip)
    return {
      key: `address-${ip}`,
      about: `address ${ip}`,
      planned: `${ip}/${length}`,
      found: there
        ? `${ip}/${there.length} on ${there.port}`
        : `${NOT_SEEN}; there are ${found.addresses.map((one) => `${one.ip}/${one.length}`).join(', ')}`,
      isSame: there?.length === length,
      // Which subnet another address belongs to is a decision, not something to be taken over.
      takeOver: [],
    }
  })
}

/** The commands that keep a line as a finding, in place of an older one about the same thing. */
export function keepAsFinding(
  estate: Estate,
  of: { readonly hostId: string } | { readonly guestId: string },
  line: ComparedLine,
  source: string,
  seenAt: string,
): readonly Command[] {
  const values = { about: line.about, planned: line.planned, found: line.found, source, seenAt }
  const old = estate.byKey('deviation', { ...of, about: line.about })[0]
  return old ? [{ type: 'deviation.update', id: old.id, changes: values }] : [{ type: 'deviation.add', record: { ...of, ...values } }]
}

/** Commands that take over several lines, and take away what was kept as a finding about them and about lines that now agree. */
export function takeOver(estate: Estate, host: Host, lines: readonly ComparedLine[], all: readonly ComparedLine[]): readonly Command[] {
  const settled = new Set([...lines, ...all.filter(({ isSame }) => isSame)].map(({ about }) => about))
  const deviations = estate.referring('deviation', 'hostId', host.id).filter(({ about }) => settled.has(about))
  // All changes of the host itself are said as one, so that the logbook has one line for them.
  const changes = Object.assign(
    {},
    ...lines.flatMap(({ takeOver: commands }) => commands.flatMap((one) => (one.type === 'host.update' ? [one.changes] : []))),
  ) as Changes
  return [
    ...(Object.keys(changes).length > 0 ? updateOf(host, changes) : []),
    ...inOrder(
      estate,
      lines.flatMap(({ takeOver: commands }) => commands.filter(({ type }) => type !== 'host.update')),
    ),
    ...deviations.map((deviation): Command => ({ type: 'deviation.remove', id: deviation.id })),
  ]
}

/** Commands in an order in which no name, bay or slot is taken when it is asked for: what goes first, then changes, then what is new. */
function inOrder(estate: Estate, commands: readonly Command[]): readonly Command[] {
  const removals = commands.filter(({ type }) => type.endsWith('.remove'))
  const gone = new Set(removals.flatMap((one) => ('id' in one ? [one.id] : [])))
  const additions = commands.filter(({ type }) => type.endsWith('.add'))
  const others = commands.filter((one) => !removals.includes(one) && !additions.includes(one))
  const renames = others.flatMap((one) => (one.type === 'port.update' && one.changes.name !== undefined ? [one] : []))
  const names = new Map(renames.flatMap(({ id }) => (gone.has(id) ? [] : [[id, estate.find('port', id)?.name] as const])))
  const ordered: Command[] = []
  const open = [...renames]
  while (open.length > 0) {
    const isFree = ({ id, changes }: (typeof renames)[number]) => ![...names].some(([other, name]) => other !== id && name === changes.name)
    const at = open.findIndex(isFree)
    const [next] = open.splice(Math.max(at, 0), 1)
    if (!next) break
    if (at < 0) {
      // Two ports changed names: one steps aside for a moment.
      const aside = `${next.changes.name ?? ''}-aside`
      ordered.push({ type: 'port.update', id: next.id, changes: { name: aside } })
      names.set(next.id, aside)
      open.push(next)
    } else {
      ordered.push(next)
      names.set(next.id, next.changes.name)
    }
  }
  return [...removals, ...ordered, ...others.filter((one) => !(renames as readonly Command[]).includes(one)), ...additions]
}
