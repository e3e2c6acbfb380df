import { timeZoneOf, formatInstant, counted, formatNumber, type Guest, type Sample } from '@insel/core'
import { useMemo } from 'react'
import { useEstate } from '../../estate'
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { byteAxis } from '../../lib/axis-units'
import { axisLook, gridLook, numberAxisLook, tooltipLook } from '../../lib/chart-look'

/** Points a chart draws at most: one for each few of its pixels. */
const POINTS = 400

/** Samples thinned to what a chart can show; of each stretch the highest value, so that no peak is lost. */
function thinned(samples: readonly Sample[], zone: string) {
  const step = Math.max(1, Math.ceil(samples.length / POINTS))
  return Array.from({ length: Math.ceil(samples.length / step) }, (_, index) => {
    const part = samples.slice(index * step, (index + 1) * step)
    const highest = (of: (sample: Sample) => number | null | undefined) => {
      const values = part.flatMap((sample) => of(sample) ?? [])
      return values.length > 0 ? Math.max(...values) : null
    }
    const memory = highest(({ memoryMiB }) => memoryMiB)
    return {
      at: part[0] ? formatInstant(part[0].at, zone) : '',
      cpu: highest(({ cpuPercent }) => cpuPercent),
      memory: memory === null ? null : memory * 2 ** 20,
      disk: highest(({ diskBytes }) => diskBytes),
    }
  })
}

export function Charts({ guest, samples }: { guest: Guest; samples: readonly Sample[] }) {
  const { estate } = useEstate()
  const zone = timeZoneOf(estate)
  const points = useMemo(() => thinned(samples, zone), [samples, zone])
  return (
    <div className="grid gap-4">
      <Chart title="Processors" points={points} field="cpu" />
      <Chart title="Memory" points={points} field="memory" limit={guest.memoryMiB * 2 ** 20} />
      <Chart title="Disks" points={points} field="disk" />
      <p className="text-faint text-small">
        {counted(samples.length, 'observation')}, the highest of each stretch is drawn; times in {zone}.
      </p>
    </div>
  )
}

const percent = { unit: '%', size: 1 } as const

function Chart({
  title,
  points,
  field,
  limit,
}: {
  title: string
  points: ReturnType<typeof thinned>
  field: 'cpu' | 'memory' | 'disk'
  limit?: number
}) {
  const values = points.flatMap((point) => point[field] ?? [])
  if (values.length === 0) return null
  const { unit, size } = field === 'cpu' ? percent : byteAxis(Math.max(limit ?? 0, ...values))
  const peak = Math.max(...values) / size
  return (
    <div>
      <h3 className="text-dense font-medium">
        {title}{' '}
        <span className="text-faint font-normal">
          peak {formatNumber(peak, 1)} {unit}
        </span>
      </h3>
      <div className="h-32" role="img" aria-label={`${title}, highest ${formatNumber(peak, 1)} ${unit}`}>
        <ResponsiveContainer width="100%" height="100%">
          <LineChart data={points} margin={{ top: 6, right: 12, bottom: 0, left: 0 }}>
            <CartesianGrid {...gridLook} />
            <XAxis dataKey="at" minTickGap={60} {...axisLook} tickFormatter={(at: string) => at.slice(5, 10)} />
            <YAxis
              width={64}
              {...(field === 'cpu' ? { ticks: [0, 50, 100] } : { tickCount: 4 })}
              {...numberAxisLook}
              tickFormatter={(value: number) => `${formatNumber(value, 1)} ${unit}`}
              domain={[0, field === 'cpu' ? 100 : 'auto']}
            />
            <Tooltip formatter={(value) => `${formatNumber(Number(value), 1)} ${unit}`} {...tooltipLook} />
            {limit !== undefined && (
              <ReferenceLine
                y={limit / size}
                ifOverflow="extendDomain"
                stroke="var(--soft)"
                strokeDasharray="3 3"
                label={{ value: 'as recorded', fontSize: 11, fill: 'var(--soft)', position: 'insideTopRight' }}
              />
            )}
            <Line
              dataKey={(point: (typeof points)[number]) => (point[field] === null ? null : point[field] / size)}
              name={title}
              stroke="var(--accent)"
              strokeWidth={1.5}
              dot={false}
              connectNulls
              isAnimationActive={false}
            />
          </LineChart>
        </ResponsiveContainer>
      </div>
    </div>
  )
}
