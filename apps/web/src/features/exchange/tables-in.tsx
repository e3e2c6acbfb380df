import {
  counted,
  kinds,
  statesOfNew,
  tableGiven,
  tableKinds,
  tableNames,
  type MappedTable,
  type StateOfNew,
  type TablesImport,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useTablesImport } from '../../estate/checks'
import { useEstate } from '../../estate'
import { sentenceOf } from '../../lib/api'
import { useDraft } from '../../lib/use-draft'
import { Button } from '../../ui/button'
import { FileChoice } from '../../ui/file-choice'
import { Part, Trouble } from '../../ui/page'
import { Effect } from '../proposals/effect'
import { DraftOffer } from '../records/draft-offer'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { ColumnMapping } from './column-mapping'
import { readTablesFile } from './read-tables-file'
import { TableRows } from './table-rows'
import { useTables, type TableChoice, type TablesKept } from './use-tables'

/** So much of tables, in characters, is kept in this browser when one leaves; a larger file can be chosen again. */
const KEPT_MAX = 1_000_000
/** More of a text than this is not typed at, but kept whole. */
const TYPED_MAX = 20_000

/** What was kept of tables, in words: a table of 30 rows, 2 of them mended by hand. */
function saysKept({ sources, edits }: TablesKept): string {
  const rows = counted(
    sources.reduce((sum, source) => sum + source.rows.length, 0),
    'line',
  )
  const of = `${sources.length === 1 ? 'a table' : `${sources.length} tables`} of ${rows}`
  return edits.length === 0 ? of : `${of}, ${edits.length} of them changed here`
}

