import { compareNames, isOpenPlan } from '@insel/core'
import type { ReactNode } from 'react'
import { useEstate, whyReadOnly } from '../../estate'
import { Button, Key } from '../../ui/button'
import { Trouble } from '../../ui/page'
import type { Proposal } from './use-proposal'

/**
 * What one can do with what is proposed: record it, put it into the plan, leave it; and why it was refused.
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
  return (
    <div className="my-3">
      {why && <p className="text-soft text-dense">{why}</p>}
      {proposal.refusal && <Trouble>{proposal.refusal.sentence}</Trouble>}
      <div className="flex flex-wrap gap-2 mt-2">
        {isForm ? (
          <Button type="submit" look="primary" disabled={!isOpen}>
            {label} <Key>Ctrl ↵</Key>
          </Button>
        ) : (
          <Button look="primary" disabled={!isOpen} onClick={() => void proposal.record()}>
            {label}
          </Button>
        )}
        <Button disabled={!isOpen} onClick={() => void proposal.plan()}>
          Add to the plan
        </Button>
        <PlanChoice />
        {leave && <Button onClick={leave}>Cancel</Button>}
      </div>
    </div>
  )
}

/** Which plan takes what is added: the draft of this browser, or one that everybody sees. */
function PlanChoice() {
  const { recorded, planInto, setPlanInto } = useEstate()
  const plans = recorded
    .all('plan')
    .filter(isOpenPlan)
    .sort((a, b) => compareNames(a.name, b.name))
  if (plans.length === 0) return null
  return (
    <select
      className="field !w-44"
      aria-label="Plan it is added to"
      value={planInto?.id ?? ''}
      onChange={(event) => setPlanInto(event.target.value || undefined)}
    >
      <option value="">draft, in this browser</option>
      {plans.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  )
}
