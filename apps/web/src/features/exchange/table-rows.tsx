import { counted, type MappedTable, type RowOutcome, type TableRow, type TablesImport } from '@insel/core'
import { useEffect, useState } from 'react'
import { flushSync } from 'react-dom'
import { Button } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { keyOf, type RowEdit } from './use-tables'

const SHOWN = 30
const LOOKS = { refused: 'text-error', new: 'text-accent', changed: 'text-ink', 'as recorded': 'text-faint' } as const
const WANTED = ['refused', 'with remarks', 'all'] as const

/** The rows of tables that come in, each with what becomes of it: cells can be typed in, rows left out. */
export function TableRows({
  tables,
  all,
  imported,
  edits,
  edit,
}: {
  tables: readonly MappedTable[]
  all: readonly MappedTable[]
  imported: TablesImport
  edits: ReadonlyMap<string, RowEdit>
  edit: (table: string, line: number, change: RowEdit) => void
}) {
  const [chosen, setWanted] = useState<(typeof WANTED)[number]>()
  const [shown, setShown] = useState(SHOWN)
  const count = (which: (typeof WANTED)[number]) => imported.rows.filter((row) => isWanted(row, which)).length
  const wanted = chosen ?? (count('refused') > 0 ? 'refused' : count('with remarks') > 0 ? 'with remarks' : 'all')
  const rows = imported.rows.filter((row) => isWanted(row, wanted))
  const out = all.flatMap((table) => table.rows.flatMap((row) => (edits.get(keyOf(table.name, row.line))?.isOut ? [{ table, row }] : [])))
  const byTable = tables.map((table, at) => ({ table, rows: rows.slice(0, shown).filter((row) => row.table === at) }))
  return (
    <section aria-label="Rows" className="mt-2">
      <label className="inline-flex items-center gap-2 text-dense">
        Rows
        <select
          className="field !w-44"
          value={wanted}
          onChange={(event) => {
            setWanted(event.target.value as typeof wanted)
            setShown(SHOWN)
          }}
        >
          {WANTED.map((which) => (
            <option key={which} value={which}>
              {which}, {count(which)}
            </option>
          ))}
        </select>
      </label>
      {byTable
        .filter((one) => one.rows.length > 0)
        .map((one) => (
          <div key={one.table.name}>
            {one.table.name && <h3 className="text-dense font-medium mt-2">{one.table.name}</h3>}
            <RowsOfTable table={one.table} rows={one.rows} edit={edit} />
          </div>
        ))}
      {rows.length > shown && (
        <Button look="quiet" onClick={() => setShown(shown + 5 * SHOWN)}>
          Show more, {counted(rows.length - shown, 'row')} left
        </Button>
      )}
      {out.length > 0 && (
        <p className="text-dense text-soft py-1 flex flex-wrap gap-2 items-center">
          Rows left out:
          {out.slice(0, SHOWN).map(({ table, row }) => (
            <Button
              key={`${table.name}/${row.line}`}
              look="quiet"
              className="!min-h-7"
              onClick={() => edit(table.name, row.line, { isOut: false })}
            >
              Take line {row.line} again
            </Button>
          ))}
        </p>
      )}
    </section>
  )
}

const isWanted = ({ is, remarks }: RowOutcome, which: (typeof WANTED)[number]) =>
  which === 'all' || (which === 'refused' ? is === 'refused' : is !== 'refused' && remarks.length > 0)