/** Tables of networks, hosts, guests and addresses, in: what each holds, what every row would record, and what cannot be taken. */
export function TablesIn() {
  const { estateId, basis, submitImport } = useEstate()
  const tables = useTables(estateId)
  const [stateOfNew, setStateOfNew] = useState<StateOfNew>('planned')
  const [said, setSaid] = useState<{ readonly sentence: string; readonly isWrong: boolean }>()
  const [isRecording, setRecording] = useState(false)
  const { imported, isCurrent, trouble, done } = useTablesImport(tables.mapped, stateOfNew)
  const commands = imported && imported.commands.length > 0 ? imported.commands : undefined
  const says = imported ? sayImport(imported, tables.mapped) : ''
  const { kept } = tables
  const isKept = useMemo(() => kept !== undefined && JSON.stringify(kept).length <= KEPT_MAX, [kept])
  const draft = useDraft<TablesKept>(`${estateId}.tables-in`, isKept ? kept : undefined)
  const over = (sentence: string) => {
    draft.over()
    tables.keep()
    tables.take([])
    setSaid({ sentence, isWrong: false })
  }
  const proposal = useProposal({
    commands,
    says,
    ...(basis.on === 'recorded'
      ? {
          recordBy: async (ready) => {
            setRecording(true)
            try {
              return await submitImport({ kind: 'tables', tables: tables.mapped.map(tableGiven), stateOfNew }, ready, says)
            } finally {
              setRecording(false)
            }
          },
        }
      : {}),
    recorded: () => over(`Recorded: ${says}.`),
    planned: () => over(`Added to the plan: ${says}.`),
  })
  const take = (text: string) => {
    const sentence = tables.takeText(text)
    setSaid(sentence === undefined ? undefined : { sentence, isWrong: true })
  }
  const takeFile = async (file: File) => {
    const reading = await readTablesFile(file)
    setSaid('sentence' in reading ? { sentence: reading.sentence, isWrong: true } : undefined)
    if (!('sentence' in reading)) tables.take(reading.tables, reading.text)
  }
  const rowCount = tables.mapped.reduce((sum, { rows }) => sum + rows.length, 0)
  const hasNewGuests =
    imported !== undefined && tables.mapped.some(({ holds, mapping }) => holds === 'guest' && !mapping.columns.includes('state'))
  return (
    <Part title="Import tables">
      <p className="text-soft text-dense py-1 max-w-[75ch]">
        A workbook (.xlsx) with a sheet each of networks, hosts, guests or addresses, or CSV with headings. A known name changes what it
        names, another adds it. Devices and addresses of known guests are left as they are, and named.
      </p>
      <DraftOffer
        draft={draft.offered}
        what={draft.offered ? saysKept(draft.offered.value) : ''}
        take={() => {
          if (draft.offered) tables.takeUp(draft.offered.value)
          draft.taken()
        }}
        discard={draft.discard}
      />
      <textarea
        className="field font-mono text-small max-w-3xl"
        rows={4}
        aria-label="Table"
        placeholder={'name,host,vCPU,memory,disks,networks\nweb-1,gannet,2,4G,40G + 100G,office'}
        value={tables.text.length > TYPED_MAX ? `${tables.text.slice(0, TYPED_MAX)}…` : tables.text}
        readOnly={tables.text.length > TYPED_MAX}
        onChange={(event) => take(event.target.value)}
      />
      <div className="flex flex-wrap gap-3 items-center text-dense mt-1">
        <FileChoice
          label="Choose a workbook or CSV file"
          accept=".xlsx,.csv,.tsv,.txt,text/csv,text/plain,application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
          take={takeFile}
        />
        {tables.tables.length > 0 && (
          <Button look="quiet" className="!min-h-7" onClick={() => tables.take([])}>
            Clear
          </Button>
        )}
      </div>
      {said &&
        (said.isWrong ? (
          <Trouble>{said.sentence}</Trouble>
        ) : (
          <p className="text-dense py-1" role="status">
            {said.sentence}
          </p>
        ))}
      {tables.none.map(({ name, sentence }) => (
        <p key={name} className="text-dense text-soft py-1">
          {name && <b className="font-medium">{name}: </b>}
          {sentence}
        </p>
      ))}
      {tables.tables.map((table, index) => (
        <TableChoices key={`${table.name}/${index}`} table={table} isOut={table.isOut} choose={(choice) => tables.choose(table, choice)} />
      ))}
      {hasNewGuests && (
        <label className="inline-flex items-center gap-2 text-dense my-2">
          New guests without a state are
          <select className="field !w-32" value={stateOfNew} onChange={(event) => setStateOfNew(event.target.value as StateOfNew)}>
            {statesOfNew.map((state) => (
              <option key={state}>{state}</option>
            ))}
          </select>
          <span className="text-faint">No MAC is made up for a guest that exists.</span>
        </label>
      )}
      {trouble && <Trouble>{sentenceOf(trouble)}</Trouble>}
      {done !== undefined && (
        <p className="text-dense text-soft py-1 flex gap-2 items-center">
          <progress max={rowCount} value={done} aria-label="Rows read" /> {counted(done, 'row')} of {rowCount} read
        </p>
      )}
      {imported && (
        <>
          <p className="text-dense py-1" role="status">
            {says}.
          </p>
          <LeftOut imported={imported} tables={tables.mapped} />
          <TableRows tables={tables.mapped} all={tables.tables} imported={imported} edits={tables.edits} edit={tables.edit} />
          {commands && (
            <>
              <Effect commands={commands} />
              {isRecording && (
                <p className="text-dense text-soft py-1 flex gap-2 items-center" role="status">
                  <progress aria-label="Recording" /> Recording {counted(rowCount, 'row')}…
                </p>
              )}
              <ProposalFooter proposal={proposal} label="Record them" isReady={isCurrent && !isRecording} />
            </>
          )}
        </>
      )}
    </Part>
  )
}

