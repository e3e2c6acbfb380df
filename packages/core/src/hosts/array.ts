import type { Drive, DriveArray, Estate, Host } from '../estate/index.js'
import { counted, formatBytes, formatLabelBytes, formatNumber, parseSize, type Figure } from '../units/index.js'

export type ArrayLevel = DriveArray['level']
export const arrayLevels: readonly ArrayLevel[] = ['0', '1', '5', '6', '10']

/** Fewest members of a level. */
const fewest: Readonly<Record<ArrayLevel, number>> = { '0': 2, '1': 2, '5': 3, '6': 4, '10': 2 }
/** Single parity over members larger than this deserves a caution. Common practice, no source. */
const LARGE_MEMBER_BYTES = 2e12
/** No array has more drives than this. */
const DRIVES_MAX = 120
const LIST_MAX = 2000

/** What an array of some drives at a level gives. */
export interface ArrayPlan {
  readonly level: ArrayLevel
  /** Members, spares not counted. */
  readonly members: number
  readonly spares: number
  /** What one member counts as, bytes: the smallest. */
  readonly memberBytes: number
  /** Usable capacity, bytes; 0 when the level cannot be built. */
  readonly usable: Figure
  /** Bytes that hold copies or parity. */
  readonly protectionBytes: number
  /** Bytes of unequal members that are left over. */
  readonly lostBytes: number
  /** Members that may fail at once, whichever they are. */
  readonly mayFail: number
  /** Members that may fail if they are lucky ones. */
  readonly mayFailAtBest: number
  /** Why it cannot be built, in a sentence. */
  readonly problem: string | undefined
  readonly cautions: readonly string[]
}

/**
 * What drives give at a level. Unequal members count as the smallest; a hot spare adds no capacity.
 *
 * @param labelBytes capacities of the drives, bytes, spares among them
 * @param spares how many of them are kept as hot spares; the largest are, since a spare must be able to replace any member
 * @see Linux md(4) manual page; SNIA Common RAID Disk Data Format. Level 10 is md's "near" layout with two copies.
 * @example planArray([4e12, 4e12, 4e12, 4e12], '5').usable.value // 12e12
 */
export function planArray(labelBytes: readonly number[], level: ArrayLevel, spares = 0): ArrayPlan {
  const sorted = [...labelBytes].sort((a, b) => a - b)
  const count = Math.max(0, sorted.length - spares)
  const members = sorted.slice(0, count)
  const memberBytes = members[0] ?? 0
  const problem =
    count < fewest[level]
      ? `Level ${level} needs at least ${counted(fewest[level], 'member')}; ${count === 1 ? 'there is 1' : `there are ${count}`}.`
      : undefined
  const copies = level === '1' ? count : level === '10' ? 2 : 1
  const parity = level === '5' ? 1 : level === '6' ? 2 : 0
  const usableBytes = problem ? 0 : Math.floor(((count - parity) * memberBytes) / copies)
  const [mayFail, mayFailAtBest] = problem ? [0, 0] : toleranceOf(level, count)
  const lostBytes = members.reduce((sum, bytes) => sum + bytes - memberBytes, 0)
  return {
    level,
    members: count,
    spares,
    memberBytes,
    usable: {
      value: usableBytes,
      unit: 'bytes',
      formula: formulas[level],
      inputs: [
        {
          label: 'members',
          value: count,
          unit: 'ratio',
          from: spares > 0 ? `${counted(labelBytes.length, 'drive')} − ${spares} spare` : 'drives',
        },
        { label: 'smallest member', value: memberBytes, unit: 'bytes', from: `label ${formatLabelBytes(memberBytes)}` },
      ],
      source: 'Linux md(4) manual page; SNIA Common RAID Disk Data Format',
    },
    protectionBytes: problem ? 0 : count * memberBytes - usableBytes,
    lostBytes,
    mayFail,
    mayFailAtBest,
    problem,
    cautions: problem ? [] : cautionsOf(level, count, memberBytes, lostBytes),
  }
}

const formulas: Readonly<Record<ArrayLevel, string>> = {
  '0': 'members × smallest member',
  '1': 'smallest member',
  '5': '(members − 1) × smallest member',
  '6': '(members − 2) × smallest member',
  '10': 'members × smallest member ÷ 2 copies',
}

function toleranceOf(level: ArrayLevel, members: number): readonly [always: number, atBest: number] {
  switch (level) {
    case '0':
      return [0, 0]
    case '1':
      return [members - 1, members - 1]
    case '5':
      return [1, 1]
    case '6':
      return [2, 2]
    case '10':
      return [1, Math.floor(members / 2)]
  }
}

