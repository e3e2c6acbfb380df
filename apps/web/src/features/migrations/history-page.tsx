import {
  copiedFor,
  formatBytes,
  formatDuration,
  migrationNames,
  sayRate,
  timeZoneOf,
  type FieldsOf,
  type Migration,
  formatInstant,
} from '@insel/core'
import { useMemo } from 'react'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { shownColumns, type Column } from '../../ui/columns'
import { ListPage } from '../../ui/list-page'
import { RowLink } from '../../ui/table'
import { MovesNav } from './moves-nav'

/** Every move there was: planned against actual, and what was learned. */
export function MoveHistoryPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const zone = timeZoneOf(estate)
  const rows = useMemo(
    () =>
      estate.all('migration').map((move) => {
        const took = copiedFor(move)
        return {
          id: move.id,
          move,
          ...migrationNames(estate, move),
          owner: estate.find('person', move.ownerId)?.name ?? '',
          plan: estate.find('plan', estate.find('item', move.itemId)?.planId)?.name ?? (move.itemTitle ? 'a removed plan' : 'no plan'),
          at: move.endedAt ?? move.startedAt ?? '',
          took,
          rate: took && move.movedBytes ? move.movedBytes / took : undefined,
        }
      }),
    [estate],
  )
  type Row = (typeof rows)[number]
  const seconds = (value: number | null | undefined) => (value ? formatDuration(value) : '')
  const columns = {
    guestId: {
      id: 'machine',
      header: 'Machine',
      value: (row) => row.guest,
      cell: (row) => (
        <RowLink id={row.id} to={to(`migrations/${row.id}`)}>
          {row.guest}
        </RowLink>
      ),
    },
    fromHostId: { id: 'from', header: 'From', value: (row) => row.from ?? 'physical' },
    toHostId: { id: 'to', header: 'To', value: (row) => row.becomes ?? row.to },
    method: { id: 'method', header: 'Method', value: (row) => row.move.method },
    state: { id: 'state', header: 'State', value: (row) => row.move.state },
    endedAt: {
      id: 'ended',
      header: 'Ended or begun',
      value: (row) => row.at,
      cell: (row) => <span className="whitespace-nowrap">{row.at ? formatInstant(row.at, zone) : ''}</span>,
    },
    estimateSeconds: {
      id: 'planned',
      header: 'Planned',
      csvHeader: 'Planned copy (seconds)',
      value: (row) => row.move.estimateSeconds ?? -1,
      cell: (row) => seconds(row.move.estimateSeconds),
      csvValue: (row) => row.move.estimateSeconds ?? '',
      isNumber: true,
    },
    copySeconds: {
      id: 'took',
      header: 'Took',
      csvHeader: 'Copying took (seconds)',
      value: (row) => row.took ?? -1,
      cell: (row) => seconds(row.took),
      csvValue: (row) => row.took ?? '',
      isNumber: true,
    },
    movedBytes: {
      id: 'moved',
      header: 'Moved',
      csvHeader: 'Moved (bytes)',
      value: (row) => row.move.movedBytes ?? -1,
      cell: (row) => (row.move.movedBytes ? formatBytes(row.move.movedBytes) : ''),
      csvValue: (row) => row.move.movedBytes ?? '',
      isNumber: true,
    },
    rate: {
      id: 'rate',
      header: 'Mean rate',
      csvHeader: 'Mean rate (bytes a second)',
      value: (row) => row.rate ?? -1,
      cell: (row) => (row.rate ? sayRate(row.rate) : ''),
      csvValue: (row) => (row.rate ? Math.round(row.rate) : ''),
      isNumber: true,
    },
    wasOffMinutes: {
      id: 'off',
      header: 'Was off',
      csvHeader: 'Was off (minutes)',
      value: (row) => row.move.wasOffMinutes ?? -1,
      cell: (row) => (row.move.wasOffMinutes === null ? '' : formatDuration(row.move.wasOffMinutes * 60)),
      csvValue: (row) => row.move.wasOffMinutes ?? '',
      isNumber: true,
    },
    nextTime: { id: 'lesson', header: 'Next time', value: (row) => row.move.nextTime ?? row.move.wentWrong ?? row.move.reason ?? '' },
    ownerId: { id: 'who', header: 'Who', value: (row) => row.owner, isExtra: true },
    itemId: { id: 'plan', header: 'Plan', value: (row) => row.plan, isExtra: true },
    note: { id: 'note', header: 'Note', value: (row) => row.move.note, isExtra: true },
  } satisfies Partial<FieldsOf<'migration', Column<Row>>> & Readonly<Record<string, Column<Row>>>
  return (
    <ListPage
      title="Migration history"
      one="migration"
      kind="migration"
      rows={rows}
      columns={shownColumns<Row>(columns)}
      sortBy="-ended"
      wordsOf={({ move, guest, from, to: target, becomes, plan }: Row & { move: Migration }) =>
        [guest, from, target, becomes, plan, move.method, move.state, move.note, move.nextTime, move.wentWrong, move.reason].filter(
          (word) => word !== null,
        )
      }
      groupings={[
        { id: 'state', label: 'state', of: ({ move }) => move.state },
        { id: 'method', label: 'method', of: ({ move }) => move.method },
        { id: 'host', label: 'target host', of: ({ to: target }) => target },
        { id: 'plan', label: 'plan', of: ({ plan }) => plan },
      ]}
      add={<ButtonLink to={to('records/migration/new')}>Record a migration</ButtonLink>}
      about={<MovesNav />}
      whenEmpty="No migration is recorded yet. Open a guest or a physical machine and migrate it, or record one that was done."
    />
  )
}
