import { counted, doneItems, type Plan } from '@insel/core'
import { useEstate } from '../../estate'
import { EachItem } from './each-item'

/** Reverts everything a plan did, the last item first. */
export function RevertPlan({ plan }: { plan: Plan }) {
  const { recorded, revertItem } = useEstate()
  const items = doneItems(recorded, plan.id)
  const many = counted(items.length, 'item')
  return (
    <EachItem
      name="Revert plan"
      items={items}
      label={`Revert ${many}`}
      look="danger"
      act={revertItem}
      sayStop={({ title }, _, sentence) => `Stopped at “${title}”: ${sentence}`}
    >
      Reverts what {many} did in the record, the last first, each as a separate change. The machines themselves are not touched.
    </EachItem>
  )
}
