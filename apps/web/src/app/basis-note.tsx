import { RECORDED, useEstate } from '../estate'
import type { Basis } from '../estate'
import { Button } from '../ui/button'

/** Says what is shown where it is neither the record nor the draft, and leads back to the record. */
export function BasisNote() {
  const { basis, basisNote, showBasis } = useEstate()
  if (!basisNote) return null
  return (
    <div role="status" className="flex flex-wrap items-center gap-x-3 gap-y-1 px-4 py-1 bg-accent-wash border-b border-accent text-dense">
      {basis.on === 'item' && <ItemSlider basis={basis} />}
      <p className="min-w-0">{basisNote}</p>
      <Button look="quiet" className="!min-h-7" onClick={() => showBasis(RECORDED)}>
        Show the record
      </Button>
    </div>
  )
}

/** The items of a plan as stops: the pages show the estate as it would be after each. */
function ItemSlider({ basis: { plan, item, ahead } }: { basis: Extract<Basis, { on: 'item' }> }) {
  const { showBasis } = useEstate()
  const at = ahead.findIndex(({ id }) => id === item.id) + 1
  const go = (position: number) => {
    const wanted = ahead[position - 1]
    showBasis(wanted ? { on: 'item', planId: plan.id, itemId: wanted.id } : RECORDED)
  }
  return (
    <label className="inline-flex items-center gap-2">
      <span className="sr-only">After item</span>
      <input
        type="range"
        className="accent-[var(--accent)] min-h-7 w-40"
        min={0}
        max={ahead.length}
        value={at}
        aria-valuetext={`after ${at} of ${ahead.length}: ${item.title}`}
        onChange={(event) => go(Number(event.target.value))}
      />
      <span className="font-mono">
        {at} of {ahead.length}
      </span>
    </label>
  )
}
