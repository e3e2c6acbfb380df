import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useDraggable,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragMoveEvent,
} from '@dnd-kit/core'
import { counted, placeAround, usableCount, type Prefix } from '@insel/core'
import { useRef, useState, type KeyboardEvent } from 'react'
import { ipAt, placeOf, shortName } from './block-geometry'

/** A prefix in the drawing. */
export interface DrawnPrefix {
  readonly key: string
  readonly prefix: Prefix
  readonly name: string
  /** What is in it, in words. */
  readonly holds: string
  readonly look: 'recorded' | 'drafted'
}

/** What a key on a prefix asks for. */
export type BlockKey = 'up' | 'down' | 'split' | 'merge' | 'longer' | 'shorter'
const keys: Readonly<Record<string, BlockKey>> = {
  ArrowRight: 'up',
  ArrowDown: 'up',
  ArrowLeft: 'down',
  ArrowUp: 'down',
  s: 'split',
  m: 'merge',
  '+': 'shorter',
  '-': 'longer',
}
const percent = (share: number) => `${share * 100}%`

/**
 * A block and the prefixes in it, to scale: an area twice as large holds twice the addresses. Prefixes are moved by drag or
 * with the arrows, split with s, merged with m.
 */
export function BlockDrawing({
  block,
  drawn,
  free,
  onMove,
  onKey,
}: {
  block: Prefix
  drawn: readonly DrawnPrefix[]
  free: readonly Prefix[]
  onMove: (key: string, to: Prefix) => void
  onKey: (key: string, asked: BlockKey) => void
}) {
  const box = useRef<HTMLDivElement>(null)
  const [ghost, setGhost] = useState<Prefix>()
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { keyboardCodes: { start: [], cancel: ['Escape'], end: [] } }),
  )
  const placeOfDrag = ({ active }: DragMoveEvent | DragEndEvent): Prefix | undefined => {
    const one = drawn.find(({ key }) => key === active.id)
    const frame = box.current?.getBoundingClientRect()
    const rect = active.rect.current.translated
    if (!one || !frame || !rect) return undefined
    const [x, y] = [(rect.left + rect.width / 2 - frame.left) / frame.width, (rect.top + rect.height / 2 - frame.top) / frame.height]
    const others = drawn.filter(({ key }) => key !== one.key).map(({ prefix }) => prefix)
    return placeAround(block, others, ipAt(block, x, y, one.prefix.bits), one.prefix.bits)
  }
  return (
    <DndContext
      sensors={sensors}
      onDragMove={(event) => setGhost(placeOfDrag(event))}
      onDragCancel={() => setGhost(undefined)}
      onDragEnd={(event) => {
        const place = placeOfDrag(event)
        setGhost(undefined)
        if (place && place.text !== drawn.find(({ key }) => key === event.active.id)?.prefix.text) onMove(String(event.active.id), place)
      }}
    >
      <div
        ref={box}
        role="group"
        aria-label={`${block.text}, drawn to scale`}
        data-to-scale
        className="relative w-full aspect-[8/5] border border-rule bg-track overflow-hidden"
      >
        {free.map((prefix) => (
          <Box key={prefix.text} block={block} prefix={prefix} className="border border-line text-faint">
            {prefix.bits - block.bits <= 6 && <PrefixName block={block} prefix={prefix} />}
          </Box>
        ))}
        {ghost && (
          <Box block={block} prefix={ghost} className="border-2 border-dashed border-accent bg-accent-wash/60 z-20 pointer-events-none" />
        )}
        {drawn.map((one) => (
          <Piece key={one.key} block={block} one={one} onKey={onKey} />
        ))}
      </div>
    </DndContext>
  )
}

function Box({ block, prefix, className, children }: { block: Prefix; prefix: Prefix; className: string; children?: React.ReactNode }) {
  const { x, y, width, height } = placeOf(block, prefix)
  return (
    <div
      className={`sized absolute overflow-hidden px-1 text-tiny ${className}`}
      style={{ left: percent(x), top: percent(y), width: percent(width), height: percent(height) }}
    >
      {children}
    </div>
  )
}

/** A prefix as far as its place is wide enough for it. */
function PrefixName({ block, prefix }: { block: Prefix; prefix: Prefix }) {
  return (
    <>
      <span className="in-wide truncate font-mono">{prefix.text}</span>
      <span className="in-narrow truncate font-mono">{shortName(block, prefix)}</span>
    </>
  )
}

function Piece({ block, one, onKey }: { block: Prefix; one: DrawnPrefix; onKey: (key: string, asked: BlockKey) => void }) {
  const { setNodeRef, listeners, attributes, transform, isDragging } = useDraggable({ id: one.key })
  const { x, y, width, height } = placeOf(block, one.prefix)
  const onKeyDown = (event: KeyboardEvent) => {
    const asked = keys[event.key]
    if (!asked || event.ctrlKey || event.metaKey || event.altKey) return
    event.preventDefault()
    event.stopPropagation()
    onKey(one.key, asked)
  }
  const { role: _role, tabIndex: _tabIndex, 'aria-roledescription': _description, ...aria } = attributes
  return (
    <button
      ref={setNodeRef}
      type="button"
      {...aria}
      {...listeners}
      aria-roledescription="movable prefix"
      aria-label={`${one.name}, ${one.prefix.text}, ${counted(Number(usableCount(one.prefix)), 'address', 'addresses')}, ${one.holds}`}
      title={`${one.name} ${one.prefix.text}: ${one.holds}`}
      onKeyDown={onKeyDown}
      style={{
        left: percent(x),
        top: percent(y),
        width: percent(width),
        height: percent(height),
        transform: transform ? `translate(${transform.x}px, ${transform.y}px)` : undefined,
      }}
      className={`sized absolute overflow-hidden text-left px-[3px] text-tiny leading-tight touch-none cursor-grab ${isDragging ? 'z-30 opacity-70' : 'z-10'} ${
        one.look === 'recorded' ? 'bg-fill text-paper border border-paper' : 'bg-accent-wash text-ink border-2 border-accent'
      }`}
    >
      <span className="block truncate font-medium">{one.name}</span>
      <PrefixName block={block} prefix={one.prefix} />
      <span className="in-wide truncate">{one.holds}</span>
    </button>
  )
}
