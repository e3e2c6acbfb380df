import { RECORDED, useEstate } from '../estate'
import { onDemand } from '../lib/on-demand'
import { Button } from '../ui/button'

const ItemSlider = onDemand(async () => (await import('./item-slider')).ItemSlider)

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
