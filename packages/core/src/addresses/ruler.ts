import type { AddressCell, Ground } from './address-map.js'

/** A stretch of a ruler whose addresses belong to the same thing and are side by side. */
export interface RulerSpan {
  /** `used` is free ground with a machine on it. */
  readonly ground: Ground | 'used'
  /** Its first address, counted from the beginning of the line. */
  readonly from: number
  readonly count: number
  /** Addresses in the whole run, which may go on over several lines. */
  readonly runCount: number
  /** Where the run begins in the whole drawing: the same for all its stretches. */
  readonly runFrom: number
  /** What it is for, in words. */
  readonly says: string
}

/** One ruled line: some addresses in a row, drawn to scale. */
export interface RulerLine {
  readonly cells: readonly AddressCell[]
  /** Where its first address is in the whole drawing. */
  readonly from: number
  readonly spans: readonly RulerSpan[]
  /** Addresses that a machine has or was seen with, counted from the beginning of the line. */
  readonly marks: readonly { readonly at: number; readonly cell: AddressCell }[]
}

const isMarked = ({ state }: AddressCell) =>
  state === 'fixed' || state === 'DHCP reservation' || state === 'leased' || state === 'gateway' || state === 'conflict'

const groundOf = (cell: AddressCell): RulerSpan['ground'] => (cell.ground === 'free' && isMarked(cell) ? 'used' : cell.ground)

const saysOf = (cell: AddressCell): string => (cell.ground === 'reserved' ? (cell.address?.name ?? cell.address?.note ?? '') : '')

/**
 * Addresses as ruled lines: what each stretch belongs to, and where machines are.
 *
 * @param cells the addresses of a part of a subnet, in order
 * @param perLine how many addresses a line has, at least 1
 * @example rulerLines(addressCells(estate, subnet, prefix), 32)[0].spans[0] // { ground: 'not assignable', from: 0, count: 1, ... }
 */
export function rulerLines(cells: readonly AddressCell[], perLine: number): readonly RulerLine[] {
  const runs = runsOf(cells)
  const lines: RulerLine[] = []
  for (let from = 0; from < cells.length; from += perLine) {
    const end = Math.min(from + perLine, cells.length)
    const own = cells.slice(from, end)
    const spans = runs
      .filter((run) => run.from < end && run.from + run.count > from)
      .map((run) => {
        const [first, last] = [Math.max(run.from, from), Math.min(run.from + run.count, end)]
        return {
          ground: run.ground,
          says: run.says,
          from: first - from,
          count: last - first,
          runCount: run.count,
          runFrom: run.from,
        }
      })
    lines.push({ cells: own, from, spans, marks: own.flatMap((cell, at) => (isMarked(cell) ? [{ at, cell }] : [])) })
  }
  return lines
}

function runsOf(cells: readonly AddressCell[]) {
  const runs: { ground: RulerSpan['ground']; says: string; from: number; count: number }[] = []
  for (const [at, cell] of cells.entries()) {
    const [ground, says] = [groundOf(cell), saysOf(cell)]
    const before = runs.at(-1)
    if (before?.ground === ground && before.says === says) before.count++
    else runs.push({ ground, says, from: at, count: 1 })
  }
  return runs
}

/**
 * The longest stretch of a span without a mark: where something can be written on it.
 *
 * @returns where it begins on the line, and how many addresses it has; none where every address is marked
 */
export function longestGap({ from, count }: RulerSpan, marks: RulerLine['marks']): { readonly from: number; readonly count: number } {
  let longest = { from, count: 0 }
  let begin = from
  for (const at of [...marks.map((mark) => mark.at).filter((at) => at >= from && at < from + count), from + count]) {
    if (at - begin > longest.count) longest = { from: begin, count: at - begin }
    begin = at + 1
  }
  return longest
}

/** Where a mark's name is written: how many rows above the line, and how much room it has. */
export interface NamePlace {
  readonly at: number
  readonly row: number
  readonly room: number
}

/**
 * Names beside their marks in as few rows as it takes, none over another: each on the lowest row that has room for it, and cut
 * short where the highest has not.
 *
 * @param marks where each name begins and how long it is, in one unit, from left to right
 * @param width of the line, in the same unit
 * @param rows at most this many
 * @example placeNames([{ at: 0, length: 50 }, { at: 20, length: 30 }], 100, 3) // the second a row higher, both whole
 */
export function placeNames(
  marks: readonly { readonly at: number; readonly length: number }[],
  width: number,
  rows: number,
): readonly NamePlace[] {
  const placed: (NamePlace | undefined)[] = marks.map(() => undefined)
  // From the right: what a name may cover is known once those after it have their places.
  const startsOf = Array.from({ length: rows }, () => width)
  for (let index = marks.length - 1; index >= 0; index--) {
    const mark = marks[index]
    if (!mark) continue
    const room = startsOf.map((start) => start - mark.at)
    const fits = room.findIndex((one) => one >= mark.length)
    const row = fits >= 0 ? fits : room.indexOf(Math.max(...room))
    placed[index] = { at: mark.at, row, room: Math.min(mark.length, room[row] ?? 0) }
    startsOf[row] = mark.at
  }
  return placed.filter((place) => place !== undefined)
}
