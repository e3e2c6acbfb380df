import { useDndMonitor } from '@dnd-kit/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { Key } from '../../ui/button'
import { Mark } from '../../ui/mark'
import type { Carrying } from './use-carrying'

/** While a guest is carried: what fits on the host under it, what does not, and by how much, in words. */
export function CheckPanel({ carrying }: { carrying: Carrying }) {
  const { estate } = useEstate()
  const guest = estate.find('guest', carrying.guestId)
  const host = estate.find('host', carrying.overHostId)
  return (
    <>
      {guest && <Held name={guest.name} />}
      <div role="status" aria-live="polite">
        {guest && (
          <div className="fixed bottom-4 left-1/2 -translate-x-1/2 z-30 w-[min(520px,calc(100vw-32px))] bg-sheet border border-accent rounded-md shadow-lg p-4">
            <h2 className="mb-2">
              {guest.name} {host ? `to ${host.name}` : 'is carried'}
            </h2>
            {!host && <p className="text-soft">Over no host. Let go here to leave it where it is.</p>}
            {host && host.id === guest.hostId && <p className="text-soft">That is where it is. Choose another host.</p>}
            {carrying.proposal?.fit.lines.map((line) => (
              <p key={line.sentence} className="flex gap-2 items-baseline py-0.5 text-[13px]">
                <Mark of={line.verdict} /> {line.sentence}
              </p>
            ))}
            <p className="text-faint text-[12px] mt-2">
              Let go, or <Key>Enter</Key>, to add it to the plan; <Key>Esc</Key> puts it back. The record does not change.
            </p>
          </div>
        )}
      </div>
    </>
  )
}

/** The name of what is dragged, at the pointer. */
function Held({ name }: { name: string }) {
  const [at, setAt] = useState<{ x: number; y: number }>()
  useDndMonitor({
    onDragMove: ({ activatorEvent, delta }) => {
      if (activatorEvent instanceof PointerEvent) setAt({ x: activatorEvent.clientX + delta.x, y: activatorEvent.clientY + delta.y })
    },
    onDragEnd: () => setAt(undefined),
    onDragCancel: () => setAt(undefined),
  })
  return (
    at && (
      <div
        className="fixed left-0 top-0 z-40 rounded-sm bg-accent text-accent-ink text-[12px] px-2 py-1 shadow-lg pointer-events-none"
        style={{ transform: `translate(${at.x + 10}px, ${at.y + 10}px)` }}
      >
        {name}
      </div>
    )
  )
}
