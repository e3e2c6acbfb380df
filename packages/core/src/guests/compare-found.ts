import type { Command } from '../commands/index.js'
import { type Adapter, adaptersOf, disksOf, type Estate, type Guest } from '../estate/index.js'
import type { FoundHost } from '../formats/index.js'
import type { ComparedLine } from '../hosts/index.js'
import { formatBytes, formatMiB } from '../units/index.js'

const NOT_SEEN = 'not seen'
/** A guest shows less memory than it has: its kernel keeps some before it counts. Common practice, no source. */
const MEMORY_SHORT_MAX = 0.12
/** By so much what a guest uses may differ and be called the same: it changes by the hour. Common practice, no source. */
const USE_SAME = 0.05

/**
 * Holds what was found inside a guest against its plan. Only what was seen is compared: a tool that says nothing about disks
 * raises no missing disk.
 *
 * @param found what the tools said inside the guest
 */
export function compareGuest(estate: Estate, guest: Guest, found: FoundHost): readonly ComparedLine[] {
  const adapters = adaptersOf(estate, guest.id)
  return [
    ...compareSizes(guest, found),
    ...compareDisks(estate, guest, found),
    ...compareUse(estate, guest, found),
    ...compareAdapters(adapters, found),
    ...compareAddresses(estate, adapters, found),
  ]
}

type Changes = Partial<Omit<Guest, 'id'>>

function compareSizes(guest: Guest, found: FoundHost): ComparedLine[] {
  const line = (key: string, about: string, planned: string, seen: string, isSame: boolean, changes?: Changes): ComparedLine => ({
    key,
    about,
    planned,
    found: seen,
    isSame,
    takeOver: isSame || !changes ? [] : [{ type: 'guest.update', id: guest.id, changes }],
  })
  const vcpu = found.sockets && found.coresPerSocket ? found.sockets * found.coresPerSocket * (found.threadsPerCore ?? 1) : undefined
  const short = found.name?.split('.')[0]
  return [
    ...(short === undefined
      ? []
      : [line('name', 'machine name', guest.name, found.name ?? '', short.toLowerCase() === guest.name.toLowerCase().split('.')[0])]),
    ...(vcpu === undefined
      ? []
      : [
          line('vcpu', 'processors', `${guest.vcpu} vCPU`, `${vcpu} vCPU`, vcpu === guest.vcpu, {
            vcpu,
            ...(vcpu % guest.sockets === 0
              ? {}
              : { sockets: found.sockets !== undefined && vcpu % found.sockets === 0 ? found.sockets : 1 }),
          }),
        ]),
    ...(found.memoryMiB === undefined
      ? []
      : [
          line(
            'memory',
            'memory',
            formatMiB(guest.memoryMiB),
            `${formatMiB(found.memoryMiB)} shown`,
            found.memoryMiB <= guest.memoryMiB && found.memoryMiB >= (guest.memoryMinMiB ?? guest.memoryMiB) * (1 - MEMORY_SHORT_MAX),
          ),
        ]),
    ...(found.firmware === undefined
      ? []
      : [line('firmware', 'firmware', guest.firmware, found.firmware, found.firmware === guest.firmware, { firmware: found.firmware })]),
  ]
}

/** Disks by size, the largest first: a guest’s own names for them follow its bus, not the record. */
function compareDisks(estate: Estate, guest: Guest, found: FoundHost): ComparedLine[] {
  if (found.drives.length === 0) return []
  const left = [...found.drives]
  const planned = disksOf(estate, guest.id).map((disk): ComparedLine => {
    const exact = left.findIndex(({ bytes }) => bytes === disk.sizeBytes)
    const at = exact >= 0 ? exact : left.findIndex(({ bytes }) => Math.abs(bytes - disk.sizeBytes) <= disk.sizeBytes * 0.5)
    const [drive] = at >= 0 ? left.splice(at, 1) : []
    const isSame = drive?.bytes === disk.sizeBytes
    const takeOver: readonly Command[] =
      drive && drive.bytes > disk.sizeBytes ? [{ type: 'guest.resize', guestId: guest.id, diskId: disk.id, sizeBytes: drive.bytes }] : []
    return {
      key: `disk-${disk.id}`,
      about: `disk ${disk.position} (${disk.use})`,
      planned: formatBytes(disk.sizeBytes, 2),
      found: drive ? `${formatBytes(drive.bytes, 2)}, ${drive.name}` : NOT_SEEN,
      isSame,
      takeOver: isSame ? [] : takeOver,
    }
  })
  return [
    ...planned,
    ...left.map((drive): ComparedLine => ({
      key: `extra-disk-${drive.name}`,
      about: `disk ${drive.name}`,
      planned: 'not planned',
      found: formatBytes(drive.bytes, 2),
      isSame: false,
      takeOver: [],
    })),
  ]
}

