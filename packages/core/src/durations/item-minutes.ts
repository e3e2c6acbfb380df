import { type Command } from '../commands/index.js'
import { disksOf, kindNames, type Estate, type Item } from '../estate/index.js'
import { median } from '../lists/index.js'
import { moveView, wholeMove } from '../migrations/index.js'
import { commandsOf } from '../plans/index.js'
import { GIGABIT_LINK_BYTES_PER_SECOND } from '../transfers/index.js'

/** How long an item should take, and whether somebody said so or it is estimated. */
export interface ItemMinutes {
  readonly value: number
  readonly basis: 'as entered' | 'the move’s estimate' | 'own items' | 'common practice'
  /** How many own items of its sort were timed, where the estimate is from those. */
  readonly from?: number
}

/** Setting up and checking a copy, minutes. Common practice, no source. */
const AROUND_A_COPY = 5

/** Minutes of one command by its type, where it is not a copy. Common practice, no source. */
const MINUTES: Readonly<Record<string, number>> = {
  'guest.power': 2,
  'guest.resize': 5,
  'guest.add': 30,
  'module.add': 15,
  'drive.add': 10,
  'host.add': 120,
  'port.update': 5,
  'attachment.add': 5,
}
/** Anything else: a setting that is changed. */
const A_SETTING = 2

function minutesOfCommand(estate: Estate, command: Command): number {
  if (command.type !== 'guest.clone' && command.type !== 'guest.migrate') return MINUTES[command.type] ?? A_SETTING
  const guest = estate.find('guest', command.guestId)
  if (!guest) return AROUND_A_COPY
  if (command.type === 'guest.migrate') {
    const { type: _, ...mapping } = command
    // The day makes no difference to how long it takes.
    const view = moveView(estate, mapping, '2000-01-01')
    return view ? wholeMove(view).wholeSeconds.p50 / 60 : AROUND_A_COPY
  }
  const bytes = disksOf(estate, guest.id).reduce((sum, { usedBytes, sizeBytes }) => sum + (usedBytes ?? sizeBytes), 0)
  return AROUND_A_COPY + bytes / GIGABIT_LINK_BYTES_PER_SECOND / 60
}

/** So many timed items of a sort say more than common practice. Common practice, no source. */
const TIMED_MIN = 3

/** What sort of work an item is: that of which its times are told. Tasks are alike in nothing but their titles. */
const sortOf = (item: Item): string =>
  item.kind === 'task' ? `task ${item.title.trim().toLowerCase()}` : [...new Set(commandsOf(item).map(({ type }) => type))].sort().join(' ')

/** For each sort of work, how many minutes it took for each minute that common practice gives it; for tasks, the minutes. */
function timesIn(estate: Estate): ReadonlyMap<string, readonly number[]> {
  const times = new Map<string, number[]>()
  for (const item of estate.all('item')) {
    // 0 minutes is one that was begun and settled in one go: nobody measured it.
    if (item.state !== 'done' || !item.minutesTaken) continue
    const ratio = item.kind === 'task' ? item.minutesTaken : item.minutesTaken / usualMinutes(estate, item)
    times.set(sortOf(item), [...(times.get(sortOf(item)) ?? []), ratio])
  }
  return times
}
const READ = ['item', 'guest', 'disk', 'image', 'host', 'port', 'store', 'array', 'drive', 'migration', 'volume'] as const

/** Minutes by common practice. */
const usualMinutes = (estate: Estate, item: Item): number => estate.deriveFor(kindNames, item, workOut)

function workOut(estate: Estate, item: Item): number {
  const commands = commandsOf(item)
  const value = commands.length === 0 ? A_TASK : commands.reduce((sum, command) => sum + minutesOfCommand(estate, command), 0)
  return Math.max(1, Math.round(value))
}

/**
 * How long an item should take: as somebody entered it; otherwise as own items of its sort took, by their median against common practice
 * once three were timed; otherwise by common practice from what it does. A task that nobody timed takes 15 minutes. A move takes what its own
 * estimate says, which learns from moves and is never less than its slowest link takes.
 *
 * @param estate as it is before the item
 * @example minutesOf(estate, item) // { value: 12, basis: 'common practice' }
 */
export function minutesOf(estate: Estate, item: Item): ItemMinutes {
  if (item.minutes !== null) return { value: item.minutes, basis: 'as entered' }
  const usual = usualMinutes(estate, item)
  if (commandsOf(item).some(({ type }) => type === 'guest.migrate')) return { value: usual, basis: 'the move’s estimate' }
  const times = estate.derive(READ, timesIn).get(sortOf(item)) ?? []
  if (times.length < TIMED_MIN) return { value: usual, basis: 'common practice' }
  const middle = median(times) ?? 1
  const value = item.kind === 'task' ? middle : usual * middle
  return { value: Math.max(1, Math.round(value)), basis: 'own items', from: times.length }
}
const A_TASK = 15
