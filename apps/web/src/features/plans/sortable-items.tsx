import { closestCenter, DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core'
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable'
import type { Item } from '@insel/core'
import { GripVertical } from 'lucide-react'
import type { ReactNode } from 'react'

/** A press may shake a little; a drag is meant from here on, px. */
const DRAG_FROM_PX = 6

/**
 * The items of a plan, dragged into their order by a grip each. By keys the same is done with Alt and the arrows.
 *
 * @param ahead the items that may be moved, in their order
 * @param order puts an item before another, or at the end
 */
export function SortableItems({
  ahead,
  order,
  children,
}: {
  ahead: readonly Item[]
  order: (itemId: string, beforeId: string | undefined) => void
  children: ReactNode
}) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: DRAG_FROM_PX } }))
  const ids = ahead.map(({ id }) => id)
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    const [from, to] = [ids.indexOf(String(active.id)), ids.indexOf(String(over?.id))]
    if (from >= 0 && to >= 0 && from !== to) order(String(active.id), from < to ? ids[to + 1] : ids[to])
  }
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ol className="at-a-rack">{children}</ol>
      </SortableContext>
    </DndContext>
  )
}

/** What makes an item draggable: where it is while that goes on, and the grip by which it is held. */
export function useItemGrip(item: Item) {
  const { setNodeRef, transform, transition, isDragging, listeners, setActivatorNodeRef } = useSortable({
    id: item.id,
    disabled: item.state !== 'open',
  })
  return {
    ref: setNodeRef,
    style: transform
      ? { transform: `translateY(${Math.round(transform.y)}px)`, transition, zIndex: isDragging ? 10 : undefined }
      : undefined,
    isDragging,
    grip: item.state === 'open' && (
      <span
        ref={setActivatorNodeRef}
        {...listeners}
        className="cursor-grab touch-none text-faint hover:text-accent inline-flex items-center justify-center size-6 print:hidden"
        title="Drag it to its place; Alt with the arrows does the same"
        data-grip={item.title}
        aria-hidden
      >
        <GripVertical size={14} />
      </span>
    ),
  }
}
