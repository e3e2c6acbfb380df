import { kindNames, type TableGiven } from '@insel/core'
import type { EstateVersion } from '../cache/estate-cache.js'

/** An estate of more records than this is work for its own thread. */
const RECORDS_MAX = 10_000
/** So many milliseconds nobody else is kept waiting for. */
const COST_MAX_MS = 25

/**
 * What a character of a text costs where it begins another piece of work, milliseconds, by what the text is: a line of a table becomes a
 * guest with its devices, an item of a plan is applied, a line of names is one record. Measured with 100 kB of each on a slow machine.
 */
const COSTS: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  guests: { '\n': 0.4, '\r': 0.4, '+': 0.1, x: 0.05, ';': 0.02, ',': 0.02, ' ': 0.02 },
  names: { '\n': 0.1, '\r': 0.1, '(': 0.02, ' ': 0.01, ',': 0.02 },
  plan: { '{': 0.6, '[': 0.1, ',': 0.02 },
  lines: { '\n': 0.02, '\r': 0.02 },
}
const ROW_MS = 0.4

/**
 * What an input costs at the most, milliseconds, judged by what it is and how it is made: one pass over it, which ends as soon as it is
 * too much.
 *
 * @example costOf({ kind: 'guests', text: 'name,vcpu\nweb-1,4\n' }) // 0.84
 */
export function costOf(input: unknown): number {
  const asked: Readonly<Record<string, unknown>> = typeof input === 'object' && input !== null ? { ...input } : {}
  const rows = ((asked['tables'] as readonly TableGiven[] | undefined) ?? []).reduce((sum, table) => sum + table.rows.length, 0)
  let cost = rows * ROW_MS
  const { text, kind } = asked
  if (typeof text !== 'string') return cost
  const costs = COSTS[typeof kind === 'string' ? kind : ''] ?? { '\n': 0.4, '{': 0.6 }
  // What is neither parted nor nested is still read, character by character.
  cost += text.length / 20_000
  for (let at = 0; at < text.length && cost <= COST_MAX_MS; at++) cost += costs[text.charAt(at)] ?? 0
  return cost
}

/** Whether a task is too much for the thread that answers everybody. */
export const isHeavy = ({ estate }: EstateVersion, input: unknown): boolean =>
  costOf(input) > COST_MAX_MS || kindNames.reduce((sum, kind) => sum + estate.count(kind), 0) > RECORDS_MAX
