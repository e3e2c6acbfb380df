import { counted, daysBetween, dayOf, formatBytes, policyOf, timeZoneOf, type Guest, type Snapshot, formatInstant } from '@insel/core'
import { Link } from 'react-router'
import { mayRecord, useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { now } from '../../lib/time'
import { useToday } from '../../estate/today'
import { useRecord } from '../../estate/use-record'
import { AddLine } from '../../ui/add-line'
import { Button } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Part, Trouble } from '../../ui/page'

/** Snapshots from the oldest to the newest: each after what it is on. */
function inOrder(snapshots: readonly Snapshot[]): readonly { readonly snapshot: Snapshot; readonly depth: number }[] {
  const under = (parentId: string | null, depth: number): { snapshot: Snapshot; depth: number }[] =>
    snapshots
      .filter((one) => one.parentId === parentId)
      .sort((a, b) => (a.takenAt < b.takenAt ? -1 : 1))
      .flatMap((snapshot) => [{ snapshot, depth }, ...under(snapshot.id, depth + 1)])
  return under(null, 1)
}

/** A guest's snapshots with age and size. They are no backup, and grow with every change. */
export function Snapshots({ guest, snapshots }: { guest: Guest; snapshots: readonly Snapshot[] }) {
  const { estate, basis } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const { record, trouble } = useRecord()
  const { snapshotMaxDays, snapshotMaxDepth } = policyOf(estate)
  const lines = inOrder(snapshots)
  const take = (name: string) => {
    const parentId = lines.at(-1)?.snapshot.id ?? null
    const takenAt = now()
    return record([{ type: 'snapshot.add', record: { guestId: guest.id, name, takenAt, parentId } }])
  }
  const remove = (snapshot: Snapshot) =>
    record([
      ...snapshots
        .filter(({ parentId }) => parentId === snapshot.id)
        .map(({ id }) => ({ type: 'snapshot.update' as const, id, changes: { parentId: snapshot.parentId } })),
      { type: 'snapshot.remove', id: snapshot.id },
    ])
  if (guest.kind === 'external') return null
  return (
    <Part
      title="Snapshots"
      aside={
        mayRecord(basis) && (
          <AddLine label="Purpose of the snapshot" placeholder="purpose…" action="Record a snapshot" fieldWidth="!w-44" add={take} />
        )
      }
    >
      {snapshots.length === 0 && <p className="text-soft py-1">None recorded.</p>}
      {snapshots.length > 0 && (
        <Ledger headings={['snapshot', 'taken', 'age', 'size', '.remove']}>
          {lines.map(({ snapshot, depth }) => {
            const days = daysBetween(dayOf(estate, snapshot.takenAt), today)
            return (
              <tr key={snapshot.id}>
                <td style={{ paddingLeft: depth * 12 }}>
                  <Link className="name-link" to={to(`records/snapshot/${snapshot.id}`)}>
                    {snapshot.name}
                  </Link>
                  {depth > snapshotMaxDepth && <span className="text-warning"> {depth} deep</span>}
                </td>
                <td className="font-mono whitespace-nowrap">{formatInstant(snapshot.takenAt, timeZoneOf(estate))}</td>
                <td className={days > snapshotMaxDays ? 'text-warning' : ''}>{counted(days, 'day')}</td>
                <td className="font-mono">{formatBytes(snapshot.sizeBytes)}</td>
                <td>
                  {mayRecord(basis) && (
                    <Button look="quiet" className="!min-h-7" onClick={() => void remove(snapshot)}>
                      Record as removed<span className="sr-only"> {snapshot.name}</span>
                    </Button>
                  )}
                </td>
              </tr>
            )
          })}
        </Ledger>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
