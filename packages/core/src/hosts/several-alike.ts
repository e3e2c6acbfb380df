import type { Command, IdMaker } from '../commands/index.js'
import type { Drive, Estate, Host, Port } from '../estate/index.js'
import { formatLabelBytes, formatMbps, formatMiB, MiB, parseSize, readAmount } from '../units/index.js'

/** Parts of a host that are all alike: the commands that add them and what they say, or a sentence on what cannot be read. */
export type Alike = { readonly commands: readonly Command[]; readonly says: string } | { readonly sentence: string }

/** More of one thing has no host. */
const COUNT_MAX = 128

/** What is written: how many, and the words behind it; where it goes is taken out of them. */
interface Written {
  readonly count: number
  readonly words: readonly string[]
  /** Slots or bays that are named; undefined where the first free ones are meant. */
  readonly places: readonly number[] | undefined
}

/** What stands before the places. */
const PLACE_WORD = /^(from|in|slots?|bays?)$/i

/** `4 x 16 GiB`, `4x16G in 1,3,5-6`, `6 x 4 TB from 3`, `2 x 960 GB in bays 0,1`. */
function readWritten(text: string, example: string): Written | { readonly sentence: string } {
  const [, number = '', rest = ''] = /^(\d{1,4}) ?[x×*] ?(\S.*)$/i.exec(text.trim().replace(/\s+/g, ' ')) ?? []
  const count = Number(number)
  if (rest === '') return { sentence: `Write how many and what each is, such as ${example}.` }
  if (count < 1 || count > COUNT_MAX) return { sentence: `${number} is too many or none; write 1 to ${COUNT_MAX}.` }
  const words = rest.split(' ')
  const at = words.findIndex((word) => PLACE_WORD.test(word))
  if (at < 0) return { count, words, places: undefined }
  const behind = words.slice(at).findIndex((word) => !PLACE_WORD.test(word))
  const after = behind < 0 ? [] : words.slice(at + behind)
  const more = after.findIndex((word) => !/^[\d,-]+$/.test(word))
  const numbers = more < 0 ? after : after.slice(0, more)
  const said = numbers.join('').replace(/,$/, '')
  const ranges = said.split(',').map((range) => /^(\d{1,3})(?:-(\d{1,3}))?$/.exec(range))
  if (said === '' || ranges.some((range) => range === null))
    return { sentence: `“${words.slice(at).join(' ')}” says no places; write from 5, or in 1,3,5-6.` }
  const named = ranges.flatMap((range) => {
    const [first, last] = [Number(range?.[1]), Number(range?.[2] ?? range?.[1])]
    return Array.from({ length: Math.max(0, last - first + 1) }, (_, index) => first + index)
  })
  const [first = 0] = named
  // One place of several is where they begin.
  const places = named.length === 1 ? Array.from({ length: count }, (_, index) => first + index) : named
  if (places.length !== count) return { sentence: `${count} are to be added, and ${places.length} places are named.` }
  return { count, words: [...words.slice(0, at), ...after.slice(numbers.length)], places }
}

/** The longest beginning of the words that can be read, of two words at most, and the words behind it. */
function readFirst<R extends { readonly ok: boolean }>(
  words: readonly string[],
  read: (text: string) => R,
): { reading: R; rest: readonly string[] } {
  const two = words.length > 1 ? read(words.slice(0, 2).join(' ')) : undefined
  return two?.ok ? { reading: two, rest: words.slice(2) } : { reading: read(words[0] ?? ''), rest: words.slice(1) }
}

/** The places to take: those named, or the first free ones; a sentence where one is taken or there are not enough. */
function placesFor(
  { count, places }: Written,
  taken: ReadonlySet<number>,
  { what, first, last }: { readonly what: 'slot' | 'bay'; readonly first: number; readonly last: number },
): readonly number[] | { readonly sentence: string } {
  const free = Array.from({ length: last - first + 1 }, (_, index) => first + index).filter((place) => !taken.has(place))
  if (!places)
    return free.length >= count
      ? free.slice(0, count)
      : { sentence: `${count} are to be added, and ${free.length === 1 ? `1 ${what} is` : `${free.length} ${what}s are`} free.` }
  const bad = places.find((place) => !free.includes(place))
  if (bad === undefined) return places
  return { sentence: taken.has(bad) ? `There is something in ${what} ${bad} already.` : `There is no ${what} ${bad}.` }
}

