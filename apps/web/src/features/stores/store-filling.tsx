import {
  counted,
  dayAfter,
  daysToFullFrom,
  type Forecast,
  formatBytes,
  formatNumber,
  fullOn,
  offAfter,
  paceOf,
  type Store,
  storeUseCommand,
} from '@insel/core'
import { Area, ComposedChart, CartesianGrid, Line, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { byteAxis } from '../../lib/axis-units'
import { axisLook, gridLook, numberAxisLook, tooltipLook } from '../../lib/chart-look'
import { useEstate } from '../../estate'
import { useToday } from '../../estate/today'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'

/** Days ahead that are drawn: to a little past the day it is full, within bounds. */
const aheadOf = ({ daysToFull }: Forecast) => Math.round(Math.min(365, Math.max(30, (daysToFull?.value ?? 90) * 1.15)))

export function Filling({ store, forecast }: { store: Store; forecast: Forecast }) {
  const today = useToday()
  const { history, trend, observedDays, from } = forecast
  const last = history.at(-1)
  if (!last)
    return (
      <p className="text-soft py-1 text-dense">
        Nothing was observed of it or of its guests yet. Import or collect observations; from three days on there is a growth rate.
      </p>
    )
  const { unit, size } = byteAxis(store.capacityBytes)
  const points = [
    ...history.map(([day, bytes]) => ({ day, used: bytes / size })),
    ...(trend
      ? Array.from({ length: aheadOf(forecast) }, (_, index) => {
          const days = index + 1
          const at = (off: number) => Math.max(0, (last[1] + trend.perDay * days + off) / size)
          const off = trend.spread && offAfter(trend.spread, days)
          return { day: dayAfter(last[0], days), projected: at(0), ...(off === undefined ? {} : { range: [at(-off), at(off)] }) }
        })
      : []),
  ]
  const pace = trend && paceOf(trend)
  const toFull = daysToFullFrom(forecast, today)
  const full = toFull?.value === undefined ? undefined : fullOn(toFull.value, today)
  const say = (days: number | undefined) => (days === undefined ? 'never' : counted(fullOn(days, today).days, 'day'))
  return (
    <>
      <div
        className="h-60 mt-2"
        role="img"
        aria-label={`${store.name}: ${counted(observedDays, 'day')} observed, ${formatBytes(last[1])} in use, capacity ${formatBytes(store.capacityBytes)}`}
      >
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart data={points} margin={{ top: 8, right: 12, bottom: 0, left: 8 }}>
            <CartesianGrid {...gridLook} />
            <XAxis dataKey="day" minTickGap={70} {...axisLook} />
            <YAxis
              unit={` ${unit}`}
              width={76}
              {...numberAxisLook}
              tickFormatter={(value: number) => formatNumber(value, 1)}
              domain={[0, 'auto']}
            />
            <Tooltip
              formatter={(value) =>
                `${Array.isArray(value) ? value.map((one) => formatNumber(Number(one), 1)).join(' to ') : formatNumber(Number(value), 1)} ${unit}`
              }
              {...tooltipLook}
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
      <p className="text-dense py-1">
        {counted(observedDays, 'day')} of observations of {from}.{' '}
        {trend && toFull ? (
          <>
            It grows by {formatBytes(trend.perDay * 7)} a week
            {pace && pace.low !== null && pace.high !== null
              ? `, between ${formatBytes(pace.low * 7)} and ${formatBytes(pace.high * 7)} 95 times in 100`
              : '; too few days to say how far off that may be'}
            . <b>{full ? `Full in ${counted(full.days, 'day')}, about ${full.day}` : 'It will not fill up at this rate.'}</b>
            {trend.spread && full && `; 95 times in 100 between ${say(toFull.soonest)} and ${say(toFull.latest)}.`}
          </>
        ) : (
          'Fewer than three days of observations: no growth rate yet.'
        )}
      </p>
    </>
  )
}

/** What was seen of the store itself, taken over into the record. */
export function TakeOver({ store, forecast }: { store: Store; forecast: Forecast }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const command = storeUseCommand(estate, store, forecast)
  if (!command) return null
  return (
    <Part title="Seen but not recorded">
      <p className="text-dense text-soft py-1">
        The store itself was last seen with {formatBytes(forecast.history.at(-1)?.[1] ?? 0)} in use. What is neither a disk nor a recorded
        image is its other use: backups, files.
      </p>
      <Button onClick={() => void record([command], `Other use of ${store.name} as seen`)}>Record its other use</Button>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
