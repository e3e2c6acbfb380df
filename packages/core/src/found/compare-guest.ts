import type { Command } from '../commands/index.js'
import { type Adapter, adaptersOf, type Disk, disksOf, type Estate, type Guest } from '../estate/index.js'
import { driveOfDevice, type FoundDrive, type FoundFileSystem, type FoundHost, usedOn } from './found.js'
import type { ComparedLine } from './compare-host.js'
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

/** Which drive seen inside is which disk: by size, for a guest’s own names for them follow its bus, not the record. */
function drivesOfDisks(disks: readonly Disk[], { drives }: FoundHost): ReadonlyMap<string, FoundDrive> {
  const left = [...drives]
  return new Map(
    disks.flatMap((disk) => {
      const exact = left.findIndex(({ bytes }) => bytes === disk.sizeBytes)
      const at = exact >= 0 ? exact : left.findIndex(({ bytes }) => Math.abs(bytes - disk.sizeBytes) <= disk.sizeBytes * 0.5)
      const [drive] = at >= 0 ? left.splice(at, 1) : []
      return drive ? [[disk.id, drive] as const] : []
    }),
  )
}

function compareDisks(estate: Estate, guest: Guest, found: FoundHost): ComparedLine[] {
  if (found.drives.length === 0) return []
  const disks = disksOf(estate, guest.id)
  const driveOf = drivesOfDisks(disks, found)
  const taken = new Set(driveOf.values())
  return [
    ...disks.map((disk): ComparedLine => {
      const drive = driveOf.get(disk.id)
      const isSame = drive?.bytes === disk.sizeBytes
      const hasGrown = drive !== undefined && drive.bytes > disk.sizeBytes
      return {
        key: `disk-${disk.id}`,
        about: `disk ${disk.position} (${disk.use})`,
        planned: formatBytes(disk.sizeBytes, 2),
        found: drive ? `${formatBytes(drive.bytes, 2)}, ${drive.name}` : NOT_SEEN,
        isSame,
        takeOver: hasGrown ? [{ type: 'guest.resize', guestId: guest.id, diskId: disk.id, sizeBytes: drive.bytes }] : [],
      }
    }),
    ...found.drives
      .filter((drive) => !taken.has(drive))
      .map((drive): ComparedLine => ({
        key: `extra-disk-${drive.name}`,
        about: `disk ${drive.name}`,
        planned: 'not planned',
        found: formatBytes(drive.bytes, 2),
        isSame: false,
        takeOver: [],
      })),
  ]
}

/** What the file systems hold, held against what is recorded as used: disk by disk where that can be told, else as a sum. */
function compareUse(estate: Estate, guest: Guest, found: FoundHost): ComparedLine[] {
  const disks = disksOf(estate, guest.id)
  if (disks.length === 0 || found.fileSystems.length === 0) return []
  const systemsOf = fileSystemsOfDisks(disks, found)
  const compared = (key: string, about: string, of: readonly Disk[], systems: readonly FoundFileSystem[]): ComparedLine => {
    const used = usedOn(systems)
    const known = of.every(({ usedBytes }) => usedBytes !== null)
    const recorded = of.reduce((bytes, { usedBytes }) => bytes + (usedBytes ?? 0), 0)
    const [disk, ...others] = of
    return {
      key,
      about,
      planned: known ? formatBytes(recorded, 2) : 'not recorded',
      found: formatBytes(used, 2),
      isSame: known && Math.abs(used - recorded) <= recorded * USE_SAME,
      takeOver:
        disk && others.length === 0 && used <= disk.sizeBytes ? [{ type: 'disk.update', id: disk.id, changes: { usedBytes: used } }] : [],
    }
  }
  if (!systemsOf) return [{ ...compared('used', 'used space', disks, found.fileSystems), byHand: 'which disk holds how much is not said' }]
  return disks.map((disk) =>
    compared(
      `used-${disk.id}`,
      disks.length === 1 ? 'used space' : `used space of disk ${disk.position} (${disk.use})`,
      [disk],
      systemsOf.get(disk.id) ?? [],
    ),
  )
}

/**
 * Which file systems are on which disk: all of them where there is one disk; else by the drive each is on, which is a disk by its size
 * where drives were seen, and by the order of their names where they were not.
 *
 * @returns undefined where it cannot be told
 */
function fileSystemsOfDisks(disks: readonly Disk[], found: FoundHost): ReadonlyMap<string, readonly FoundFileSystem[]> | undefined {
  const { fileSystems } = found
  const [only, ...others] = disks
  if (only && others.length === 0) return new Map([[only.id, fileSystems]])
  const driveOf = new Map(fileSystems.map((system) => [system, driveOfDevice(system.device)]))
  const names = [...new Set(driveOf.values())].toSorted()
  if (names.includes(undefined)) return undefined
  const seen = drivesOfDisks(disks, found)
  const of = new Map(
    disks.map(({ id }, at) => {
      const name = found.drives.length > 0 ? seen.get(id)?.name : names[at]
      return [id, fileSystems.filter((system) => driveOf.get(system) === name)] as const
    }),
  )
  const fits = disks.every(({ id, sizeBytes }) => {
    const systems = of.get(id) ?? []
    return systems.length > 0 && systems.reduce((sum, { bytes }) => sum + bytes, 0) <= sizeBytes
  })
  return fits && names.length === disks.length ? of : undefined
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
