import { seededRandom, type Sample } from '@insel/core'

/** How a guest of the demo works: what was seen of it over a quarter of a year. */
interface Work {
  /** Processor use at night, and what the day adds at its height, %. */
  readonly cpu: readonly [night: number, day: number]
  /** Memory in use on a common hour and at its peak, GiB. */
  readonly memory: readonly [usual: number, peak: number]
  /** On its disks now, and what was written in a day, GiB. */
  readonly disk: readonly [now: number, aDay: number]
  /** Days since it was last seen. */
  readonly silentDays?: number
  /** Quiet on Saturdays and Sundays. */
  readonly isOffice?: boolean
}

const works: Readonly<Record<string, Work>> = {
  'playout-1': { cpu: [22, 30], memory: [9.4, 11.2], disk: [297, 1.1] },
  'playout-2': { cpu: [20, 28], memory: [9.1, 10.8], disk: [281, 1] },
  'archive-db': { cpu: [12, 40], memory: [17.5, 19], disk: [6068, 18], isOffice: true },
  newsroom: { cpu: [8, 62], memory: [9.6, 11.4], disk: [212, 0.7], isOffice: true },
  'transcode-1': { cpu: [15, 75], memory: [6.1, 9.8], disk: [531, 2.1] },
  'phone-queue': { cpu: [4, 22], memory: [1.6, 2.1], disk: [14, 0.02] },
  'weather-desk': { cpu: [3, 30], memory: [2.2, 3], disk: [33, 0.05], isOffice: true },
  vault: { cpu: [35, 4], memory: [4.2, 5.9], disk: [11, 0.01] },
  files: { cpu: [5, 18], memory: [4.4, 6.2], disk: [932, 6.4], isOffice: true },
  mail: { cpu: [4, 12], memory: [3.8, 4.9], disk: [420, 2.8], isOffice: true },
  intranet: { cpu: [3, 14], memory: [2.1, 2.7], disk: [81, 0.2], isOffice: true },
  'dns-1': { cpu: [3, 4], memory: [0.6, 0.7], disk: [5, 0.004] },
  'sound-gate': { cpu: [6, 9], memory: [0.3, 0.4], disk: [1, 0] },
  'mix-assist': { cpu: [2, 45], memory: [2, 3.1], disk: [12, 0.03], isOffice: true },
  'stream-edge-1': { cpu: [10, 48], memory: [5.2, 7.4], disk: [44, 0.1] },
  'stream-edge-2': { cpu: [9, 45], memory: [5, 7.1], disk: [44, 0.1] },
  'lab-outer': { cpu: [5, 20], memory: [9, 11], disk: [71, 0.2] },
  metrics: { cpu: [6, 5], memory: [2.4, 2.9], disk: [157, 1.3] },
  build: { cpu: [1, 80], memory: [3, 6.2], disk: [66, 0.2], silentDays: 41, isOffice: true },
  'mast-logger': { cpu: [7, 6], memory: [1.2, 1.5], disk: [163, 1.4] },
  'backup-feed': { cpu: [5, 4], memory: [2.2, 2.6], disk: [25, 0.01] },
  'cam-store': { cpu: [14, 10], memory: [2.6, 3], disk: [430, 4.5] },
  'trial-a': { cpu: [0.6, 0.5], memory: [0.7, 0.8], disk: [4, 0] },
}

/** In use on the stores that hold more than disks: now, and what came in a day, GiB. */
const storeUse: Readonly<Record<string, readonly [now: number, aDay: number]>> = {
  'vault-disks': [5243, 9],
  'mast-copy': [2366, 4],
  reef: [3494, 5.5],
}

const DAYS = 90
const HOUR_MS = 3_600_000
const DAY_MS = 24 * HOUR_MS

/**
 * How much of a quarter's writing is still to come, by days ago: no day writes as much as the next, and an office writes little on
 * Saturdays and Sundays. All days together make the mean.
 */
function toCome(random: () => number, last: number, isOffice: boolean): (daysAgo: number) => number {
  const shares = Array.from({ length: DAYS + 1 }, (_, daysAgo) => {
    const weekday = new Date(last - daysAgo * DAY_MS).getUTCDay()
    return (0.3 + 1.4 * random()) * (isOffice && (weekday === 0 || weekday === 6) ? 0.1 : 1)
  })
  const mean = shares.reduce((sum, share) => sum + share, 0) / shares.length
  const before = [0]
  for (const share of shares) before.push((before.at(-1) ?? 0) + share / mean)
  return (daysAgo) => {
    const whole = Math.min(DAYS, Math.floor(daysAgo))
    const [from = 0, to = 0] = [before[whole], before[whole + 1]]
    return from + (to - from) * (daysAgo - whole)
  }
}

/**
 * What was seen of the demo's guests over the ninety days before a time, once an hour, and of its stores once a day; the same for
 * the same hour.
 *
 * @param idOf the id of a guest or store by its name
 * @param until the last hour, as a time in milliseconds
 */
export function skerryObserved(
  idOf: (name: string) => string | undefined,
  until: number,
): readonly (Sample & { readonly subjectId: string })[] {
  const random = seededRandom(1961)
  const share = () => (random(1)[0] ?? 0) / 255
  const noise = () => share() - 0.5
  const last = Math.floor(until / HOUR_MS) * HOUR_MS
  const guests = Object.entries(works).flatMap(([name, work]) => {
    const subjectId = idOf(name)
    if (subjectId === undefined) return []
    const [now, aDay] = work.disk
    const writing = toCome(share, last, work.isOffice === true)
    return Array.from({ length: DAYS * 24 }, (_, index) => {
      const time = last - (DAYS * 24 - 1 - index) * HOUR_MS
      const at = new Date(time)
      const hour = at.getUTCHours()
      const isQuiet = work.isOffice === true && (at.getUTCDay() === 0 || at.getUTCDay() === 6)
      // A day rises from six, is highest about two in the afternoon, and is over at ten in the evening.
      const day = Math.max(0, Math.sin(((hour - 6) / 16) * Math.PI)) * (isQuiet ? 0.15 : 1)
      return {
        subjectId,
        at: at.toISOString(),
        time,
        cpuPercent: round(Math.min(100, Math.max(0.1, work.cpu[0] + work.cpu[1] * day * (1 + 0.3 * noise()) + 2 * noise())), 1),
        memoryMiB: round((work.memory[0] + (work.memory[1] - work.memory[0]) * day * (0.8 + 0.4 * (noise() + 0.5))) * 1024, 0),
        diskBytes: round(Math.max(0.5, now - aDay * writing((last - time) / DAY_MS)) * 2 ** 30, 0),
      }
    })
      .filter(({ time }) => time <= last - (work.silentDays ?? 0) * DAY_MS)
      .map(({ time: _, ...sample }) => sample)
  })
  const stores = Object.entries(storeUse).flatMap(([name, [now, aDay]]) => {
    const subjectId = idOf(name)
    if (subjectId === undefined) return []
    const writing = toCome(share, last, false)
    return Array.from({ length: DAYS }, (_, index) => {
      const daysAgo = DAYS - 1 - index
      const at = new Date(last - daysAgo * DAY_MS).toISOString()
      return { subjectId, at, diskBytes: round((now - aDay * writing(daysAgo)) * 2 ** 30, 0) }
    })
  })
  return [...guests, ...stores]
}

const round = (value: number, digits: number) => Number(value.toFixed(digits))
