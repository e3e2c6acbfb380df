import { isStale, sayDeparture, type Command, type Item, type ProjectedItem } from '@insel/core'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Mark } from '../../ui/mark'

/** Why an item does not do what it was written for, and the ways out. */
export function DeparturesNote({
  item,
  place,
  above,
  record,
}: {
  item: Item
  place: ProjectedItem | undefined
  /** The item still to be done before it: on the estate after that it can be rewritten. */
  above?: Item | undefined
  record: (commands: readonly Command[]) => Promise<boolean>
}) {
  const { recorded, showBasis } = useEstate()
  if (!place || !isStale(place)) return null
  const sentences = place.outcome.ok
    ? place.departures.map((departure) => sayDeparture(recorded, departure))
    : [place.outcome.refusal.message]
  return (
    <div className="border-l-2 border-warning pl-2 my-1 text-dense">
      <ul>
        {sentences.slice(0, SHOWN).map((sentence) => (
          <li key={sentence} className="flex gap-2 items-baseline">
            <Mark of="remark" /> <span className="min-w-0 break-words">{sentence}</span>
          </li>
        ))}
        {sentences.length > SHOWN && <li>And {sentences.length - SHOWN} more.</li>}
      </ul>
      <p className="flex flex-wrap gap-2 mt-1">
        {place.outcome.ok && (
          <Button className="!min-h-7" onClick={() => void record([{ type: 'item.keep', itemId: item.id }])}>
            Keep as it is now<span className="sr-only">: {item.title}</span>
          </Button>
        )}
        {above && (
          <Button className="!min-h-7" onClick={() => showBasis({ on: 'item', planId: above.planId, itemId: above.id })}>
            Rewrite…<span className="sr-only">: {item.title}</span>
          </Button>
        )}
      </p>
      {above && <p className="text-soft">Rewrite it on the estate before it: what you change there goes before it. Then drop this one.</p>}
    </div>
  )
}
const SHOWN = 5