/** What the file systems hold, held against what is recorded as used; taken over where it is all on one disk. */
function compareUse(estate: Estate, guest: Guest, found: FoundHost): ComparedLine[] {
  const disks = disksOf(estate, guest.id)
  const [disk, ...others] = disks
  if (!disk || found.fileSystems.length === 0) return []
  const used = found.fileSystems.reduce((sum, { usedBytes }) => sum + usedBytes, 0)
  const known = disks.every(({ usedBytes }) => usedBytes !== null)
  const recorded = disks.reduce((sum, { usedBytes }) => sum + (usedBytes ?? 0), 0)
  const fits = others.length === 0 && used <= disk.sizeBytes
  return [
    {
      key: 'used',
      about: 'used space',
      planned: known ? formatBytes(recorded, 2) : 'not recorded',
      found: formatBytes(used, 2),
      isSame: known && Math.abs(used - recorded) <= recorded * USE_SAME,
      takeOver: fits ? [{ type: 'disk.update', id: disk.id, changes: { usedBytes: used } }] : [],
    },
  ]
}

function compareAdapters(adapters: readonly Adapter[], found: FoundHost): ComparedLine[] {
  const seen = found.ports.filter(({ mac }) => mac !== undefined)
  if (seen.length === 0) return []
  const left = new Set(seen.map(({ mac }) => mac))
  const planned = adapters.map((adapter): ComparedLine => {
    const port = seen.find(({ mac }) => mac === adapter.mac)
    left.delete(port?.mac)
    return {
      key: `adapter-${adapter.id}`,
      about: `adapter ${adapter.position}`,
      planned: adapter.mac ?? 'MAC unknown',
      found: port ? `${adapter.mac ?? ''} on ${port.name}` : NOT_SEEN,
      isSame: port !== undefined,
      takeOver: [],
    }
  })
  // One adapter that is not seen, and one that is not planned: it is the same one with another MAC.
  const missing = planned.filter(({ isSame }) => !isSame)
  const [other] = left
  const only = missing.length === 1 && left.size === 1 ? missing[0] : undefined
  return planned
    .map((line) => {
      const adapter = adapters.find(({ id }) => line.key === `adapter-${id}`)
      return line === only && adapter && other
        ? {
            ...line,
            found: `${other} on ${seen.find(({ mac }) => mac === other)?.name ?? ''}`,
            takeOver: [{ type: 'adapter.update' as const, id: adapter.id, changes: { mac: other } }],
          }
        : line
    })
    .concat(
      only
        ? []
        : [...left].map((mac) => ({
            key: `extra-adapter-${mac ?? ''}`,
            about: `adapter ${seen.find((port) => port.mac === mac)?.name ?? ''}`,
            planned: 'not planned',
            found: mac ?? '',
            isSame: false,
            takeOver: [],
          })),
    )
}

function compareAddresses(estate: Estate, adapters: readonly Adapter[], found: FoundHost): ComparedLine[] {
  if (found.addresses.length === 0) return []
  const planned = adapters.flatMap(({ id }) => estate.referring('address', 'adapterId', id))
  const others = found.addresses.map((one) => `${one.ip}/${one.length}`).join(', ')
  return planned.map(({ id, ip, subnetId }): ComparedLine => {
    const length = Number(estate.find('subnet', subnetId)?.prefix.split('/')[1])
    const there = found.addresses.find((one) => one.ip === ip)
    return {
      key: `address-${id}`,
      about: `address ${ip}`,
      planned: `${ip}/${length}`,
      found: there ? `${ip}/${there.length} on ${there.port}` : `${NOT_SEEN}; there are ${others}`,
      isSame: there?.length === length,
      // Which of two is right is a decision, not something to be taken over.
      takeOver: [],
    }
  })
}

/** Commands that take over lines of a guest, and take away what was kept as a finding about them and about what agrees. */
export function takeOverGuest(
  estate: Estate,
  guest: Guest,
  lines: readonly ComparedLine[],
  all: readonly ComparedLine[],
): readonly Command[] {
  const settled = new Set([...lines, ...all.filter(({ isSame }) => isSame)].map(({ about }) => about))
  const deviations = estate.referring('deviation', 'guestId', guest.id).filter(({ about }) => settled.has(about))
  const commands = lines.flatMap(({ takeOver }) => takeOver)
  const changes = Object.assign({}, ...commands.flatMap((one) => (one.type === 'guest.update' ? [one.changes] : []))) as Changes
  return [
    ...(Object.keys(changes).length > 0 ? [{ type: 'guest.update' as const, id: guest.id, changes }] : []),
    ...commands.filter(({ type }) => type !== 'guest.update'),
    ...deviations.map(({ id }): Command => ({ type: 'deviation.remove', id })),
  ]
}
