import {
  compareNames,
  counted,
  DAYS_PER_MONTH,
  daysToFullFrom,
  type FieldsOf,
  forecastStore,
  formatBytes,
  formatNumber,
  fullOn,
  storeBudget,
  storeGrowth,
} from '@insel/core'
import { useMemo } from 'react'
import { useEstate } from '../../estate'
import { useDaily } from '../observations/observed'
import { usePaths } from '../../lib/paths'
import { useToday } from '../../estate/today'
import { ButtonLink } from '../../ui/button'
import { shownColumns, type Column } from '../../ui/columns'
import { ListPage } from '../../ui/list-page'
import { RowLink } from '../../ui/table'
import { GuestsNav } from '../frames/guests-nav'
import { StoreBar } from './store-bar'
import { placeOf } from './store-place'

/** Sorts after every number of days. */
const NEVER = Number.MAX_SAFE_INTEGER

/** Every store: used, promised, free, what is exposed, and how long it lasts. */
export function StoresPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const daily = useDaily(undefined)
  const rows = useMemo(
    () =>
      [...estate.all('store')]
        .sort((a, b) => compareNames(a.name, b.name))
        .map((store) => {
          const budget = storeBudget(estate, store)
          const growth = storeGrowth(estate, store)
          const forecast = daily.data ? forecastStore(estate, store, daily.data) : undefined
          const host = estate.find('host', store.hostId)?.name ?? ''
          return {
            id: store.id,
            store,
            host,
            place: placeOf(store, () => host || undefined),
            used: budget.used.value,
            held: budget.held.value,
            promised: budget.promised.value,
            free: budget.freeBytes,
            promise: budget.promiseRatio,
            exposure: budget.exposure.value,
            isObserved: Boolean(forecast?.trend),
            isForeseen: Boolean(forecast?.observedDays),
            pace: forecast?.trend ? forecast.trend.perDay * DAYS_PER_MONTH : growth.perMonth.value,
            days: forecast?.daysToFull ? daysToFullFrom(forecast, today)?.value : growth.daysToFull,
            array: estate.find('array', store.arrayId)?.name ?? '',
            server: estate.find('guest', store.servedById)?.name ?? '',
          }
        }),
    [estate, daily.data, today],
  )
  type Row = (typeof rows)[number]
  const bytes = (id: string, header: string, value: (row: Row) => number): Column<Row> => ({
    id,
    header,
    csvHeader: `${header} (bytes)`,
    value,
    cell: (row) => formatBytes(value(row)),
    isNumber: true,
  })
  const fullIn = ({ days, pace, isObserved }: Row) => {
    if (days === undefined) return pace > 0 || isObserved ? 'not at this rate' : 'not known'
    const full = fullOn(days, today)
    return `${counted(full.days, 'day')}, ${days > 36_500 ? 'more than 100 years away' : full.day}`
  }
  const columns = {
    name: {
      id: 'name',
      header: 'Store',
      value: (row) => row.store.name,
      cell: (row) => (
        <>
          <RowLink id={row.id} to={to(`guests/stores/${row.id}`)}>
            {row.store.name}
          </RowLink>{' '}
          <span className="text-faint">{row.place}</span>
        </>
      ),
    },
    bar: {
      id: 'bar',
      header: 'Used, promised',
      value: (row) => row.used / row.store.capacityBytes,
      csvValue: (row) => Math.round((row.used / row.store.capacityBytes) * 1000) / 1000,
      csvHeader: 'Used (share)',
      cell: (row) => (
        <div className="min-w-40">
          <StoreBar store={row.store} used={row.used} held={row.held} promised={row.promised} />
        </div>
      ),
    },
    days: {
      id: 'days',
      header: 'Full in',
      csvHeader: 'Full in (days)',
      value: (row) => row.days ?? NEVER,
      csvValue: (row) => row.days ?? '',
      cell: (row) => (
        <>
          {fullIn(row)}
          {row.days !== undefined && !row.isForeseen && <span className="text-faint"> as planned</span>}
        </>
      ),
    },
    capacityBytes: bytes('capacity', 'Capacity', (row) => row.store.capacityBytes),
    used: {
      ...bytes('used', 'Used', (row) => row.used),
      cell: (row) => (
        <>
          {formatBytes(row.used)}
          {row.held > 0 && <span className="block text-soft">+ {formatBytes(row.held)} held</span>}
        </>
      ),
    },
    held: { ...bytes('held', 'Held for moves', (row) => row.held), isExtra: true },
    free: bytes('free', 'Free', (row) => row.free),
    promise: {
      id: 'promised',
      header: 'Promised',
      csvHeader: 'Promised (share)',
      value: (row) => row.promise,
      cell: (row) => `${formatNumber(row.promise * 100, 0)} %`,
      isNumber: true,
    },
    exposure: {
      ...bytes('short', 'Short if all fill', (row) => row.exposure),
      cell: (row) => (row.exposure > 0 ? <span className="text-warning">{formatBytes(row.exposure)}</span> : 'nothing'),
    },
    growth: {
      ...bytes('growth', 'Grows a month', (row) => row.pace),
      cell: ({ pace, isObserved }) => (pace > 0 ? formatBytes(pace) : isObserved ? 'nothing' : 'not known'),
    },
    kind: { id: 'kind', header: 'Kind', value: (row) => row.store.kind, isExtra: true },
    hostId: { id: 'host', header: 'Host', value: (row) => row.host, isExtra: true },
    site: { id: 'site', header: 'Site', value: (row) => row.store.site ?? '', isExtra: true },
    arrayId: { id: 'array', header: 'Array', value: (row) => row.array, isExtra: true },
    servedById: { id: 'server', header: 'Served by', value: (row) => row.server, isExtra: true },
    // Counted in what is used; the note is on the store's own page.
    otherBytes: null,
    note: null,
  } satisfies FieldsOf<'store', Column<Row>> & Readonly<Record<string, Column<Row> | null>>
  return (
    <ListPage
      title="Stores"
      one="store"
      kind="store"
      rows={rows}
      columns={shownColumns<Row>(columns)}
      sortBy="days"
      wordsOf={(row) => [row.store.name, row.place, row.array, row.server, row.store.kind, row.store.note]}
      groupings={[
        { id: 'kind', label: 'kind', of: (row) => row.store.kind },
        { id: 'host', label: 'host', of: (row) => row.host || 'on no host' },
      ]}
      about={<GuestsNav />}
      add={
        <ButtonLink look="primary" to={to('records/store/new')}>
          Add store
        </ButtonLink>
      }
      whenEmpty="No store is recorded yet. Guests’ disks are on stores: add the first one."
    />
  )
}
