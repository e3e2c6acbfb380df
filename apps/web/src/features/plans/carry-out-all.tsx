import { counted, type Item } from '@insel/core'
import { useEstate } from '../../estate'
import { EachItem } from './each-item'

/** Carries out what is still to be done of a plan, in its order. */
export function CarryOutAll({ items }: { items: readonly Item[] }) {
  const { submit } = useEstate()
  const many = counted(items.length, 'item')
  return (
    <EachItem
      name="Carry out all"
      items={items}
      least={2}
      label={`Carry out ${many}`}
      look="primary"
      act={({ id }) => submit([{ type: 'item.carryOut', itemId: id }])}
      sayStop={(_, done, sentence) => `Stopped after ${done} of ${items.length}: ${sentence}`}
    >
      Records {many} as done, in their order, a change for each, and stops at the first that is refused. The machines themselves are not
      touched: do the work first, or while it goes on.
    </EachItem>
  )
}
