import { evidenceShown, fixOf, type Estate, type Finding, type Kind } from '@insel/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { usePreview } from '../../estate/checks'
import { mayRecord, useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Button } from '../../ui/button'
import { DifferenceView } from '../proposals/difference-view'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { Mark } from '../../ui/mark'
import { Trouble } from '../../ui/page'

/** One finding: what, the evidence, what to do, and where possible the fix, looked at before it is applied. */
export function FindingItem({
  finding,
  isLinked = true,
  choice,
}: {
  finding: Finding
  isLinked?: boolean
  /** Whether it is chosen among several. */
  choice?: { readonly isChosen: boolean; toggle(): void } | undefined
}) {
  const { estate, recorded, basis } = useEstate()
  const { ofRecord } = usePaths()
  const [isFixing, setFixing] = useState(false)
  const fix = finding.isFixable && isFixing ? fixOf(estate, finding) : undefined
  const preview = usePreview(fix)
  const place = placeOf(estate, finding)
  const leave = () => setFixing(false)
  const proposal = useProposal({ commands: fix, says: `Fix for “${finding.title}”`, recorded: leave, planned: leave })
  return (
    <article className="py-3 border-t border-line first:border-0">
      <div className="flex gap-2.5 items-baseline">
        {choice && (
          <label className="inline-flex items-center justify-center min-w-7 min-h-7 -my-1 shrink-0 print:hidden">
            <input
              type="checkbox"
              className="size-4 accent-[var(--accent)]"
              aria-label={`Choose: ${finding.title}, ${finding.sentence}`}
              checked={choice.isChosen}
              onChange={choice.toggle}
            />
          </label>
        )}
        <Mark of={finding.severity} />
        <div className="min-w-0 flex-1">
          <p className="break-words">
            <b className="font-medium">{finding.title}.</b> {finding.sentence}{' '}
            {isLinked && place && (
              <Link to={ofRecord(place.kind, place.id)} className="text-accent underline underline-offset-2 whitespace-nowrap">
                Go to it
              </Link>
            )}
          </p>
          <p className="text-dense text-soft mt-0.5">
            {finding.evidence.map((one, index) => (
              <span key={one.label}>
                {index > 0 && ' · '}
                {one.label} <span className="font-mono text-small text-ink">{evidenceShown(one)}</span>
              </span>
            ))}
          </p>
          <p className="text-dense text-soft mt-0.5">What to do: {finding.remedy}</p>
          {finding.isFixable && mayRecord(basis) && !isFixing && (
            <Button look="quiet" className="!px-0" onClick={() => setFixing(true)}>
              Show the fix
            </Button>
          )}
          {isFixing && (
            <div className="border border-accent rounded-md bg-sheet p-3 mt-2 max-w-[560px]">
              {!fix && <p>There is no automatic fix here: do it by hand.</p>}
              {preview.data?.ok && <DifferenceView estate={recorded} difference={preview.data.difference} />}
              {preview.data && !preview.data.ok && <Trouble>{preview.data.sentence}</Trouble>}
              <ProposalFooter proposal={proposal} label="Apply fix" isReady={preview.data?.ok === true} leave={leave} />
            </div>
          )}
        </div>
      </div>
    </article>
  )
}

/** Where a finding is worked on: the page of what its subject is a part of; the whole estate has no one place. */
function placeOf(estate: Estate, { subject: { kind, id } }: Finding): { kind: Kind; id: string } | undefined {
  switch (kind) {
    case 'estate':
      return undefined
    case 'adapter':
    case 'disk': {
      const guestId = estate.find(kind, id)?.guestId
      return guestId ? { kind: 'guest', id: guestId } : undefined
    }
    case 'address': {
      const address = estate.find('address', id)
      const guestId = estate.find('adapter', address?.adapterId)?.guestId
      if (guestId) return { kind: 'guest', id: guestId }
      return address?.hostId ? { kind: 'host', id: address.hostId } : { kind, id }
    }
    case 'store': {
      const hostId = estate.find('store', id)?.hostId
      return hostId ? { kind: 'host', id: hostId } : { kind, id }
    }
    default:
      return { kind, id }
  }
}
