/** What was seen on a real machine, brought to one shape whatever tool or controller said it. */
export interface FoundHost {
  readonly name?: string
  readonly model?: string
  readonly processorModel?: string
  readonly sockets?: number
  readonly coresPerSocket?: number
  readonly threadsPerCore?: number
  readonly clockMHz?: number
  /** Flags as Linux names them, separated by blanks. */
  readonly cpuFlags?: string
  /** Usable memory as the system shows it, MiB. */
  readonly memoryMiB?: number
  readonly memorySlots?: number
  readonly firmware?: 'UEFI' | 'BIOS'
  readonly secureBoot?: 'on' | 'off'
  readonly drawWatts?: number
  readonly controllers?: readonly string[]
  readonly modules: readonly FoundModule[]
  readonly drives: readonly FoundDrive[]
  readonly ports: readonly FoundPort[]
  readonly addresses: readonly FoundAddress[]
  readonly fileSystems: readonly FoundFileSystem[]
}

/** A file system that keeps its content on a disk of the machine. */
export interface FoundFileSystem {
  /** The device it is on, as `sda2`, or the name of what it is in. */
  readonly device: string
  readonly bytes: number
  readonly usedBytes: number
}

/** Bytes that file systems hold together. */
export const usedOn = (systems: readonly FoundFileSystem[]): number => systems.reduce((bytes, { usedBytes }) => bytes + usedBytes, 0)

export interface FoundModule {
  readonly slot: number
  readonly sizeMiB: number
  readonly speedMTs?: number
}
export interface FoundDrive {
  readonly name: string
  readonly bytes: number
  /** What its file systems hold, where they were asked. */
  readonly usedBytes?: number
  readonly model?: string
  readonly serial?: string
  readonly kind?: 'hard disk' | 'solid state' | 'NVMe'
}
export interface FoundPort {
  readonly name: string
  readonly mac?: string
  readonly speedMbps?: number
  /** Whether a link is up, where the tool says so. */
  readonly hasLink?: boolean
  readonly driver?: string
  readonly isWireless?: boolean
  readonly isFibre?: boolean
}
export interface FoundAddress {
  readonly port: string
  readonly ip: string
  readonly length: number
}

/** A place in the text that could not be read. */
export interface Unread {
  readonly line: number
  readonly text: string
  readonly sentence: string
}

/** Everything read from one text. */
export interface FoundReading {
  readonly found: FoundHost
  /** The tools whose output was recognised, in order. */
  readonly sources: readonly string[]
  readonly unread: readonly Unread[]
}

export const nothingFound: FoundHost = { modules: [], drives: [], ports: [], addresses: [], fileSystems: [] }

/** A part of what was found; lists are added to, single values replace. */
export type FoundPart = Partial<FoundHost>

/**
 * Adds a part to what is known. Ports are joined by MAC or name and drives by serial or name, so that two tools that saw the
 * same thing make one entry.
 */
export function join(known: FoundHost, part: FoundPart): FoundHost {
  return {
    ...known,
    ...part,
    modules: part.modules && part.modules.length > 0 ? part.modules : known.modules,
    drives: joinBy(
      known.drives,
      part.drives ?? [],
      ({ serial, name }) => [...(serial ? [`serial ${serial}`] : []), `name ${name}`],
      (a, b) => a.serial !== undefined && b.serial !== undefined && a.serial !== b.serial,
    ),
    ports: joinBy(known.ports, part.ports ?? [], ({ mac, name }) => [`name ${name}`, ...(mac ? [`mac ${mac}`] : [])]),
    addresses: joinBy(known.addresses, part.addresses ?? [], ({ ip }) => [ip]),
    fileSystems: joinBy(known.fileSystems, part.fileSystems ?? [], ({ device }) => [device]),
  }
}

/**
 * The drive that a device of a file system is, or is a partition of, by the names Linux gives them.
 *
 * @returns undefined for what says nothing of a drive, such as a volume of several partitions
 * @source https://www.kernel.org/doc/Documentation/admin-guide/devices.txt
 * @example driveOfDevice('sda2') // 'sda'
 * @example driveOfDevice('nvme0n1p1') // 'nvme0n1'
 */
export function driveOfDevice(device: string): string | undefined {
  const [, drive, onBoard] = /^(?:((?:s|v|h|xv)d[a-z]+)\d*|(nvme\d+n\d+|mmcblk\d+)(?:p\d+)?)$/.exec(device) ?? []
  return drive ?? onBoard
}

/**
 * What was found, each drive with what the file systems on it hold. A file system in a volume of several partitions says nothing of a
 * drive, unless there is only one.
 */
export function withUse(found: FoundHost): FoundHost {
  const { fileSystems, drives } = found
  if (fileSystems.length === 0) return found
  const [only, ...others] = drives
  return {
    ...found,
    drives: drives.map((drive) => {
      const own =
        only === drive && others.length === 0
          ? fileSystems
          : fileSystems.filter(({ device }) => driveOfDevice(device) === drive.name || device === drive.name)
      return own.length > 0 ? { ...drive, usedBytes: usedOn(own) } : drive
    }),
  }
}

/** Joins entries that share a key; the name seen first is kept. */
function joinBy<T extends object>(
  known: readonly T[],
  more: readonly T[],
  keysOf: (one: T) => readonly string[],
  differ: (a: T, b: T) => boolean = () => false,
): readonly T[] {
  const joined = [...known]
  const places = new Map(known.flatMap((one, place) => keysOf(one).map((key) => [key, place])))
  for (const one of more) {
    const isOther = (place: number) => {
      const there = joined[place]
      return there !== undefined && differ(there, one)
    }
    const place =
      keysOf(one)
        .flatMap((key) => places.get(key) ?? [])
        .find((at) => !isOther(at)) ?? joined.length
    const before = joined[place]
    const merged = before ? { ...before, ...one, ...('name' in before ? { name: before.name } : {}) } : one
    joined[place] = merged
    for (const key of keysOf(merged)) places.set(key, place)
  }
  return joined
}