/** What a table holds, and its columns. */
function TableChoices({ table, isOut, choose }: { table: MappedTable; isOut: boolean; choose: (choice: TableChoice) => void }) {
  const kind = tableKinds[table.holds]
  const named = table.name || 'the table'
  return (
    <section className="mt-3" aria-label={named}>
      <label className="inline-flex items-center gap-2 text-dense">
        <span>
          <b className="font-medium">{table.name || 'Table'}</b>, {counted(table.rows.length, 'row')}, holds
        </span>
        <select
          className="field !w-36"
          aria-label={`${named} holds`}
          value={isOut ? 'nothing' : table.holds}
          onChange={(event) => choose({ holds: event.target.value as TableChoice['holds'] })}
        >
          {tableNames.map((holds) => (
            <option key={holds} value={holds}>
              {kinds[holds].plural}
            </option>
          ))}
          <option value="nothing">nothing to take</option>
        </select>
        <Guess table={table} choose={choose} />
        {table.headingLine > 1 && <span className="text-faint">headings on line {table.headingLine}; what is above is left out</span>}
      </label>
      {!isOut && (
        <ColumnMapping
          table={table}
          mapping={table.mapping}
          options={kind.columns}
          sizes={kind.sizes}
          choose={(mapping) => choose({ holds: table.holds, mapping })}
        />
      )}
    </section>
  )
}

/** By how many columns fewer another kind of table is still offered. */
const NEARLY = 2

/** How it was guessed what a table holds, and what it may be instead. */
function Guess({ table: { guess = [], holds }, choose }: { table: MappedTable; choose: (choice: TableChoice) => void }) {
  const [best] = guess
  const own = guess.find((one) => one.holds === holds)
  const other = guess.find((one) => one.holds !== holds)
  if (!best || !own || !other) return null
  const isNear = other.columns >= 2 && other.columns + NEARLY >= own.columns
  return (
    <span className={isNear ? 'text-soft' : 'text-faint'}>
      {counted(own.columns, 'column')} known of {kinds[holds].plural}
      {isNear && (
        <>
          , {other.columns} of {kinds[other.holds].plural}:{' '}
          <Button look="quiet" className="!min-h-7" onClick={() => choose({ holds: other.holds })}>
            Read as {kinds[other.holds].plural}
          </Button>
        </>
      )}
    </span>
  )
}

/** What stands in the file and goes nowhere; what would hold what another column holds is asked about. */
function LeftOut({ imported, tables }: { imported: TablesImport; tables: readonly MappedTable[] }) {
  const named = ({ table, heading, cells }: TablesImport['leftOut'][number]) =>
    `${tables.length > 1 ? `${tables[table]?.name ?? ''} ` : ''}${heading} (${counted(cells, 'cell')})`
  const asked = imported.leftOut.filter(({ ask }) => ask)
  const others = imported.leftOut.filter(({ ask }) => !ask)
  return (
    <>
      {asked.map((one) => (
        <p key={`${one.table} ${one.heading}`} className="text-dense text-warning py-1">
          {named(one)} would hold {one.ask?.column}, which {one.ask?.like} holds already. Which of the two is it? Choose it above; until
          then the first is taken.
        </p>
      ))}
      {others.length > 0 && (
        <p className="text-dense text-soft py-1">
          Left out: {others.map(named).join(', ')}. Choose what a column holds to take it along, such as note.
        </p>
      )}
    </>
  )
}

/** @example sayImport(imported, tables) // '2 networks added; 30 guests added, 1 changed; 1 row refused' */
function sayImport({ rows }: TablesImport, tables: readonly MappedTable[]): string {
  const holds = tableNames.filter((name) => tables.some((table) => table.holds === name))
  const parts = holds.map((name) => {
    const own = rows.filter(({ table }) => tables[table]?.holds === name)
    const of = (is: string) => own.filter((row) => row.is === is).length
    const words = [
      ...(of('new') > 0 ? [`${counted(of('new'), kinds[name].label, kinds[name].plural)} added`] : []),
      ...(of('changed') > 0 ? [`${counted(of('changed'), kinds[name].label, kinds[name].plural)} changed`] : []),
      ...(of('as recorded') > 0 ? [`${of('as recorded')} as recorded`] : []),
    ]
    return words.join(', ')
  })
  const refused = rows.filter(({ is }) => is === 'refused').length
  return [...parts, ...(refused > 0 ? [`${counted(refused, 'row')} refused`] : [])].filter(Boolean).join('; ') || 'nothing to record'
}
