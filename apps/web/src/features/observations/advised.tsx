import { adviceCommands, formatBytes, formatMiB, formatNumber, growthCommands, rightSize, type Guest, type SummaryDays } from '@insel/core'
import { useMemo } from 'react'
import { useEstate } from '../../estate'
import { useSummaries } from './observed'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { FigureView } from '../figures/figure-view'
import { Part, Trouble } from '../../ui/page'

export function Advised({ guest, days }: { guest: Guest; days: SummaryDays }) {
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
    <Part title="Recommended size">
      {advice.reason && <p className="text-soft text-dense py-1">Nothing is recommended. {advice.reason}</p>}
      {summary && (
        <dl className="facts [--label:130px] gap-y-1 text-dense py-1">
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
                {advice.saves.memoryMiB === 0 && advice.memory.value !== guest.memoryMiB && ', too close to be worth a restart'}
              </dd>
            </>
          )}
        </dl>
      )}
      {advice.doubts.map((doubt) => (
        <p key={doubt} className="text-warning text-dense">
          {doubt}
        </p>
      ))}
      {advice.isIdle && <p className="text-warning text-dense">It is idle: is it still needed?</p>}
      {advice.isForgotten && <p className="text-warning text-dense">It is recorded as running but has not been observed for a month.</p>}
      {commands.length > 0 && (
        <div className="mt-3">
          <Effect commands={commands} withDifference={false} />
          <ProposalFooter proposal={proposal} label="Record this size" />
        </div>
      )}
      {advice.verdict === 'fits' && <p className="text-dense py-1">Its size fits its use.</p>}
      {growth.length > 0 && (
        <Button className="mt-2" onClick={() => void record(growth, `Use and growth of ${guest.name}’s disk as measured`)}>
          Record use and growth of its disk
        </Button>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
