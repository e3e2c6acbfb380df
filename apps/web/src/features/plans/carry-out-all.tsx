import { counted, type Item } from '@insel/core'
import { useEstate } from '../../estate'
import { EachItem } from './each-item'

/** Carries out what is still to be done of a plan, in its order. @param least so many have to be there before it is offered */
export function CarryOutAll({ items, least = 2, done }: { items: readonly Item[]; least?: number; done?: () => void }) {
  const { submit } = useEstate()
  const many = counted(items.length, 'item')
  return (
    <EachItem
      name="Carry out all"
      items={items}
      least={least}
      done={done}
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
