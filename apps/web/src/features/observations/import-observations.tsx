import {
  counted,
  formatBytes,
  formatMiB,
  formatNumber,
  mapObservations,
  observationColumns,
  observationSizeColumns,
  readObservationTable,
  type Guest,
} from '@insel/core'
import { Fragment, useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { useObserve } from './observed'
import { useReadTable } from '../exchange/use-read-table'
import { ColumnMapping } from '../exchange/column-mapping'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { FileChoice } from '../../ui/file-choice'
import { now } from '../../lib/time'

/** Takes in a table of observations, pasted or from a file: what each column is, a preview, then all of it. */
export function ImportObservations({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { text, table, columns, setMapping, take: takeText } = useReadTable(readObservationTable)
  const [sent, setSent] = useState(0)
  const observe = useObserve(setSent)
  const reading = useMemo(
    () => (table && 'rows' in table && columns ? mapObservations(estate, table, columns, guest.id, now()) : undefined),
    [table, columns, estate, guest.id],
  )
  const take = (next: string) => {
    takeText(next)
    observe.reset()
  }
  const send = () => reading && observe.mutate(reading.observed.map(({ subjectId, sample }) => ({ subjectId, ...sample })))
  const subjects = new Set(reading?.observed.map(({ subjectId }) => subjectId)).size
  return (
    <Part title="Import observations">
      <p className="text-soft text-dense py-1">
        CSV with headings: time, and any of cpu %, memory, disk; a column of names where it holds several guests or stores. Times without a
        zone are UTC.
      </p>
      <textarea
        className="field font-mono text-small"
        rows={4}
        aria-label="Table of observations"
        placeholder={'time,cpu %,memory MiB,disk GiB\n2027-01-18 08:00,12,2048,31.5'}
        value={text.length > 20_000 ? `${text.slice(0, 20_000)}…` : text}
        readOnly={text.length > 20_000}
        onChange={(event) => take(event.target.value)}
      />
      <div className="flex flex-wrap gap-3 items-center text-dense mt-1">
        <FileChoice label="Choose a file" accept=".csv,.tsv,.txt,text/csv,text/plain" take={(file) => file.text().then(take)} />
        {text !== '' && (
          <Button look="quiet" className="!min-h-7" onClick={() => take('')}>
            Clear
          </Button>
        )}
      </div>
      {table && 'sentence' in table && <Trouble>{table.sentence}</Trouble>}
      {table && 'rows' in table && columns && reading && (
        <>
          <ColumnMapping
            table={table}
            mapping={columns}
            options={observationColumns}
            sizes={observationSizeColumns}
            withPercent
            choose={setMapping}
          />
          <p className="text-dense py-1" role="status">
            {formatNumber(reading.observed.length, 0)} of {counted(table.rows.length, 'row')} can be imported, of {subjects}{' '}
            {subjects === 1 ? 'guest or store' : 'guests and stores'}.
          </p>
          {reading.observed.length > 0 && <Ranges reading={reading} />}
          {reading.rejected.length > 0 && (
            <ul className="text-dense text-warning">
              {reading.rejected.slice(0, 5).map(({ line, reason }) => (
                <li key={line}>
                  Line {line}: {reason}
                </li>
              ))}
              {reading.rejected.length > 5 && <li>And {reading.rejected.length - 5} more lines.</li>}
            </ul>
          )}
          <Button
            look="primary"
            className="mt-1"
            disabled={reading.observed.length === 0 || observe.isPending || observe.isSuccess}
            onClick={send}
          >
            {observe.isPending ? `Importing, ${formatNumber(sent, 0)} done` : `Import ${counted(reading.observed.length, 'observation')}`}
          </Button>
          {observe.isSuccess && (
            <p className="text-dense py-1" role="status">
              {formatNumber(observe.data.taken, 0)} kept.
            </p>
          )}
          {observe.isError && <Trouble>{observe.error.message}</Trouble>}
        </>
      )}
    </Part>
  )
}

/** The lowest and highest value of each measure as it was read, so that a wrong unit is seen before it is kept. */
function Ranges({ reading }: { reading: ReturnType<typeof mapObservations> }) {
  const ranges = (
    [
      ['Processors', 'cpuPercent', (value: number) => `${formatNumber(value)} %`],
      ['Memory', 'memoryMiB', (value: number) => formatMiB(value, 2)],
      ['Disk', 'diskBytes', (value: number) => formatBytes(value, 2)],
    ] as const
  ).flatMap(([label, measure, words]) => {
    let [low, high] = [Infinity, -Infinity]
    for (const { sample } of reading.observed) {
      const value = sample[measure]
      if (typeof value !== 'number') continue
      low = Math.min(low, value)
      high = Math.max(high, value)
    }
    return low > high ? [] : [{ label, text: low === high ? words(low) : `${words(low)} to ${words(high)}` }]
  })
  return (
    <dl className="facts [--label:110px] gap-y-0.5 text-dense py-1" aria-label="Values as read">
      {ranges.map(({ label, text }) => (
        <Fragment key={label}>
          <dt className="text-faint">{label}</dt>
          <dd>{text}</dd>
        </Fragment>
      ))}
    </dl>
  )
}
