import {
  dayOf,
  counted,
  adviceCommands,
  formatMiB,
  formatNumber,
  growthCommands,
  rightSize,
  summaryDays,
  type Advice,
  type Command,
  type Summary,
  type SummaryDays,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { useSummaries } from './observed'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { FigureView } from '../figures/figure-view'
import { Ledger } from '../../ui/ledger'
import { Empty, Page, Part, Trouble } from '../../ui/page'
import { Tick } from '../../ui/tick'
import { GuestsNav } from '../frames/guests-nav'
import { useMost } from '../../lib/printing'

interface Row {
  readonly advice: Advice
  readonly summary: Summary | undefined
}
const SHOWN = 200

/** What every guest should have from what was measured, with the saving; the idle and the forgotten. */
export function SizesPage() {
  const most = useMost(SHOWN)
  const fewest = useMost(60)
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const [chosenDays, setDays] = useQueryParam('days')
  const days = summaryDays.find((one) => String(one) === chosenDays) ?? 30
  const answer = useSummaries(days)
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set())
  const rows = useMemo((): readonly Row[] => {
    if (!answer.data) return []
    const { summaries, lastSeen } = answer.data
    return estate
      .all('guest')
      .filter(({ kind, state }) => kind === 'machine' && state !== 'retired' && state !== 'planned')
      .map((guest) => ({ advice: rightSize(estate, guest, summaries[guest.id], lastSeen ?? undefined), summary: summaries[guest.id] }))
  }, [estate, answer.data])
  const changing = rows
    .filter(({ advice }) => advice.verdict === 'too large' || advice.verdict === 'too small')
    .sort((a, b) => b.advice.saves.memoryMiB - a.advice.saves.memoryMiB)
  const idle = rows.filter(({ advice }) => advice.isIdle)
  const forgotten = rows.filter(({ advice }) => advice.isForgotten)
  const doubtful = rows.filter(({ advice }) => advice.doubts.length > 0)
  const unknown = rows.filter(({ advice }) => advice.verdict === 'too little data' && advice.doubts.length === 0)
  const commands = useMemo(
    (): readonly Command[] =>
      changing.filter(({ advice }) => ticked.has(advice.guest.id)).flatMap(({ advice }) => adviceCommands(estate, advice)),
    [changing, ticked, estate],
  )
  const total = (of: (advice: Advice) => number) => changing.reduce((sum, { advice }) => sum + of(advice), 0)
  const growth = useMemo(
    () => rows.flatMap(({ advice, summary }) => (summary ? growthCommands(estate, advice.guest, summary) : [])),
    [rows, estate],
  )
  const proposal = useProposal({
    commands,
    says: `${counted(ticked.size, 'guest')} resized as measured`,
    recorded: () => setTicked(new Set()),
  })
  return (
    <Page
      title="Right sizes"
      about={
        <>
          From what was measured: processors by the 95th percentile, memory by the peak, each with the policy’s headroom, never under the
          system’s least.
          <GuestsNav />
        </>
      }
      actions={
        <label className="inline-flex items-center gap-2">
          Over
          <select className="field !w-28" value={days} onChange={(event) => setDays(event.target.value)}>
            {summaryDays.map((one: SummaryDays) => (
              <option key={one} value={one}>
                {one} days
              </option>
            ))}
          </select>
        </label>
      }
    >
      {trouble && <Trouble>{trouble}</Trouble>}
      {answer.isError && <Trouble>{answer.error.message}</Trouble>}
      {answer.data && answer.data.lastSeen === null ? (
        <Empty>
          No observations yet. Open a guest’s page “Observed” to type, paste or import observations, or to let the guest send them.
        </Empty>
      ) : (
        <>
          <Part
            title={`${counted(changing.length, 'guest')} sized differently from ${changing.length === 1 ? 'its' : 'their'} use`}
            aside={
              <span className="text-dense text-soft">
                In all:{' '}
                {formatNumber(
                  total(({ saves }) => saves.vcpu),
                  0,
                )}{' '}
                vCPU and {formatMiB(total(({ saves }) => saves.memoryMiB))} to give back
              </span>
            }
          >
            {changing.length === 0 && <p className="text-soft py-1">None: every guest with enough observations has the right size.</p>}
            {changing.length > 0 && (
              <Ledger
                headings={['.take', 'guest', 'vCPU', 'should have', 'p50, p95, peak', 'memory', 'should have', 'peak seen', 'effect']}
              >
                {changing.slice(0, most).map(({ advice, summary }) => {
                  const { guest, vcpu, memory, saves } = advice
                  return (
                    <tr key={guest.id}>
                      <td>
                        <Tick
                          label={`Use the size of ${guest.name}`}
                          isTicked={ticked.has(guest.id)}
                          onTick={(isTicked) => {
                            const next = new Set(ticked)
                            if (isTicked) next.add(guest.id)
                            else next.delete(guest.id)
                            setTicked(next)
                            return Promise.resolve()
                          }}
                        />
                      </td>
                      <td>
                        <Link className="font-medium name-link" to={to(`guests/${guest.id}/observed`)}>
                          {guest.name}
                        </Link>
                      </td>
                      <td className="font-mono">{guest.vcpu}</td>
                      <td className="font-mono">
                        {vcpu ? <FigureView figure={vcpu} title={`Processors of ${guest.name}`} /> : 'not seen'}
                      </td>
                      <td className="font-mono whitespace-nowrap">
                        {summary?.cpu
                          ? `${formatNumber(summary.cpu.p50, 0)}, ${formatNumber(summary.cpu.p95, 0)}, ${formatNumber(summary.cpu.peak, 0)} %`
                          : ''}
                      </td>
                      <td className="font-mono whitespace-nowrap">{formatMiB(guest.memoryMiB)}</td>
                      <td className="font-mono">
                        {!memory ? (
                          'not seen'
                        ) : saves.memoryMiB === 0 ? (
                          'as it is'
                        ) : (
                          <FigureView figure={memory} title={`Memory of ${guest.name}`} />
                        )}
                      </td>
                      <td className="font-mono whitespace-nowrap">{summary?.memory ? formatMiB(summary.memory.peak) : ''}</td>
                      <td className="whitespace-nowrap">
                        <Saves saves={saves} />
                      </td>
                    </tr>
                  )
                })}
              </Ledger>
            )}
            {commands.length > 0 && (
              <div className="mt-3 max-w-[900px]">
                <Effect commands={commands} />
                <ProposalFooter proposal={proposal} label={`Record the new size of ${ticked.size}`} />
              </div>
            )}
          </Part>
          <Few title="Idle: under 3 % of their processors at the 95th percentile" rows={idle} />
          <Few title="Forgotten: recorded as running, not observed for a month" rows={forgotten} />
          <Part
            title="Disk use and growth as measured"
            aside={
              <Button
                className="!min-h-7"
                disabled={growth.length === 0}
                onClick={() => void record(growth, `Use and growth of ${counted(growth.length, 'disk')} as measured`)}
              >
                Record {growth.length}
              </Button>
            }
          >
            <p className="text-soft text-dense py-1">
              Records what each guest’s only thin disk holds and how fast it grows; findings then predict when its store is full.
            </p>
          </Part>
          {doubtful.length > 0 && (
            <Part title="Implausible observations">
              <ul className="text-dense">
                {doubtful.slice(0, fewest).map(({ advice: { guest, doubts } }) => (
                  <li key={guest.id}>
                    <Link className="name-link" to={to(`guests/${guest.id}/observed`)}>
                      {guest.name}
                    </Link>{' '}
                    <span className="text-warning">{doubts.join(' ')}</span>
                  </li>
                ))}
              </ul>
            </Part>
          )}
          {unknown.length > 0 && (
            <Part title={`${unknown.length} with too little data`}>
              <ul className="text-dense columns-2 max-w-[900px]">
                {unknown.slice(0, fewest).map(({ advice: { guest, reason } }) => (
                  <li key={guest.id}>
                    <Link className="name-link" to={to(`guests/${guest.id}/observed`)}>
                      {guest.name}
                    </Link>{' '}
                    <span className="text-faint">{reason}</span>
                  </li>
                ))}
              </ul>
            </Part>
          )}
        </>
      )}
    </Page>
  )
}

