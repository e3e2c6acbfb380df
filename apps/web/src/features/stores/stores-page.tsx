import {
  counted,
  compareNames,
  dayAfter,
  DAYS_PER_MONTH,
  forecastStore,
  formatBytes,
  formatNumber,
  storeBudget,
  storeGrowth,
} from '@insel/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { useDaily } from '../observations/observed'
import { usePaths } from '../../lib/paths'
import { useToday } from '../../lib/today'
import { ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Empty, Page } from '../../ui/page'
import { GuestsNav } from '../guests/guests-nav'
import { StoreBar } from './store-bar'
import { placeOf } from './store-place'

/** Every store: used, promised, free, what is exposed, and how long it lasts. */
export function StoresPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const daily = useDaily(undefined)
  const rows = useMemo(
    () =>
      estate
        .all('store')
        .map((store) => ({
          store,
          budget: storeBudget(estate, store),
          growth: storeGrowth(estate, store),
          forecast: daily.data ? forecastStore(estate, store, daily.data) : undefined,
        }))
        .sort(
          (a, b) =>
            (a.forecast?.daysToFull?.value ?? Infinity) - (b.forecast?.daysToFull?.value ?? Infinity) ||
            compareNames(a.store.name, b.store.name),
        ),
    [estate, daily.data],
  )
  const add = (
    <ButtonLink look="primary" to={to('records/store/new')}>
      Add a store
    </ButtonLink>
  )
  return (
    <Page
      title="Stores"
      about={
        <>
          What they hold, what they have promised, and how long they last. The first to fill up is on top.
          <GuestsNav />
        </>
      }
      actions={add}
    >
      {rows.length === 0 ? (
        <Empty action={add}>No store is recorded yet. Guests’ disks are on stores: add the first one.</Empty>
      ) : (
        <Ledger
          headings={['store', 'used, promised', 'capacity', 'used', 'free', 'promised', 'short if all fill', 'grows a month', 'full in']}
        >
          {rows.map(({ store, budget, growth, forecast }) => {
            const pace = forecast?.perDay ? forecast.perDay.value * DAYS_PER_MONTH : growth.perMonth.value
            const days = forecast?.daysToFull ? forecast.daysToFull.value : growth.daysToFull
            return (
              <tr key={store.id}>
                <td>
                  <Link className="font-medium name-link" to={to(`guests/stores/${store.id}`)}>
                    {store.name}
                  </Link>{' '}
                  <span className="text-faint">{placeOf(store, (id) => estate.find('host', id)?.name)}</span>
                </td>
                <td className="w-52">
                  <StoreBar store={store} used={budget.used.value} promised={budget.promised.value} />
                </td>
                <td className="font-mono whitespace-nowrap">{formatBytes(store.capacityBytes)}</td>
                <td className="font-mono whitespace-nowrap">{formatBytes(budget.used.value)}</td>
                <td className="font-mono whitespace-nowrap">{formatBytes(budget.freeBytes)}</td>
                <td className="font-mono whitespace-nowrap">{formatNumber(budget.promiseRatio * 100, 0)} %</td>
                <td className="font-mono whitespace-nowrap">
                  {budget.exposure.value > 0 ? <span className="text-warning">{formatBytes(budget.exposure.value)}</span> : 'nothing'}
                </td>
                <td className="font-mono whitespace-nowrap">{pace > 0 ? formatBytes(pace) : forecast?.perDay ? 'nothing' : 'not known'}</td>
                <td className="whitespace-nowrap">
                  {days === undefined
                    ? pace > 0 || forecast?.perDay
                      ? 'not at this rate'
                      : 'not known'
                    : `${counted(days, 'day')}, ${days > 36_500 ? 'more than 100 years away' : dayAfter(today, Math.floor(days))}`}
                  {forecast?.observedDays ? '' : days === undefined ? '' : <span className="text-faint"> as planned</span>}
                </td>
              </tr>
            )
          })}
        </Ledger>
      )}
    </Page>
  )
}