function RowsOfTable({
  table,
  rows,
  edit,
}: {
  table: MappedTable
  rows: readonly RowOutcome[]
  edit: (table: string, line: number, change: RowEdit) => void
}) {
  // Of several that hold the same, each is called by its number.
  const columns = table.mapping.columns.flatMap((column, at, all) => {
    const before = all.slice(0, at).filter((one) => one === column).length
    const isSeveral = before > 0 || all.lastIndexOf(column) > at
    return column === 'leave out' ? [] : [{ column, at, named: isSeveral ? `${column} ${before + 1}` : column }]
  })
  const byLine = new Map(table.rows.map((row) => [row.line, row]))
  return (
    <Ledger headings={['line', 'is', ...columns.map(({ named }) => named), '.leave out']}>
      {rows.map((outcome) => {
        const row = byLine.get(outcome.line)
        return (
          row && (
            <Row
              // What is typed at a cell stays where it is when another cell is read.
              key={outcome.line}
              table={table}
              row={row}
              outcome={outcome}
              columns={columns}
              set={(at, text) => edit(table.name, row.line, { cells: filled(row.cells, at, text) })}
              leaveOut={() => edit(table.name, row.line, { isOut: true })}
            />
          )
        )
      })}
    </Ledger>
  )
}

/** Cells with another text at a place, which may be beyond their end. */
const filled = (cells: readonly string[], at: number, text: string): readonly string[] =>
  Array.from({ length: Math.max(cells.length, at + 1) }, (_, index) => (index === at ? text : (cells[index] ?? '')))

function Row({
  table,
  row,
  outcome,
  columns,
  set,
  leaveOut,
}: {
  table: MappedTable
  row: TableRow
  outcome: RowOutcome
  columns: readonly { readonly column: string; readonly at: number; readonly named: string }[]
  set: (at: number, text: string) => void
  leaveOut: () => void
}) {
  const said = `said-${table.name}-${row.line}`.replace(/\s+/g, '-')
  return (
    <>
      <tr>
        <td className="font-mono text-faint">{row.line}</td>
        <td className={LOOKS[outcome.is]}>{outcome.is}</td>
        {columns.map(({ column, at, named }) => {
          const isWrong = outcome.problems.some((problem) => problem.column === column)
          return (
            <td key={at}>
              <Cell
                label={`${named}, line ${row.line}`}
                text={row.cells[at] ?? ''}
                isWrong={isWrong}
                said={isWrong ? said : undefined}
                set={(text) => set(at, text)}
              />
            </td>
          )
        })}
        <td>
          <Button look="quiet" className="!min-h-7" aria-label={`Leave out line ${row.line}`} onClick={leaveOut}>
            Leave out
          </Button>
        </td>
      </tr>
      {(outcome.problems.length > 0 || outcome.remarks.length > 0) && (
        <tr>
          <td />
          <td colSpan={columns.length + 2} id={said} className="!whitespace-normal">
            {outcome.problems.map(({ sentence }) => (
              <p key={sentence} className="text-error">
                {sentence}
              </p>
            ))}
            {outcome.remarks.map((sentence) => (
              <p key={sentence} className="text-soft">
                {sentence}
              </p>
            ))}
          </td>
        </tr>
      )}
    </>
  )
}

/** A cell that is typed in: read when one leaves it, or with Enter. */
function Cell({
  label,
  text,
  isWrong,
  said,
  set,
}: {
  label: string
  text: string
  isWrong: boolean
  said: string | undefined
  set: (text: string) => void
}) {
  const [typed, setTyped] = useState(text)
  const [seen, setSeen] = useState(text)
  if (text !== seen) {
    setSeen(text)
    setTyped(text)
  }
  const read = () => typed !== text && set(typed)
  // Who loads the page again has not left the cell; what is kept of the table has to have it before the page goes.
  useEffect(() => {
    if (typed === text) return
    const leave = () => flushSync(() => set(typed))
    window.addEventListener('beforeunload', leave)
    return () => window.removeEventListener('beforeunload', leave)
  }, [typed, text, set])
  return (
    <input
      className={`field font-mono text-small !w-28 focus:!w-56 !min-h-7 ${isWrong ? '!border-error' : ''}`}
      aria-label={label}
      aria-invalid={isWrong}
      {...(said ? { 'aria-describedby': said } : {})}
      value={typed}
      title={typed}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={read}
      onKeyDown={(event) => event.key === 'Enter' && read()}
    />
  )
}
