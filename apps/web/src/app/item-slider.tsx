import { startTransition, useEffect, useRef, useState } from 'react'
import { RECORDED, useEstate } from '../estate'
import type { Basis } from '../estate'

/** The items of a plan as stops: the pages show the estate as it would be after each. */
export function ItemSlider({ basis: { plan, item, ahead } }: { basis: Extract<Basis, { on: 'item' }> }) {
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
