import { compareNames, isOpenPlan } from '@insel/core'
import { useState, type ReactNode } from 'react'
import { newPlanName, useEstate, whyReadOnly } from '../../estate'
import { Button, Key } from '../../ui/button'
import { Trouble } from '../../ui/page'
import type { Proposal } from './use-proposal'

/**
 * What one can do with what is proposed: record it now, put it into a plan, leave it; and why it was refused. Where a plan is shown, it
 * goes into that.
 *
 * @param label what recording it is called
 * @param isReady whether it can be done as it is
 * @param isForm whether it ends a form: its button submits it, as Ctrl+Enter does
 * @param leave takes the proposal away
 */
export function ProposalFooter({
  proposal,
  label,
  isReady = true,
  isForm = false,
  leave,
}: {
  proposal: Proposal
  label: ReactNode
  isReady?: boolean
  isForm?: boolean
  leave?: () => void
}) {
  const { basis } = useEstate()
  const why = whyReadOnly(basis)
  const isOpen = isReady && why === undefined
  const name = proposal.isForPlan && basis.on === 'item' ? `Add to plan “${basis.plan.name}”` : label
  return (
    <div className="my-3">
      {why && <p className="text-soft text-dense">{why}</p>}
      {proposal.refusal && <Trouble>{proposal.refusal.sentence}</Trouble>}
      <div className="flex flex-wrap gap-2 mt-2">
        {isForm ? (
          <Button type="submit" look="primary" disabled={!isOpen}>
            {name} <Key>Ctrl ↵</Key>
          </Button>
        ) : (
          <Button look="primary" disabled={!isOpen} onClick={() => void proposal.record()}>
            {name}
          </Button>
        )}
        {!proposal.isForPlan && <AddToPlan isOpen={isOpen} add={(newName) => void proposal.plan(newName)} />}
        {leave && <Button onClick={leave}>Cancel</Button>}
      </div>
      {proposal.isForPlan && basis.on === 'item' && (
        <p className="text-soft text-dense mt-1">
          It becomes an item after “{basis.item.title}”. To record something at once, switch to Recorded.
        </p>
      )}
    </div>
  )
}

/** What a new plan is called. */
export const NewPlanName = ({ name, setName }: { name: string; setName: (name: string) => void }) => (
  <input
    className="field !w-44"
    aria-label="Name of the new plan"
    maxLength={120}
    value={name}
    onChange={(event) => setName(event.target.value)}
  />
)

/** Puts it into a plan: one that is worked on, or a new one, which has a name already. */
function AddToPlan({ isOpen, add }: { isOpen: boolean; add: (newName: string | undefined) => void }) {
  const { recorded, planInto, setPlanInto } = useEstate()
  const [typed, setTyped] = useState<string>()
  const plans = recorded
    .all('plan')
    .filter(isOpenPlan)
    .sort((a, b) => compareNames(a.name, b.name))
  const name = typed ?? newPlanName(recorded)
  return (
    <>
      <Button disabled={!isOpen || (!planInto && name.trim() === '')} onClick={() => add(planInto ? undefined : name.trim())}>
        Add to plan
      </Button>
      {plans.length > 0 && (
        <select
          className="field !w-40"
          aria-label="Plan it is added to"
          value={planInto?.id ?? ''}
          onChange={(event) => setPlanInto(event.target.value || undefined)}
        >
          <option value="">new plan</option>
          {plans.map(({ id, name: known }) => (
            <option key={id} value={id}>
              {known}
            </option>
          ))}
        </select>
      )}
      {!planInto && <NewPlanName name={name} setName={setTyped} />}
    </>
  )
}