/** What a size gives back, and what it takes. */
function Saves({ saves }: Pick<Row['advice'], 'saves'>) {
  const parts = [
    { by: saves.vcpu, text: `${formatNumber(Math.abs(saves.vcpu), 0)} vCPU` },
    { by: saves.memoryMiB, text: formatMiB(Math.abs(saves.memoryMiB)) },
  ]
  const all = (isMeant: (by: number) => boolean) =>
    parts
      .filter(({ by }) => isMeant(by))
      .map(({ text }) => text)
      .join(' and ')
  const [back, more] = [all((by) => by > 0), all((by) => by < 0)]
  return (
    <>
      {back && `gives back ${back}`}
      {back && more && ', '}
      {more && <span className="text-warning">needs {more} more</span>}
    </>
  )
}

function Few({ title, rows }: { title: string; rows: readonly Row[] }) {
  const most = useMost(60)
  const { estate } = useEstate()
  const { to } = usePaths()
  if (rows.length === 0) return null
  return (
    <Part title={title}>
      <p className="text-dense flex flex-wrap gap-x-4">
        {rows.slice(0, most).map(({ advice: { guest }, summary }) => (
          <span key={guest.id}>
            <Link className="link" to={to(`guests/${guest.id}/observed`)}>
              {guest.name}
            </Link>{' '}
            <span className="text-faint">
              {guest.vcpu} vCPU, {formatMiB(guest.memoryMiB)}
              {summary && `, last seen ${dayOf(estate, summary.until)}`}
            </span>
          </span>
        ))}
      </p>
    </Part>
  )
}
