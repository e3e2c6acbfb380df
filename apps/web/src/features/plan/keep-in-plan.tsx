import { compareNames, isOpenPlan, type Command } from '@insel/core'
import { useState } from 'react'
import { itemCommand, RECORDED, useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'

/** Keeps the draft of this browser as an item of a plan that all see: of one that there is, or of a new one. */
export function KeepInPlan() {
  const { plan: draft, setPlan, recorded, estate, basis, submit, person, showBasis } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [planId, setPlanId] = useState('')
  const [name, setName] = useState('')
  const [trouble, setTrouble] = useState<string>()
  const [isBusy, setBusy] = useState(false)
  const plans = recorded
    .all('plan')
    .filter(isOpenPlan)
    .sort((a, b) => compareNames(a.name, b.name))
  const keep = async () => {
    setBusy(true)
    const id = planId || newId()
    const problem = await submit(
      [
        ...(planId ? [] : [{ type: 'plan.add', record: { id, name: name.trim(), ownerId: person?.id ?? null } } as Command]),
        itemCommand(basis.on === 'plan' ? estate : recorded, id, newId(), draft),
      ],
      'Kept',
    )
    setBusy(false)
    setTrouble(problem?.sentence)
    if (problem) return
    setPlan([])
    showBasis(RECORDED)
    await go(to(`plans/${id}`))
  }
  return (
    <form
      className="mt-3 border-t border-line pt-3"
      onSubmit={(event) => {
        event.preventDefault()
        void keep()
      }}
    >
      <p className="text-dense text-soft mb-1">This draft is in this browser alone. Keep it in a plan that everybody sees:</p>
      <div className="flex flex-wrap gap-2">
        <select className="field !w-44" aria-label="Plan to keep it in" value={planId} onChange={(event) => setPlanId(event.target.value)}>
          <option value="">new plan…</option>
          {plans.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
        {planId === '' && (
          <input
            className="field !w-44"
            aria-label="Name of the plan"
            placeholder="name of the plan"
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        )}
        <Button type="submit" disabled={isBusy || (planId === '' && name.trim() === '')}>
          Keep in plan
        </Button>
      </div>
      {trouble && <Trouble>{trouble}</Trouble>}
    </form>
  )
}
