import { formatDuration, type FieldsOf } from '@insel/core'
import { useMemo } from 'react'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink, Key } from '../../ui/button'
import { shownColumns, type Column } from '../../ui/columns'
import { ListPage } from '../../ui/list-page'
import { RowLink } from '../../ui/table'
import { progressOf } from './plan-progress'

/** Plans that are worked on come first, those that are over last. */
const IN_ORDER = ['under way', 'agreed', 'draft', 'done', 'dropped']

/** Every plan: how far it is, what comes next, and whether it still fits the record. */
export function PlansPage() {
  const { recorded } = useEstate()
  const { to } = usePaths()
  const rows = useMemo(
    () =>
      recorded.all('plan').map((plan) => ({
        id: plan.id,
        plan,
        owner: recorded.find('person', plan.ownerId)?.name ?? '',
        ...progressOf(recorded, plan),
      })),
    [recorded],
  )
  type Row = (typeof rows)[number]
  const columns = {
    name: {
      id: 'name',
      header: 'Plan',
      value: (row) => row.plan.name,
      cell: (row) => (
        <RowLink id={row.id} to={to(`plans/${row.id}`)}>
          {row.plan.name}
        </RowLink>
      ),
    },
    state: {
      id: 'state',
      header: 'State',
      value: (row) => IN_ORDER.indexOf(row.plan.state),
      csvValue: (row) => row.plan.state,
      cell: (row) => row.plan.state,
    },
    next: { id: 'next', header: 'Next', value: (row) => row.next?.title ?? '' },
    over: {
      id: 'done',
      header: 'Done',
      csvHeader: 'Done (share)',
      value: (row) => (row.items === 0 ? 0 : row.over / row.items),
      cell: (row) => `${row.over} of ${row.items}`,
      isNumber: true,
    },
    minutes: {
      id: 'left',
      header: 'Time left',
      csvHeader: 'Time left (minutes)',
      value: (row) => row.minutesLeft,
      cell: (row) => (row.minutesLeft > 0 ? formatDuration(row.minutesLeft * 60) : ''),
      isNumber: true,
    },
    stale: {
      id: 'stale',
      header: 'Stale',
      csvHeader: 'Stale items',
      value: (row) => row.stale,
      cell: (row) => (row.stale > 0 ? <span className="text-warning font-bold">{row.stale}</span> : ''),
      isNumber: true,
    },
    ownerId: { id: 'owner', header: 'Owner', value: (row) => row.owner },
    note: { id: 'note', header: 'Note', value: (row) => row.plan.note, isExtra: true },
  } satisfies FieldsOf<'plan', Column<Row>> & Readonly<Record<string, Column<Row> | null>>
  return (
    <ListPage
      title="Plans"
      one="plan"
      kind="plan"
      rows={rows}
      columns={shownColumns<Row>(columns)}
      sortBy="state"
      wordsOf={(row) => [row.plan.name, row.owner, row.next?.title ?? '', row.plan.state]}
      groupings={[{ id: 'state', label: 'state', of: (row) => row.plan.state }]}
      add={
        <>
          <ButtonLink to={to('plans/import')}>Import plan</ButtonLink>
          <ButtonLink look="primary" to={to('records/plan/new')}>
            Add plan <Key>n</Key>
          </ButtonLink>
        </>
      }
      whenEmpty="No plan is recorded yet. Add one, then add what you set out to do as its items: on the plan’s own page, or from any page that offers “Add to plan”."
    />
  )
}
