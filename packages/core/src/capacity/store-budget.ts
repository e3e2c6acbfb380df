import { dayAfter, type Disk, type Estate, type Store } from '../estate/index.js'
import { counted, sumFigure, type Figure } from '../units/index.js'
import { heldOnStore } from './holds.js'
import { standing, storeSpace, takenBytes } from './capacity.js'

/** What a store holds and what it has promised. */
export interface StoreBudget {
  /** Bytes taken: thick disks whole, thin ones as last seen, images, and what else is recorded to be on it. */
  readonly used: Figure
  /** Bytes promised: every disk at its full size, those that moves under way bring, and what else is on it. */
  readonly promised: Figure
  /** What the copies of moves under way take, and no disk shows yet. */
  readonly held: Figure
  /** Capacity less used and held. */
  readonly freeBytes: number
  /** Promised over capacity, 1 = all of it. */
  readonly promiseRatio: number
  /** Bytes by which the store is short if every thin disk fills: negative when there is room for all. */
  readonly exposure: Figure
}

/** Days of a month, the mean of the Gregorian calendar. */
export const DAYS_PER_MONTH = 30.436875

/** By how much a store fills, as its disks' growth is recorded. */
export interface StoreGrowth {
  /** Bytes a month, of thin disks only: a thick one has its room. */
  readonly perMonth: Figure
  /** Days until nothing is free, at that pace; undefined when nothing grows. */
  readonly daysToFull: number | undefined
}

/**
 * How long a store lasts at the growth recorded on its disks. A disk grows no further than its size.
 *
 * @example storeGrowth(estate, store).daysToFull // 41.5
 */
export function storeGrowth(estate: Estate, store: Store): StoreGrowth {
  const growing = estate
    .referring('disk', 'storeId', store.id)
    .filter((disk) => disk.provisioning === 'thin' && (disk.growthBytesPerMonth ?? 0) > 0 && takenBytes(disk) < disk.sizeBytes)
  const perMonth = sumFigure(
    'growth of its thin disks',
    'bytes',
    growing.map((disk) => ({
      label: `${estate.find('guest', disk.guestId)?.name ?? '?'} ${disk.use}`,
      value: disk.growthBytesPerMonth ?? 0,
      unit: 'bytes' as const,
      sign: '+' as const,
      from: `disk ${disk.position}, growth a month`,
    })),
    'as recorded on the disks: planned, or taken over from what was measured',
  )
  return { perMonth, daysToFull: daysUntilFull(growing, storeSpace(estate, store).freeBytes) }
}

/**
 * When a store is full, as it is said everywhere: in so many whole days, and on what day.
 *
 * @param days until nothing is free, from today on
 * @example fullOn(52.9, '2026-12-02') // { days: 52, day: '2027-01-23' }
 */
export const fullOn = (days: number, today: string): { readonly days: number; readonly day: string } => ({
  days: Math.floor(days),
  day: dayAfter(today, Math.floor(days)),
})

/** Days until the room is taken up, with each disk stopping at its size; undefined when it never is. */
function daysUntilFull(disks: readonly Disk[], freeBytes: number): number | undefined {
  if (freeBytes <= 0) return 0
  const growing = disks
    .map((disk) => {
      const perDay = (disk.growthBytesPerMonth ?? 0) / DAYS_PER_MONTH
      return { perDay, days: (disk.sizeBytes - takenBytes(disk)) / perDay }
    })
    .sort((a, b) => a.days - b.days)
  let [left, day] = [freeBytes, 0]
  for (const [index, { days }] of growing.entries()) {
    const pace = growing.slice(index).reduce((sum, { perDay }) => sum + perDay, 0)
    if (left <= pace * (days - day)) return day + left / pace
    left -= pace * (days - day)
    day = days
  }
  return undefined
}

/**
 * The budget of a store.
 *
 * @see facts of the trade: exposure = sum of (provisioned − used) − free; common practice, no source
 */
export const storeBudget = (estate: Estate, store: Store): StoreBudget =>
  estate.deriveFor(['disk', 'guest', 'image', 'snapshot', 'leftover', 'migration', 'host', 'volume'], store, workOut)

function workOut(estate: Estate, store: Store): StoreBudget {
  const disks = estate.referring('disk', 'storeId', store.id)
  const beside = standing(estate, store).map((one) => ({ ...one, unit: 'bytes' as const, sign: '+' as const }))
  const inputs = (bytesOf: (disk: Disk) => number) => [
    ...disks.map((disk) => ({
      label: `${estate.find('guest', disk.guestId)?.name ?? '?'} ${disk.use}`,
      value: bytesOf(disk),
      unit: 'bytes' as const,
      sign: '+' as const,
      from: `disk ${disk.position}, ${disk.provisioning}`,
    })),
    ...beside,
  ]
  const and = beside.length > 0 ? ' + other use' : ''
  const used = sumFigure(`thick disks at their size + thin disks as last seen${and}`, 'bytes', inputs(takenBytes), 'common practice')
  const { freeBytes } = storeSpace(estate, store)
  const held = sumFigure(
    'disks of moves under way, by what their copies take',
    'bytes',
    arriving(estate, store, 'bytes'),
    'derived from the moves under way',
  )
  const arrive = arriving(estate, store, 'promisedBytes').filter(({ value }) => value > 0)
  const promised = sumFigure(
    `every disk at its size${and}${arrive.length > 0 ? ' + disks that arrive by moves' : ''}`,
    'bytes',
    [...inputs((disk) => disk.sizeBytes), ...arrive],
    'common practice',
  )
  const exposure = sumFigure(
    `promised − used${held.value > 0 ? ' − held for moves' : ''} − free`,
    'bytes',
    [
      { label: 'promised', value: promised.value, unit: 'bytes', sign: '+', from: counted(disks.length + arrive.length, 'disk') },
      { label: 'used', value: used.value, unit: 'bytes', sign: '−', from: 'thick whole, thin as last seen' },
      ...(held.value > 0
        ? [{ label: 'held for moves', value: held.value, unit: 'bytes', sign: '−', from: 'what their copies take' } as const]
        : []),
      {
        label: 'free',
        value: freeBytes,
        unit: 'bytes',
        sign: '−',
        from: `capacity of ${store.name} − used${held.value > 0 ? ' − held for moves' : ''}`,
      },
    ],
    'common practice',
  )
  const promiseRatio = promised.value / store.capacityBytes
  return { used, promised, held, freeBytes, promiseRatio, exposure }
}

/** The disks that moves under way bring to a store, as terms of a sum. */
const arriving = (estate: Estate, store: Store, of: 'bytes' | 'promisedBytes') =>
  heldOnStore(estate, store.id).map((hold) => ({
    label: `${estate.find('guest', hold.disk.guestId)?.name ?? '?'} ${hold.disk.use}`,
    value: hold[of],
    unit: 'bytes' as const,
    sign: '+' as const,
    from: `disk ${hold.disk.position}, arrives by a move`,
  }))
