import { describeDifference, markdownTable, sayWhole, type Estate, formatInstant } from '@insel/core'
import type { Change } from '@insel/contract'
import { writeCsv } from '../../lib/files'
import { namesFor } from './names-for'

const HEADINGS = ['revision', 'time', 'person', 'what', 'changes', 'undone by'] as const

/** A row of the logbook as text: what was done in words, and every value that changed. */
function rowsOf(recorded: Estate, changes: readonly Change[], zone: string) {
  return changes.map((change) => {
    const names = namesFor(recorded, change.difference)
    return [
      String(change.revision),
      formatInstant(change.at, zone),
      change.actor.name,
      change.commands.map((command) => sayWhole(names, command).replace(/\.$/, '')).join('; '),
      describeDifference(names, change.difference)
        .map(({ how, title, fields }) => {
          const values = fields.map(({ label, from, to }) => (from === null ? `${label} ${to}` : `${label} ${from} → ${to}`))
          return `${title} ${how}${values.length > 0 ? `: ${values.join(', ')}` : ''}`
        })
        .join('; '),
      change.revertedBy === null ? '' : String(change.revertedBy),
    ]
  })
}

/** The logbook as CSV (RFC 4180). */
export const logbookCsv = (recorded: Estate, changes: readonly Change[], zone: string): string =>
  writeCsv([...HEADINGS], rowsOf(recorded, changes, zone))

/** The logbook as a table in Markdown. */
export const logbookMarkdown = (recorded: Estate, changes: readonly Change[], zone: string): string =>
  `${markdownTable([...HEADINGS], rowsOf(recorded, changes, zone))}\n`
