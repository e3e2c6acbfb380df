import type { TransferResponse } from '@insel/contract'
import { formatDuration, formatNumber, formatInstant } from '@insel/core'
import { useDeferredValue, useMemo } from 'react'
import { Area, CartesianGrid, ComposedChart, Line, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { axisDurations, byteAxis } from '../../lib/axis-units'
import { gridLook, numberAxisLook, tooltipLook } from '../../lib/chart-look'

/** What was moved over time, and what was thought of the end at each moment: by rate and rest, and as elapsed over fraction would have said. */
export function TransferChart({ transfer: { points, estimates, totalBytes }, zone }: { transfer: TransferResponse; zone: string }) {
  const { unit, size } = byteAxis(totalBytes)
  const moved = useMemo(() => points.map(({ at, bytes }) => ({ at, bytes: bytes / size })), [points, size])
  const ends = useMemo(
    () =>
      estimates.map(({ at, middle, low, high, byFraction }) => ({
        at,
        middle,
        range: low === null || high === null ? null : [low, high],
        byFraction,
      })),
    [estimates],
  )
  const longest = estimates.reduce((most, { high, byFraction }) => Math.max(most, high ?? 0, byFraction ?? 0), 0)
  const isShort = (points.at(-1)?.at ?? 0) - (points[0]?.at ?? 0) < 20 * 3_600_000
  const time = (at: number) => formatInstant(new Date(at).toISOString(), zone).slice(isShort ? 15 : 4)
  const last = points.at(-1)
  // First what was moved is on the screen, then what was thought of the end.
  const isFirstDrawn = useDeferredValue(true, false)
  return (
    <div className="grid gap-3">
      <div>
        <h3 className="text-dense font-medium">Moved</h3>
        <div
          className="h-36"
          role="img"
          aria-label={`Moved over time, ${formatNumber((last?.bytes ?? 0) / size, 1)} of ${formatNumber(totalBytes / size, 1)} ${unit}`}
        >
          <ResponsiveContainer width="100%" height="100%">
            <ComposedChart data={moved} margin={{ top: 6, right: 52, bottom: 0, left: 0 }}>
              <CartesianGrid {...gridLook} />
              <XAxis dataKey="at" type="number" domain={['dataMin', 'dataMax']} tickFormatter={time} tickCount={6} {...numberAxisLook} />
              <YAxis
                width={64}
                domain={[0, totalBytes / size]}
                tickCount={4}
                tickFormatter={(value: number) => `${formatNumber(value, 1)} ${unit}`}
                {...numberAxisLook}
              />
              <Tooltip
                labelFormatter={(at) => time(Number(at))}
                formatter={(value) => `${formatNumber(Number(value), 1)} ${unit}`}
                {...tooltipLook}
              />
              <ReferenceLine y={totalBytes / size} stroke="var(--soft)" strokeDasharray="3 3" />
              <Line
                dataKey="bytes"
                name="moved"
                stroke="var(--accent)"
                strokeWidth={1.5}
                dot={moved.length < 3}
                isAnimationActive={false}
              />
            </ComposedChart>
          </ResponsiveContainer>
        </div>
      </div>
      {longest > 0 && (
        <div>
          <h3 className="text-dense font-medium">
            Time left, as it was thought{' '}
            <span className="text-faint font-normal">
              line: by its rate, with the range; dashed: what elapsed over fraction would have said
            </span>
          </h3>
          <div className="h-36" role="img" aria-label="Time left as it was thought at each moment">
            {isFirstDrawn && (
              <ResponsiveContainer width="100%" height="100%">
                <ComposedChart data={ends} margin={{ top: 6, right: 52, bottom: 0, left: 0 }}>
                  <CartesianGrid {...gridLook} />
                  <XAxis
                    dataKey="at"
                    type="number"
                    domain={['dataMin', 'dataMax']}
                    tickFormatter={time}
                    tickCount={6}
                    {...numberAxisLook}
                  />
                  <YAxis width={64} tickCount={4} tickFormatter={axisDurations(longest)} {...numberAxisLook} />
                  <Tooltip
                    labelFormatter={(at) => time(Number(at))}
                    formatter={(value) =>
                      Array.isArray(value) ? value.map((one) => formatDuration(Number(one))).join(' to ') : formatDuration(Number(value))
                    }
                    {...tooltipLook}
                  />
                  <Area dataKey="range" name="range" stroke="none" fill="var(--accent)" fillOpacity={0.18} isAnimationActive={false} />
                  <Line dataKey="middle" name="by rate" stroke="var(--accent)" strokeWidth={1.5} dot={false} isAnimationActive={false} />
                  <Line
                    dataKey="byFraction"
                    name="elapsed over fraction"
                    stroke="var(--soft)"
                    strokeDasharray="4 3"
                    strokeWidth={1.2}
                    dot={false}
                    isAnimationActive={false}
                  />
                </ComposedChart>
              </ResponsiveContainer>
            )}
          </div>
        </div>
      )}
    </div>
  )
}
