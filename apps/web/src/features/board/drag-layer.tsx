import { DndContext, PointerSensor, pointerWithin, useDndMonitor, useDraggable, useDroppable, useSensor, useSensors } from '@dnd-kit/core'
import { useEffect, useLayoutEffect, useState } from 'react'
import type { Carrying } from './use-carrying'

/** A click may shake a little; a drag is meant from here on, px. */
const DRAG_FROM_PX = 6

/** A press on a block, while it is held. */
export interface Press {
  readonly guestId: string
  readonly event: PointerEvent
}

interface DragLayerProps {
  /** The board's scrolling element, with its lanes in it. */
  readonly scroller: HTMLElement
  /** The hosts whose lanes are on the screen. */
  readonly hostIds: readonly string[]
  readonly carrying: Carrying
  /** What is pressed now: it may have been before this was here. */
  readonly pressed: { readonly current: Press | undefined }
  readonly name: string | undefined
}

/** Drags guests over the board. It is beside the board and not around it, so that the board is there before it is. */
export function DragLayer({ scroller, hostIds, carrying, pressed, name }: DragLayerProps) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: DRAG_FROM_PX } }))
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      onDragStart={() => pressed.current && carrying.lift(pressed.current.guestId)}
      onDragOver={({ over }) => carrying.over(over ? String(over.id) : undefined)}
      onDragEnd={() => carrying.drop()}
      onDragCancel={() => carrying.putBack()}
    >
      <Grip scroller={scroller} pressed={pressed} />
      {hostIds.map((id) => (
        <Target key={id} id={id} scroller={scroller} />
      ))}
      {name !== undefined && <Held name={name} />}
    </DndContext>
  )
}

/** One thing to drag for the whole board: thousands of blocks each with its own would make scrolling stutter. */
function Grip({ scroller, pressed }: Pick<DragLayerProps, 'scroller' | 'pressed'>) {
  const { setNodeRef, listeners } = useDraggable({ id: 'block' })
  const press = listeners?.['onPointerDown'] as ((event: { readonly nativeEvent: PointerEvent }) => void) | undefined
  useLayoutEffect(() => setNodeRef(scroller), [setNodeRef, scroller])
  useEffect(() => {
    if (!press) return
    const onPointerDown = (nativeEvent: PointerEvent) => {
      if (pressed.current) press({ nativeEvent })
    }
    scroller.addEventListener('pointerdown', onPointerDown)
    return () => scroller.removeEventListener('pointerdown', onPointerDown)
  }, [scroller, pressed, press])
  useEffect(() => {
    // Somebody was quicker than this layer and still holds the block.
    if (pressed.current && press) press({ nativeEvent: pressed.current.event })
    // oxlint-disable-next-line react/exhaustive-deps -- once, as this comes
  }, [])
  return null
}

/** A lane that a guest can be let go over. */
function Target({ id, scroller }: { id: string; scroller: HTMLElement }) {
  const { setNodeRef } = useDroppable({ id })
  useLayoutEffect(() => setNodeRef(scroller.querySelector<HTMLElement>(`[data-host="${id}"]`)), [setNodeRef, scroller, id])
  return null
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
        className="fixed left-0 top-0 z-40 rounded-sm bg-accent text-accent-ink text-small px-2 py-1 shadow-lg pointer-events-none"
        style={{ transform: `translate(${at.x + 10}px, ${at.y + 10}px)` }}
      >
        {name}
      </div>
    )
  )
}
