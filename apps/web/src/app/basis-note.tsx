import { startTransition, useEffect, useRef, useState } from 'react'
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
  // The slider is where it was put at once; the pages follow as quickly as they can, and leave out what it has left by then.
  const [wanted, setWanted] = useState(at)
  const asked = useRef<number[]>([])
  const isOnItsWay = useRef(false)
  useEffect(() => {
    const place = asked.current.indexOf(at)
    if (place >= 0) asked.current.splice(0, place + 1)
    else {
      asked.current = []
      setWanted(at)
    }
  }, [at])
  const go = (position: number) => {
    setWanted(position)
    asked.current.push(position)
    if (isOnItsWay.current) return
    isOnItsWay.current = true
    requestAnimationFrame(() => {
      isOnItsWay.current = false
      const stop = ahead[(asked.current.at(-1) ?? 0) - 1]
      startTransition(() => showBasis(stop ? { on: 'item', planId: plan.id, itemId: stop.id } : RECORDED))
    })
  }
  return (
    <label className="inline-flex items-center gap-2">
      <span className="sr-only">After item</span>
      <input
        type="range"
        className="accent-[var(--accent)] min-h-7 w-40"
        min={0}
        max={ahead.length}
        value={wanted}
        aria-valuetext={`after ${wanted} of ${ahead.length}: ${ahead[wanted - 1]?.title ?? 'the record'}`}
        onChange={(event) => go(Number(event.target.value))}
      />
      <span className="font-mono">
        {wanted} of {ahead.length}
      </span>
    </label>
  )
}
