import type { MigrationProposal } from '@insel/core'
import { useEffect, useRef } from 'react'
import { useEstate } from '../../estate'
import { Key } from '../../ui/button'
import { Mark } from '../../ui/mark'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import type { Carrying } from './use-carrying'

const PANEL =
  'fixed bottom-4 left-1/2 -translate-x-1/2 z-30 w-[min(560px,calc(100vw-32px))] bg-sheet border border-accent rounded-md shadow-lg p-4'

/** A guest that is carried: what fits on the host under it, what does not, and by how much, in words; put down, what becomes of it. */
export function CheckPanel({ carrying }: { carrying: Carrying }) {
  const { estate } = useEstate()
  const guest = estate.find('guest', carrying.guestId)
  const host = estate.find('host', carrying.overHostId)
  return (
    <div className={guest ? PANEL : ''}>
      <div role="status" aria-live="polite">
        {guest && (
          <>
            <h2 className="mb-2">
              {guest.name} {host ? `to ${host.name}` : 'is carried'}
            </h2>
            {!host && <p className="text-soft">Not over a host. Release to leave it where it is.</p>}
            {host && host.id === guest.hostId && <p className="text-soft">It is on this host already. Choose another.</p>}
            {carrying.proposal?.fit.lines.map((line) => (
              <p key={line.sentence} className="flex gap-2 items-baseline py-0.5 text-dense">
                <Mark of={line.verdict} /> {line.sentence}
              </p>
            ))}
            {!carrying.isDown && (
              <p className="text-faint text-small mt-2">
                Release, or press <Key>Enter</Key>, to choose what becomes of it; <Key>Esc</Key> cancels. Nothing is changed yet.
              </p>
            )}
          </>
        )}
      </div>
      {carrying.isDown && carrying.proposal && <PutDown proposed={carrying.proposal} leave={carrying.putBack} />}
    </div>
  )
}

/** What can be done with a guest that was put down: the migration is recorded as done, or planned, or it goes back. */
function PutDown({ proposed, leave }: { proposed: MigrationProposal; leave: () => void }) {
  const proposal = useProposal({ commands: [proposed.command], recorded: leave, planned: leave })
  const panel = useRef<HTMLDivElement>(null)
  // A second press of the same key does what can be taken back most easily: it plans, and records nothing as done.
  const { isForPlan } = proposal
  useEffect(() => panel.current?.querySelectorAll('button')[isForPlan ? 0 : 1]?.focus(), [isForPlan])
  return (
    <div
      ref={panel}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return
        event.stopPropagation()
        leave()
      }}
    >
      <ProposalFooter proposal={proposal} label="Record migration" leave={leave} />
    </div>
  )
}