/** Numbers as a person writes them: 1, 3 to 5. */
const numbersText = (numbers: readonly number[]): string => {
  const [first = 0] = numbers
  const last = numbers.at(-1) ?? first
  return numbers.length > 1 && last - first === numbers.length - 1 ? `${first} to ${last}` : numbers.join(', ')
}

/**
 * Memory modules alike, in the first free slots or in those named.
 *
 * @param text `4 x 16 GiB`, `4x16G 3200 in 1,3,5,7`, `2 x 32 GB planned`
 * @example alikeModules(estate, host, '4 x 16 GiB', ids) // adds slots 1 to 4
 */
export function alikeModules(estate: Estate, host: Host, text: string, ids: IdMaker): Alike {
  const written = readWritten(text, '4 x 16 GiB')
  if ('sentence' in written) return written
  const { reading, rest } = readFirst(written.words, (words) => parseSize(words, 'memory'))
  if (!reading.ok) return { sentence: reading.sentence }
  const more = rest.filter((word) => !/^MT\/s$/i.test(word))
  const isPlanned = more.some((word) => word.toLowerCase() === 'planned')
  const speeds = more.filter((word) => word.toLowerCase() !== 'planned')
  const [speed, ...unread] = speeds
  if (unread.length > 0 || (speed !== undefined && !/^\d{3,5}$/.test(speed)))
    return { sentence: `“${speeds.join(' ')}” is not understood; behind the size write the speed in MT/s, planned, from 5, or in 1,3.` }
  const slots = placesFor(written, new Set(estate.referring('module', 'hostId', host.id).map(({ slot }) => slot)), {
    what: 'slot',
    first: 1,
    last: host.memorySlots ?? COUNT_MAX,
  })
  if ('sentence' in slots) return slots
  const sizeMiB = Math.round(reading.bytes / MiB)
  return {
    commands: slots.map((slot) => ({
      type: 'module.add',
      record: {
        id: ids.newId(),
        hostId: host.id,
        slot,
        sizeMiB,
        ...(speed === undefined ? {} : { speedMTs: Number(speed) }),
        state: isPlanned ? 'planned' : 'fitted',
      },
    })),
    says: `${written.count} of ${formatMiB(sizeMiB)}${speed === undefined ? '' : `, ${speed} MT/s`}${isPlanned ? ', planned' : ''}, in ${written.count === 1 ? 'slot' : 'slots'} ${numbersText(slots)}`,
  }
}

const kinds: readonly (readonly [pattern: RegExp, kind: Drive['kind']])[] = [
  [/^(hdd|disk|spinning)$/i, 'hard disk'],
  [/^(ssd|sata-ssd|sas-ssd)$/i, 'solid state'],
  [/^nvme$/i, 'NVMe'],
]

/**
 * Drives alike, in the first free bays or in those named. Their serials are read off each later.
 *
 * @param text `6 x 3.84 TB`, `4x4T hdd from 3`, `2 x 960 GB NVMe Kelp 960`; what is not understood is the model
 * @example alikeDrives(estate, host, '6 x 3.84 TB', ids) // adds bays 1 to 6
 */
