import {
  compareNames,
  counted,
  dayAfter,
  disksOf,
  type Forecast,
  forecastStore,
  formatBytes,
  formatNumber,
  type Store,
  storeBudget,
  storeUseCommand,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { Area, ComposedChart, CartesianGrid, Line, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { byteAxis } from '../../lib/byte-axis'
import { useEstate } from '../../estate'
import { useDaily } from '../observations/observed'
import { usePaths } from '../../lib/paths'
import { useToday } from '../../lib/today'
import { useRecord } from '../../lib/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { FigureView } from '../figures/figure-view'
import { Ledger } from '../../ui/ledger'
import { Page, Part, Trouble } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { Tick } from '../../ui/tick'
import { FindingsOf } from '../findings/findings-of'
import { GuestsNav } from '../guests/guests-nav'
import { StoreBar } from './store-bar'
import { placeOf } from './store-place'

/** One store: what it holds and promised, how it filled and when it is full, who drives it, and every disk on it. */
export function StorePage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const { to } = usePaths()
  const store = estate.find('store', id)
  if (!store) return <RemovedPage kind="store" id={id} />
  return (
    <Page
      title={store.name}
      about={
        <>
          Store, {placeOf(store, (hostId) => estate.find('host', hostId)?.name)}
          {store.servedById && `, served by ${estate.find('guest', store.servedById)?.name ?? ''}`}
          <GuestsNav />
        </>
      }
      actions={<ButtonLink to={to(`records/store/${store.id}`)}>Change</ButtonLink>}
    >
      <StoreBody key={store.id} store={store} />
    </Page>
  )
}

function StoreBody({ store }: { store: Store }) {
  const { estate } = useEstate()
  const daily = useDaily(store.id)
  const budget = storeBudget(estate, store)
  const forecast = useMemo(() => (daily.data ? forecastStore(estate, store, daily.data) : undefined), [estate, store, daily.data])
  const [isFilled, setFilled] = useState(false)
  const used = isFilled ? (forecast?.allFilledBytes ?? budget.promised.value) : budget.used.value
  return (
    <div className="grid lg:grid-cols-[minmax(0,1fr)_360px] gap-x-10">
      <div>
        <Part
          title="Now"
          aside={
            <label className="inline-flex items-center gap-2 text-[13px]">
              <Tick
                isTicked={isFilled}
                onTick={(ticked) => {
                  setFilled(ticked)
                  return Promise.resolve()
                }}
              />
              What if all thin disks filled
            </label>
          }
        >
          <div className="py-2">
            <StoreBar store={store} used={used} promised={budget.promised.value} />
          </div>
          <p className="text-[13px] flex flex-wrap gap-x-6" aria-live="polite">
            <span>
              Used <FigureView figure={budget.used} title={`Used on ${store.name}`} />
            </span>
            <span>
              Promised <FigureView figure={budget.promised} title={`Promised by ${store.name}`} />
            </span>
            <span>Free {formatBytes(budget.freeBytes)}</span>
            <span>
              Exposure <FigureView figure={budget.exposure} title={`Exposure of ${store.name}`} />
            </span>
            {isFilled && (
              <b className={used > store.capacityBytes ? 'text-error' : ''}>
                {used > store.capacityBytes
                  ? `All filled: short of ${formatBytes(used - store.capacityBytes)}.`
                  : `All filled: ${formatBytes(store.capacityBytes - used)} left.`}
              </b>
            )}
          </p>
        </Part>
        <Part title="How it fills">
          {forecast ? <Filling store={store} forecast={forecast} /> : <p className="text-faint py-1">Looking…</p>}
        </Part>
        <DisksOn store={store} />
      </div>
      <div>
        {forecast && <Drivers forecast={forecast} />}
        {forecast && <TakeOver store={store} forecast={forecast} />}
        <FindingsOf ids={[store.id]} />
      </div>
    </div>
  )
}

/** Days ahead that are drawn: to a little past the day it is full, within bounds. */
const aheadOf = ({ daysToFull }: Forecast) => Math.round(Math.min(365, Math.max(30, (daysToFull?.value ?? 90) * 1.15)))

function Filling({ store, forecast }: { store: Store; forecast: Forecast }) {
  const today = useToday()
  const { history, perDay, daysToFull, observedDays, from } = forecast
  const last = history.at(-1)
  if (!last)
    return (
      <p className="text-soft py-1 text-[13px]">
        Nothing was observed of it or of its guests yet. Import or collect observations; from three days on there is a pace.
      </p>
    )
  const { unit, size } = byteAxis(store.capacityBytes)
  const points = [
    ...history.map(([day, bytes]) => ({ day, used: bytes / size })),
    ...(perDay
      ? Array.from({ length: aheadOf(forecast) }, (_, index) => {
          const at = (pace: number) => Math.max(0, (last[1] + pace * (index + 1)) / size)
          return { day: dayAfter(last[0], index + 1), projected: at(perDay.value), range: [at(perDay.low), at(perDay.high)] }
        })
      : []),
  ]
  const spread = daysToFull && [daysToFull.soonest, daysToFull.value, daysToFull.latest]
  const say = (days: number | undefined) => (days === undefined ? 'not at that pace' : `${formatNumber(days, 0)} days`)
  return (
    <>
      <div
        className="h-60 mt-2"
        role="img"
        aria-label={`${store.name}: ${observedDays} days observed, ${formatBytes(last[1])} in use, capacity ${formatBytes(store.capacityBytes)}`}
      >
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart data={points} margin={{ top: 8, right: 12, bottom: 0, left: 8 }}>
            <CartesianGrid stroke="var(--line)" vertical={false} />
            <XAxis dataKey="day" minTickGap={70} tick={{ fontSize: 11, fill: 'var(--soft)' }} stroke="var(--rule)" />
            <YAxis
              unit={` ${unit}`}
              width={76}
              tick={{ fontSize: 11, fill: 'var(--soft)' }}
              stroke="var(--rule)"
              tickFormatter={(value: number) => formatNumber(value, 1)}
              domain={[0, 'auto']}
            />
            <Tooltip
              formatter={(value) =>
                `${Array.isArray(value) ? value.map((one) => formatNumber(Number(one), 1)).join(' to ') : formatNumber(Number(value), 1)} ${unit}`
              }
              contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--rule)', fontSize: 12 }}
            />
            <ReferenceLine
              y={store.capacityBytes / size}
              ifOverflow="extendDomain"
              stroke="var(--error)"
              label={{ value: 'capacity', fontSize: 11, fill: 'var(--error)', position: 'insideTopLeft' }}
            />
            <ReferenceLine x={today} stroke="var(--soft)" strokeDasharray="2 3" />
            <Area dataKey="range" name="95 % range" stroke="none" fill="var(--sand)" fillOpacity={0.55} isAnimationActive={false} />
            <Line dataKey="used" name="used" stroke="var(--fill)" strokeWidth={2} dot={false} isAnimationActive={false} />
            <Line
              dataKey="projected"
              name="projected"
              stroke="var(--accent)"
              strokeDasharray="5 4"
              strokeWidth={2}
              dot={false}
              isAnimationActive={false}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <p className="text-[13px] py-1">
        {counted(observedDays, 'day')} of observations of {from}.{' '}
        {perDay ? (
          <>
            It grows by {formatBytes(perDay.value * 7)} a week, between {formatBytes(perDay.low * 7)} and {formatBytes(perDay.high * 7)} (95
            %, Theil-Sen).{' '}
            <b>
              {spread?.[1] === undefined
                ? 'It does not get full at this pace.'
                : `Full in ${say(spread[1])}, about ${dayAfter(last[0], Math.floor(spread[1]))}`}
            </b>
            {spread?.[1] !== undefined && `; soonest ${say(spread[0])}, latest ${say(spread[2])}.`}
          </>
        ) : (
          'Fewer than three days: no pace is told.'
        )}
      </p>
    </>
  )
}

