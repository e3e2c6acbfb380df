import { counted, guestColumns, guestSizeColumns, importGuests, readGuestTable } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { useReadTable } from './use-read-table'
import { ColumnMapping } from './column-mapping'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { Part, Trouble } from '../../ui/page'
import { FileChoice } from '../../ui/file-choice'

/** A table of guests, in: what its columns hold, what it would record, and the lines that cannot be taken. */
export function TableIn() {
  const { estate, basis, submitImport } = useEstate()
  const { text, table, columns, setMapping, take: takeText } = useReadTable(readGuestTable)
  const [kept, setKept] = useState<string>()
  const reading = useMemo(
    () => (table && 'rows' in table && columns ? importGuests(estate, table, columns, ids) : undefined),
    [table, columns, estate],
  )
  const take = (next: string) => {
    takeText(next)
    setKept(undefined)
  }
  const says = reading ? `${counted(reading.added.length, 'guest')} added and ${reading.changed.length} changed from a table` : ''
  const proposal = useProposal({
    commands: reading?.commands,
    says,
    ...(basis.on === 'recorded' && columns
      ? { recordBy: (commands) => submitImport({ kind: 'guests', text, columns }, commands, says) }
      : {}),
    recorded() {
      take('')
      setKept(says)
    },
    planned: () => take(''),
  })
  return (
    <Part title="Import a table">
      <p className="text-soft text-dense py-1">
        CSV with headings. A known name changes that guest, another adds one; disks, networks and addresses are taken for new guests only.
      </p>
      <textarea
        className="field font-mono text-small"
        rows={4}
        aria-label="Table of guests"
        placeholder={'name,host,vCPU,memory,disks,networks\nweb-1,gannet,2,4G,40G + 100G,office'}
        value={text}
        onChange={(event) => take(event.target.value)}
      />
      <FileChoice label="Choose a file of guests" accept=".csv,.tsv,.txt,text/csv" take={(file) => file.text().then(take)} />
      {table && 'sentence' in table && <Trouble>{table.sentence}</Trouble>}
      {table && 'rows' in table && columns && reading && (
        <>
          <ColumnMapping table={table} mapping={columns} options={guestColumns} sizes={guestSizeColumns} choose={setMapping} />
          <p className="text-dense py-1" role="status">
            {reading.added.length} new, {reading.changed.length} changed, {reading.same} as they are, {reading.rejected.length}{' '}
            {reading.rejected.length === 1 ? 'line' : 'lines'} not taken.
          </p>
          <ul className="text-dense text-warning">
            {reading.rejected.slice(0, 6).map(({ line, reason }) => (
              <li key={line}>
                Line {line}: {reason}
              </li>
            ))}
            {reading.rejected.length > 6 && <li>And {reading.rejected.length - 6} more.</li>}
          </ul>
          {reading.commands.length > 0 && (
            <>
              <Effect commands={reading.commands} />
              <ProposalFooter proposal={proposal} label="Record them" />
            </>
          )}
        </>
      )}
      {kept && (
        <p className="text-dense" role="status">
          {kept}.
        </p>
      )}
    </Part>
  )
}
