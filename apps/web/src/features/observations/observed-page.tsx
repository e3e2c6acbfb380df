import {
  adviceCommands,
  formatBytes,
  formatMiB,
  formatNumber,
  growthCommands,
  readNumber,
  rightSize,
  summaryDays,
  type Guest,
  type Sample,
  type SummaryDays,
} from '@insel/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts'
import { api } from '../../lib/api'
import { useEstate } from '../../estate'
import { useObserve, useSamples, useSummaries } from './observed'
import { useQueryParam } from '../../lib/query-param'
import { useRecord } from '../../lib/use-record'
import { byteAxis } from '../../lib/byte-axis'
import { Button } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { FigureView } from '../figures/figure-view'
import { Part, Trouble, Waiting } from '../../ui/page'
import { GuestFrame } from '../guests/guest-frame'
import { ImportObservations } from './import-observations'

/** What was measured of a guest, what size follows from it, and how more comes in. */
export function ObservedPage() {
  return <GuestFrame>{(guest) => <Observed key={guest.id} guest={guest} />}</GuestFrame>
}

function Observed({ guest }: { guest: Guest }) {
  const [chosenDays, setDays] = useQueryParam('days')
  const days = summaryDays.find((one) => String(one) === chosenDays) ?? 30
  const samples = useSamples(guest.id, days)
  const summaries = useSummaries(days)
  // All at once: what comes later would push away what one is about to press.
  if (samples.isPending || summaries.isPending) return <Waiting what="what was observed" />
  return (
    <div className="grid lg:grid-cols-[minmax(0,1fr)_400px] gap-x-10">
      <div>
        <Part
          title="Measured"
          aside={
            <label className="inline-flex items-center gap-2 text-[13px]">
              Over
              <select className="field !w-28 !min-h-7" value={days} onChange={(event) => setDays(event.target.value)}>
                {summaryDays.map((one) => (
                  <option key={one} value={one}>
                    {one} days
                  </option>
                ))}
              </select>
            </label>
          }
        >
          {samples.isError && <Trouble>{samples.error.message}</Trouble>}
          {samples.data?.length === 0 && (
            <p className="text-soft py-1">Nothing was observed yet. It can be typed, pasted, imported, or sent by the guest itself.</p>
          )}
          {samples.data && samples.data.length > 0 && <Charts guest={guest} samples={samples.data} />}
        </Part>
        <ImportObservations guest={guest} />
      </div>
      <div>
        <Advised guest={guest} days={days} />
        <TypeOne guest={guest} />
        <Observer guest={guest} />
      </div>
    </div>
  )
}

/** Points a chart draws at most: one for each few of its pixels. */
const POINTS = 400

/** Samples thinned to what a chart can show; of each stretch the highest value, so that no peak is lost. */
function thinned(samples: readonly Sample[]) {
  const step = Math.max(1, Math.ceil(samples.length / POINTS))
  return Array.from({ length: Math.ceil(samples.length / step) }, (_, index) => {
    const part = samples.slice(index * step, (index + 1) * step)
    const highest = (of: (sample: Sample) => number | null | undefined) => {
      const values = part.flatMap((sample) => of(sample) ?? [])
      return values.length > 0 ? Math.max(...values) : null
    }
    const memory = highest(({ memoryMiB }) => memoryMiB)
    return {
      at: part[0]?.at.slice(0, 16).replace('T', ' ') ?? '',
      cpu: highest(({ cpuPercent }) => cpuPercent),
      memory: memory === null ? null : memory * 2 ** 20,
      disk: highest(({ diskBytes }) => diskBytes),
    }
  })
}