function Drivers({ forecast }: { forecast: Forecast }) {
  const { to } = usePaths()
  if (forecast.drivers.length === 0) return null
  const all = forecast.drivers.reduce((sum, { perDay }) => sum + perDay, 0)
  return (
    <Part title="Who drives it">
      <ul className="text-[13px]">
        {forecast.drivers.slice(0, 10).map(({ guest, perDay }) => (
          <li key={guest.id} className="grid grid-cols-[1fr_auto_70px] gap-3 items-center py-1 border-t border-line first:border-0">
            <Link className="name-link" to={to(`guests/${guest.id}/observed`)}>
              {guest.name}
            </Link>
            <span className="font-mono">{formatBytes(perDay * 7)} a week</span>
            <span className="h-2 bg-track" aria-hidden>
              <span className="block h-full bg-fill" style={{ width: `${(perDay / all) * 100}%` }} />
            </span>
          </li>
        ))}
      </ul>
    </Part>
  )
}

/** What was seen of the store itself, taken over into the record. */
function TakeOver({ store, forecast }: { store: Store; forecast: Forecast }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const command = storeUseCommand(estate, store, forecast)
  if (!command) return null
  return (
    <Part title="Seen, and not recorded so">
      <p className="text-[13px] text-soft py-1">
        The store itself was last seen with {formatBytes(forecast.history.at(-1)?.[1] ?? 0)} in use. What is neither a disk nor a recorded
        image is its other use: backups, files.
      </p>
      <Button onClick={() => void record([command], `Other use of ${store.name} as seen`)}>Take over its other use</Button>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

function DisksOn({ store }: { store: Store }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const guests = [...new Set(estate.referring('disk', 'storeId', store.id).map(({ guestId }) => guestId))]
    .flatMap((id) => estate.find('guest', id) ?? [])
    .sort((a, b) => compareNames(a.name, b.name))
  const shown = guests.slice(0, 200)
  return (
    <Part title={`Disks of ${counted(guests.length, 'guest')}`}>
      {guests.length === 0 && <p className="text-soft py-1">None.</p>}
      {guests.length > 0 && (
        <Ledger headings={['guest', 'disk', 'size', 'used', 'kind', 'grows a month']}>
          {shown.flatMap((guest) =>
            disksOf(estate, guest.id)
              .filter(({ storeId }) => storeId === store.id)
              .map((disk) => (
                <tr key={disk.id}>
                  <td>
                    <Link className="name-link" to={to(`guests/${guest.id}`)}>
                      {guest.name}
                    </Link>
                  </td>
                  <td>{disk.use}</td>
                  <td className="font-mono">{formatBytes(disk.sizeBytes)}</td>
                  <td className="font-mono">{disk.usedBytes === null ? 'not seen yet' : formatBytes(disk.usedBytes)}</td>
                  <td>{disk.provisioning}</td>
                  <td className="font-mono">{disk.growthBytesPerMonth ? formatBytes(disk.growthBytesPerMonth) : ''}</td>
                </tr>
              )),
          )}
        </Ledger>
      )}
      {guests.length > shown.length && <p className="text-faint text-[13px]">And {guests.length - shown.length} more guests.</p>}
    </Part>
  )
}