export function alikeDrives(estate: Estate, host: Host, text: string, ids: IdMaker): Alike {
  const written = readWritten(text, '6 x 3.84 TB')
  if ('sentence' in written) return written
  const { reading, rest } = readFirst(written.words, (words) => parseSize(words, 'label'))
  if (!reading.ok) return { sentence: reading.sentence }
  const kind = kinds.find(([pattern]) => rest.some((word) => pattern.test(word)))?.[1]
  const model = rest.filter((word) => !kinds.some(([pattern]) => pattern.test(word))).join(' ')
  const bays = placesFor(written, new Set(estate.referring('drive', 'hostId', host.id).map(({ position }) => position)), {
    what: 'bay',
    // Bays are counted from 1 unless a machine counts them from 0.
    first: written.places?.includes(0) ? 0 : 1,
    last: 999,
  })
  if ('sentence' in bays) return bays
  return {
    commands: bays.map((position) => ({
      type: 'drive.add',
      record: {
        id: ids.newId(),
        hostId: host.id,
        position,
        labelBytes: reading.bytes,
        ...(kind ? { kind } : {}),
        ...(model ? { model } : {}),
      },
    })),
    says: `${written.count} of ${formatLabelBytes(reading.bytes)}, ${kind ?? 'solid state'}${model ? `, ${model}` : ''}, in ${written.count === 1 ? 'bay' : 'bays'} ${numbersText(bays)}`,
  }
}

const media: readonly (readonly [pattern: RegExp, medium: Port['medium']])[] = [
  [/^(copper|rj45|base-t)$/i, 'copper'],
  [/^(fibre|fiber|optical)$/i, 'fibre'],
  [/^(dac|direct-attach|twinax)$/i, 'direct attach'],
]

/**
 * Ports alike, named one after the other.
 *
 * @param text `4 x 10G eno1`, `2 x 25 Gbit/s fibre ens1f0`; without a name they go on where the names there end
 * @example alikePorts(estate, host, '2 x 10G ens1f0', ids) // adds ens1f0 and ens1f1
 */
export function alikePorts(estate: Estate, host: Host, text: string, ids: IdMaker): Alike {
  const written = readWritten(text, '4 x 10G eno1')
  if ('sentence' in written) return written
  if (written.places) return { sentence: 'Ports have names: write the first of them, such as 4 x 10G eno1.' }
  const { reading, rest } = readFirst(written.words, (words) => readAmount(words, 'Mbit/s'))
  if (!reading.ok) return { sentence: reading.sentence }
  const medium = media.find(([pattern]) => rest.some((word) => pattern.test(word)))?.[1]
  const isCabled = rest.some((word) => /^cabled$/i.test(word))
  const names = rest.filter((word) => !/^cabled$/i.test(word) && !media.some(([pattern]) => pattern.test(word)))
  if (names.length > 1) return { sentence: `“${names.join(' ')}” is more than one name; write the first, such as eno1.` }
  const taken = new Set(estate.referring('port', 'hostId', host.id).map(({ name }) => name))
  const first = names[0] ?? nameAfter(taken)
  const counted = numbered(first)
  if (!counted && written.count > 1)
    return { sentence: `${first} ends without a number, from which the others would be counted; write ${first}1.` }
  const all = Array.from({ length: written.count }, (_, index) => (counted ? `${counted.stem}${counted.number + index}` : first))
  const there = all.find((name) => taken.has(name))
  if (there) return { sentence: `There is a port ${there} already.` }
  return {
    commands: all.map((name) => ({
      type: 'port.add',
      record: {
        id: ids.newId(),
        hostId: host.id,
        name,
        speedMbps: reading.value,
        ...(medium ? { medium } : {}),
        ...(isCabled ? { cable: 'present' } : {}),
      },
    })),
    says: `${written.count} of ${formatMbps(reading.value)}, ${medium ?? 'copper'}${isCabled ? ', cabled' : ''}: ${all.length > 3 ? `${all[0] ?? ''} to ${all.at(-1) ?? ''}` : all.join(', ')}`,
  }
}

/** A name that ends with a number, as both; undefined for any other. */
function numbered(name: string): { readonly stem: string; readonly number: number } | undefined {
  const length = name.split('').findLastIndex((character) => character < '0' || character > '9') + 1
  return length === name.length ? undefined : { stem: name.slice(0, length), number: Number(name.slice(length)) }
}

/** The name after the last one of a host; `eno1` where there is none. */
function nameAfter(taken: ReadonlySet<string>): string {
  const last = [...taken]
    .flatMap((name) => numbered(name) ?? [])
    .sort((a, b) => (a.stem === b.stem ? a.number - b.number : a.stem < b.stem ? -1 : 1))
    .at(-1)
  return last ? `${last.stem}${last.number + 1}` : 'eno1'
}
