import { type Command } from '../commands/index.js'
import { disksOf, type Estate, type Item } from '../estate/index.js'
import { commandsOf } from './body.js'

/** How long an item should take, and whether somebody said so or it is estimated. */
export interface ItemMinutes {
  readonly value: number
  readonly basis: 'as entered' | 'common practice'
}

/** Payload of a copy over a link of 1 Gbit/s, bytes a second. Common practice, no source. */
const COPY_BYTES_PER_SECOND = 110e6
/** Setting up and checking a move or copy, minutes. Common practice, no source. */
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
  if (command.type === 'guest.migrate' && command.method === 'live')
    return AROUND_A_COPY + (guest.memoryMiB * 2 ** 20) / COPY_BYTES_PER_SECOND / 60
  const bytes = disksOf(estate, guest.id).reduce((sum, { usedBytes, sizeBytes }) => sum + (usedBytes ?? sizeBytes), 0)
  return AROUND_A_COPY + bytes / COPY_BYTES_PER_SECOND / 60
}

/**
 * How long an item should take: as somebody entered it, otherwise estimated from what it does. A task that nobody timed takes 15 minutes.
 *
 * @param estate as it is before the item
 * @example minutesOf(estate, item) // { value: 12, basis: 'common practice' }
 */
export function minutesOf(estate: Estate, item: Item): ItemMinutes {
  if (item.minutes !== null) return { value: item.minutes, basis: 'as entered' }
  const commands = commandsOf(item)
  const value = commands.length === 0 ? A_TASK : commands.reduce((sum, command) => sum + minutesOfCommand(estate, command), 0)
  return { value: Math.max(1, Math.round(value)), basis: 'common practice' }
}
const A_TASK = 15