function cautionsOf(level: ArrayLevel, members: number, memberBytes: number, lostBytes: number): string[] {
  const cautions: string[] = []
  if (level === '0') cautions.push('One failed drive loses all data.')
  if (level === '5' && memberBytes > LARGE_MEMBER_BYTES)
    cautions.push(
      `Members are over ${formatLabelBytes(LARGE_MEMBER_BYTES)}: rebuilding takes long, and a second failure meanwhile loses the array. Common practice: RAID 6 or 10.`,
    )
  if (level === '6' && members === 4) cautions.push('Four members at level 6 hold no more than at level 10, and write more slowly.')
  if (level === '10' && members % 2 === 1)
    cautions.push('An odd number of members works with Linux software arrays; most hardware controllers ask for an even one.')
  if (lostBytes > 0) cautions.push(`Members are unequal: ${formatBytes(lostBytes)} of the larger ones stay unused.`)
  return cautions
}

/**
 * Drives as one says them on paper: `4x4T 2x960G`.
 *
 * @returns their label capacities in bytes, or the sentence for what cannot be read
 * @example readDriveList('2x4T 1T') // { bytes: [4e12, 4e12, 1e12] }
 */
export function readDriveList(text: string): { readonly bytes: readonly number[] } | { readonly sentence: string } {
  if (text.length > LIST_MAX) return { sentence: `A list of drives has at most ${counted(LIST_MAX, 'character')}.` }
  const bytes: number[] = []
  for (const word of text.split(/[\s,+]+/).filter(Boolean)) {
    const [, times = '1', size = ''] = /^(?:(\d+)\s*[x×*])?(.+)$/i.exec(word) ?? []
    const reading = parseSize(size, 'label')
    if (!reading.ok) return { sentence: `“${word}”: ${reading.sentence}` }
    if (reading.bytes <= 0) return { sentence: `“${word}” is not a size of a drive.` }
    if (Number(times) < 1 || bytes.length + Number(times) > DRIVES_MAX)
      return { sentence: `“${word}”: from 1 to ${DRIVES_MAX} drives are planned at once.` }
    for (let count = 0; count < Number(times); count++) bytes.push(reading.bytes)
  }
  return { bytes }
}

/** Members and spares of an array, by bay. */
export function drivesOf(estate: Estate, array: DriveArray): readonly Drive[] {
  return [...estate.referring('drive', 'arrayId', array.id)].sort((a, b) => a.position - b.position)
}

/** What a recorded array gives. */
export function arrayOf(estate: Estate, array: DriveArray): ArrayPlan {
  const drives = drivesOf(estate, array)
  const spares = drives.filter(({ use }) => use === 'spare')
  const members = drives.filter(({ use }) => use !== 'spare')
  const plan = planArray(
    members.map(({ labelBytes }) => labelBytes),
    array.level,
  )
  const short = spares.filter((spare) => spare.labelBytes < plan.memberBytes)
  return {
    ...plan,
    spares: spares.length,
    cautions: [
      ...plan.cautions,
      ...short.map((spare) => `The spare in bay ${spare.position} is smaller than the members and cannot replace one.`),
    ],
  }
}

/** Usable bytes of an array that no store takes yet; negative when the stores take more than there is. */
export function uncutBytes(estate: Estate, array: DriveArray): number {
  const cut = estate.referring('store', 'arrayId', array.id).reduce((sum, store) => sum + store.capacityBytes, 0)
  return arrayOf(estate, array).usable.value - cut
}

/** All drives of a host, by bay. */
export const drivesIn = (estate: Estate, host: Pick<Host, 'id'>): readonly Drive[] =>
  [...estate.referring('drive', 'hostId', host.id)].sort((a, b) => a.position - b.position)

/**
 * Why the screen shows less than the box: the same bytes, counted by 1000 and by 1024.
 *
 * @see IEC 80000-13
 * @example labelAgainstShown(250e9) // '250 GB on the label is 232.8 GiB on the screen: 1 GB is 10⁹ bytes, 1 GiB is 2³⁰, 7.4 % more.'
 */
export function labelAgainstShown(labelBytes: number): string {
  const isTera = labelBytes >= 1e12 && labelBytes >= 1024 ** 4
  const more = ((isTera ? 1024 ** 4 / 1e12 : 1024 ** 3 / 1e9) - 1) * 100
  const words = isTera ? '1 TB is 10¹² bytes, 1 TiB is 2⁴⁰' : '1 GB is 10⁹ bytes, 1 GiB is 2³⁰'
  return `${formatLabelBytes(labelBytes)} on the label is ${formatBytes(labelBytes, isTera ? 3 : 1)} on the screen: ${words}, ${formatNumber(more)} % more.`
}