function Charts({ guest, samples }: { guest: Guest; samples: readonly Sample[] }) {
  const points = useMemo(() => thinned(samples), [samples])
  return (
    <div className="grid gap-4">
      <Chart title="Processors" points={points} field="cpu" />
      <Chart title="Memory" points={points} field="memory" limit={guest.memoryMiB * 2 ** 20} />
      <Chart title="Disks" points={points} field="disk" />
      <p className="text-faint text-[12.5px]">
        {formatNumber(samples.length, 0)} observations, the highest of each stretch is drawn; times in UTC.
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
      <h3 className="text-[13px] font-medium">
        {title}{' '}
        <span className="text-faint font-normal">
          peak {formatNumber(peak, 1)} {unit}
        </span>
      </h3>
      <div className="h-32" role="img" aria-label={`${title}, highest ${formatNumber(peak, 1)} ${unit}`}>
        <ResponsiveContainer width="100%" height="100%">
          <LineChart data={points} margin={{ top: 6, right: 12, bottom: 0, left: 0 }}>
            <CartesianGrid stroke="var(--line)" vertical={false} />
            <XAxis
              dataKey="at"
              minTickGap={60}
              tick={{ fontSize: 11, fill: 'var(--soft)' }}
              stroke="var(--rule)"
              tickFormatter={(at: string) => at.slice(5, 10)}
            />
            <YAxis
              width={64}
              {...(field === 'cpu' ? { ticks: [0, 50, 100] } : { tickCount: 4 })}
              tick={{ fontSize: 11, fill: 'var(--soft)' }}
              stroke="var(--rule)"
              tickFormatter={(value: number) => `${formatNumber(value, 1)} ${unit}`}
              domain={[0, field === 'cpu' ? 100 : 'auto']}
            />
            <Tooltip
              formatter={(value) => `${formatNumber(Number(value), 1)} ${unit}`}
              contentStyle={{ background: 'var(--sheet)', border: '1px solid var(--rule)', fontSize: 12 }}
            />
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

function Advised({ guest, days }: { guest: Guest; days: SummaryDays }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const answer = useSummaries(days)
  const summary = answer.data?.summaries[guest.id]
  const advice = answer.data ? rightSize(estate, guest, summary, answer.data.lastSeen ?? undefined) : undefined
  const commands = useMemo(() => (advice ? adviceCommands(estate, advice) : []), [advice, estate])
  const growth = summary ? growthCommands(estate, guest, summary) : []
  const proposal = useProposal({ commands })
  if (!advice) return null
  return (
    <Part title="The size that follows">
      {advice.reason && <p className="text-soft text-[13px] py-1">Nothing is recommended. {advice.reason}</p>}
      {summary && (
        <dl className="grid grid-cols-[130px_1fr] gap-y-1 text-[13px] py-1">
          {summary.cpu && (
            <>
              <dt className="text-faint">Processors</dt>
              <dd>
                p50 {formatNumber(summary.cpu.p50)} %, p95 {formatNumber(summary.cpu.p95)} %, peak {formatNumber(summary.cpu.peak)} %
              </dd>
            </>
          )}
          {summary.memory && (
            <>
              <dt className="text-faint">Memory</dt>
              <dd>
                p50 {formatMiB(summary.memory.p50)}, p95 {formatMiB(summary.memory.p95)}, peak {formatMiB(summary.memory.peak)}
              </dd>
            </>
          )}
          {summary.disk && (
            <>
              <dt className="text-faint">Disks</dt>
              <dd>
                {formatBytes(summary.disk.last)}
                {summary.disk.perDay && `, grows by ${formatBytes(summary.disk.perDay.value * 7)} a week`}
              </dd>
            </>
          )}
          {advice.vcpu && (
            <>
              <dt className="text-faint">Should have</dt>
              <dd>
                <FigureView figure={advice.vcpu} title={`Processors of ${guest.name}`} /> where it has {guest.vcpu}
              </dd>
            </>
          )}
          {advice.memory && (
            <>
              <dt className="text-faint">and</dt>
              <dd>
                <FigureView figure={advice.memory} title={`Memory of ${guest.name}`} /> where it has {formatMiB(guest.memoryMiB)}
                {advice.saves.memoryMiB === 0 && advice.memory.value !== guest.memoryMiB && ', too near to be worth a restart'}
              </dd>
            </>
          )}
        </dl>
      )}
      {advice.doubts.map((doubt) => (
        <p key={doubt} className="text-warning text-[13px]">
          {doubt}
        </p>
      ))}
      {advice.isIdle && <p className="text-warning text-[13px]">It is idle: is it still needed?</p>}
      {advice.isForgotten && <p className="text-warning text-[13px]">It is recorded as running, and nobody has seen it for a month.</p>}
      {commands.length > 0 && (
        <div className="mt-3">
          <Effect commands={commands} withDifference={false} />
          <ProposalFooter proposal={proposal} label="Record this size" />
        </div>
      )}
      {advice.verdict === 'fits' && <p className="text-[13px] py-1">It has what it needs.</p>}
      {growth.length > 0 && (
        <Button className="mt-2" onClick={() => void record(growth, `Use and growth of ${guest.name}’s disk as measured`)}>
          Take over use and growth of its disk
        </Button>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

function TypeOne({ guest }: { guest: Guest }) {
  const observe = useObserve()
  const [values, setValues] = useState({ cpu: '', memory: '', disk: '' })
  const number = (text: string) => {
    if (text.trim() === '') return null
    const reading = readNumber(text)
    return reading.ok ? reading.value : NaN
  }
  const [cpu, memory, disk] = [number(values.cpu), number(values.memory), number(values.disk)]
  const isWrong =
    [cpu, memory, disk].some((value) => value !== null && Number.isNaN(value)) || [cpu, memory, disk].every((value) => value === null)
  const send = async () => {
    const answer = await observe.mutateAsync([
      {
        subjectId: guest.id,
        at: new Date().toISOString(),
        cpuPercent: cpu,
        memoryMiB: memory === null ? null : Math.round(memory * 1024),
        diskBytes: disk === null ? null : Math.round(disk * 2 ** 30),
      },
    ])
    if (answer.taken > 0) setValues({ cpu: '', memory: '', disk: '' })
  }
  const input = (name: keyof typeof values, label: string) => (
    <label className="inline-flex items-center gap-1.5">
      <input
        className="field font-mono !w-20 !min-h-7"
        value={values[name]}
        onChange={(event) => setValues({ ...values, [name]: event.target.value })}
        inputMode="decimal"
      />
      {label}
    </label>
  )
  const wrong = observe.data?.rejected[0]?.reason
  return (
    <Part title="Seen just now">
      <form
        className="flex flex-wrap gap-x-4 gap-y-2 text-[13px] py-1 items-center"
        onSubmit={(event) => {
          event.preventDefault()
          void send()
        }}
      >
        {input('cpu', '% processors')}
        {input('memory', 'GiB memory')}
        {input('disk', 'GiB on disks')}
        <Button type="submit" className="!min-h-7" disabled={isWrong || observe.isPending}>
          Keep it
        </Button>
      </form>
      {(wrong ?? observe.error?.message) && <Trouble>{wrong ?? observe.error?.message}</Trouble>}
    </Part>
  )
}

/** Lets the guest send observations on a schedule: a script with a key of its own. */
function Observer({ guest }: { guest: Guest }) {
  const { estateId } = useEstate()
  const client = useQueryClient()
  const key = ['observer', estateId, guest.id]
  const state = useQuery({ queryKey: key, queryFn: () => api.observer(estateId, guest.id), staleTime: 5000 })
  const [command, setCommand] = useState<string>()
  const [trouble, setTrouble] = useState<string>()
  const run = async (work: () => Promise<unknown>) => {
    try {
      setTrouble(undefined)
      await work()
      await client.invalidateQueries({ queryKey: key })
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error))
    }
  }
  const observer = state.data?.observer
  return (
    <Part title="Sent by the guest itself">
      <p className="text-soft text-[13px] py-1">
        A script measures processors, memory and disks inside the guest and sends three numbers. It changes nothing there; the schedule is
        yours to set.
      </p>
      {observer && (
        <p className="text-[13px]">
          A key was made {observer.madeAt.slice(0, 10)}; last heard{' '}
          {observer.lastSeenAt ? observer.lastSeenAt.slice(0, 16).replace('T', ' ') : 'never'}.
        </p>
      )}
      {command && (
        <>
          <p className="text-[13px] mt-1">Run this inside {guest.name}, then put the printed line into crontab. The key is shown once.</p>
          <pre className="font-mono text-[12px] bg-sheet border border-line rounded-sm p-2 whitespace-pre-wrap break-all select-all">
            {command}
          </pre>
        </>
      )}
      <span className="flex gap-2 mt-1">
        <Button
          className="!min-h-7"
          onClick={() => void run(async () => setCommand((await api.startObserver(estateId, guest.id)).command))}
        >
          {observer ? 'Make a new key' : 'Make a key for it'}
        </Button>
        {observer && (
          <Button
            className="!min-h-7"
            onClick={() =>
              void run(async () => {
                await api.stopObserver(estateId, guest.id)
                setCommand(undefined)
              })
            }
          >
            Make its key void
          </Button>
        )}
      </span>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
