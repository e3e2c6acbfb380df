import {
  addressCells,
  differingCells,
  ipToNumber,
  longestGap,
  placeNames,
  rulerLines,
  type AddressCell,
  type Differing,
  type Prefix,
  type RulerLine,
  type RulerSpan,
  type Subnet,
} from '@insel/core'
import { useId, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import { useEstate } from '../../estate'
import { textScale } from '../../lib/text-scale'
import { useWidth } from '../../lib/use-width'
import { DiffersMark, differsInWords } from '../../ui/differs'
import { AddressPanel } from './address-panel'
import { isMark, markLooks, spanLooks } from './looks'
import { useCursor } from './use-cursor'

/** Each address is at least as wide as a target must be (WCAG 2.2, 2.5.8). */
const LEAST_PX = 24
const LETTER_PX = 6.3
const LABEL_LETTER_PX = 7.8
const NAME_ROW_PX = 14
const NAME_ROWS = 3
const NONE: ReadonlyMap<string, Differing> = new Map()

/** Every address of a part, on ruled lines to scale. Arrows move, with shift they take a run, as a drag does; Escape lets go of it. */
export function AddressRuler({ subnet, part, at }: { subnet: Subnet; part: Prefix; at: string | undefined }) {
  const { estate, recorded } = useEstate()
  const id = useId()
  const box = useRef<HTMLDivElement>(null)
  const scale = textScale()
  const boxWidth = useWidth(box, 880)
  const cells = useMemo(() => addressCells(estate, subnet, part), [estate, subnet, part])
  const differs = useMemo(
    () => (recorded === estate ? NONE : differingCells(recorded, estate, subnet, part)),
    [recorded, estate, subnet, part],
  )
  const isNarrow = boxWidth < 600 * scale
  const labels = isNarrow ? lastPart : (ip: string) => ip
  const labelWidth =
    Math.max(...cells.filter((_, index) => index % 8 === 0).map(({ ip }) => labels(ip).length)) * LABEL_LETTER_PX * scale + 8
  const room = boxWidth - labelWidth - 2
  const perLine = [32, 16, 8].find((count) => room / count >= LEAST_PX) ?? 8
  const step = Math.floor((room / perLine) * 10) / 10
  const lines = useMemo(() => rulerLines(cells, perLine), [cells, perLine])
  const labelled = useMemo(() => labelledSpans(lines, step / scale), [lines, step, scale])
  const [anchor, setAnchor] = useState<number>()
  const isDragging = useRef(false)
  const { current, go } = useCursor(at, (ip) => {
    const found = Number(ipToNumber(ip) - part.first)
    return found >= 0 && found < cells.length ? found : undefined
  })
  const [low, high] = current === undefined ? [-1, -1] : [Math.min(anchor ?? current, current), Math.max(anchor ?? current, current)]
  const choose = (index: number, isRun: boolean) => {
    const cell = cells[index]
    if (!cell) return
    setAnchor(isRun ? (anchor ?? current ?? index) : undefined)
    go(index, cell.ip)
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const move = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -perLine, ArrowDown: perLine }[event.key]
    if (event.key === 'Escape') setAnchor(undefined)
    else if (event.key === 'Home') choose(0, event.shiftKey)
    else if (event.key === 'End') choose(cells.length - 1, event.shiftKey)
    else if (move === undefined) return
    else choose(Math.max(0, Math.min(cells.length - 1, (current ?? 0) + (current === undefined ? 0 : move))), event.shiftKey)
    event.preventDefault()
  }
  // A finger scrolls; with a mouse or a pen a drag takes a run.
  const onPointerDown = (event: PointerEvent) => {
    const index = indexAt(event)
    if (index === undefined || event.button !== 0 || event.pointerType === 'touch') return
    isDragging.current = true
    choose(index, event.shiftKey)
  }
  const onPointerMove = (event: PointerEvent) => {
    if (!isDragging.current) return
    if (event.buttons === 0) isDragging.current = false
    const index = indexAt(event)
    if (isDragging.current && index !== undefined && index !== current) choose(index, true)
  }
  const chosen = current === undefined ? [] : cells.slice(low, high + 1)
  const extendTo = (ip: string) => {
    const index = Number(ipToNumber(ip) - part.first)
    if (index < 0 || index >= cells.length) return false
    choose(index, true)
    return true
  }
  return (
    <div className="grid gap-y-3 grid-cols-[minmax(0,1fr)]" ref={box}>
      <div
        role="grid"
        tabIndex={0}
        aria-label={`Addresses of ${part.text}`}
        aria-multiselectable
        aria-activedescendant={current === undefined ? undefined : `${id}-${current}`}
        onKeyDown={onKeyDown}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={() => (isDragging.current = false)}
        onClick={(event) => {
          const index = indexAt(event)
          if (index !== undefined) choose(index, event.shiftKey)
        }}
        className="w-fit max-w-full rounded-sm select-none"
      >
        {lines.map((line) => (
          <Line
            key={line.from}
            id={id}
            line={line}
            label={labels(line.cells[0]?.ip ?? '')}
            labelWidth={labelWidth}
            step={step}
            scale={scale}
            labelled={labelled}
            low={low}
            high={high}
            differs={differs}
          />
        ))}
      </div>
      {chosen.length > 0 && (
        // While a run grows its panel stays the same: what is typed there already must not be lost.
        <AddressPanel
          key={chosen.length > 1 ? 'run' : chosen[0]?.ip}
          subnet={subnet}
          cells={chosen}
          extendTo={extendTo}
          done={() => setAnchor(undefined)}
        />
      )}
    </div>
  )
}

const indexAt = ({ target }: { target: EventTarget }): number | undefined => {
  const cell = target instanceof Element ? target.closest<HTMLElement>('[data-address]') : null
  return cell ? Number(cell.dataset['address']) : undefined
}

const lastPart = (ip: string) => (ip.includes(':') ? `:${ip.split(':').at(-1) ?? ''}` : `.${ip.split('.')[3] ?? ''}`)

const textOf = (span: RulerSpan): string => {
  if (span.ground === 'free') return `${span.runCount} free`
  if (span.ground === 'DHCP range') return `DHCP ${span.runCount}`
  return span.ground === 'reserved' ? `${span.says || 'reserved'} ${span.runCount}` : ''
}

/** The text of each run, on the first of its stretches that has room for it: by line and where it begins. */
function labelledSpans(lines: readonly RulerLine[], step: number): ReadonlyMap<string, { readonly text: string; readonly left: number }> {
  const done = new Set<number>()
  const labels = new Map<string, { text: string; left: number }>()
  for (const line of lines)
    for (const span of line.spans) {
      const [text, gap] = [textOf(span), longestGap(span, line.marks)]
      if (!text || done.has(span.runFrom) || gap.count * step < text.length * LETTER_PX + 10) continue
      done.add(span.runFrom)
      labels.set(`${line.from} ${span.from}`, { text, left: gap.from * step })
    }
  return labels
}

function Line({
  id,
  line,
  label,
  labelWidth,
  step,
  scale,
  labelled,
  low,
  high,
  differs,
}: {
  id: string
  line: RulerLine
  label: string
  labelWidth: number
  step: number
  scale: number
  labelled: ReturnType<typeof labelledSpans>
  low: number
  high: number
  differs: ReadonlyMap<string, Differing>
}) {
  const width = line.cells.length * step
  const rowPx = NAME_ROW_PX * scale
  // What has a name, and what differs: of an address that was released only the mark is left.
  const named = line.cells
    .map((cell, at) => ({ at, cell, name: nameOf(cell), how: differs.get(cell.ip) }))
    .filter(({ name, how }) => name !== '' || how !== undefined)
  const names = placeNames(
    named.map(({ at, name, how }) => ({ at: at * step, length: ((name.length + (how ? 2 : 0)) * LETTER_PX + 6) * scale })),
    width,
    NAME_ROWS,
  )
  const rows = Math.max(0, ...names.map(({ row }) => row + 1))
  // On a line where every eighth address has room for its number, else only the first has.
  const every = line.cells.length > 8 ? 8 : 4
  return (
    <div role="row" className="relative flex" style={{ paddingTop: rows * rowPx + 3 }}>
      <span className="shrink-0 font-mono text-small text-soft leading-4 self-start" style={{ width: labelWidth }} aria-hidden>
        {label}
      </span>
      <div className="relative h-8" style={{ width }}>
        <div aria-hidden className="absolute inset-x-0 top-0 h-4 pointer-events-none">
          {line.spans.map((span) => (
            <div
              key={span.from}
              className={`absolute inset-y-0 ${spanLooks[span.ground]}`}
              style={{ left: span.from * step, width: span.count * step }}
            />
          ))}
          {line.spans.map((span) => {
            const text = labelled.get(`${line.from} ${span.from}`)
            return (
              text && (
                <span
                  key={span.from}
                  className={`absolute top-px text-tiny leading-[1rem] px-1 whitespace-nowrap ${span.ground === 'reserved' ? 'text-ink' : 'bg-paper text-soft'}`}
                  style={{ left: text.left * scale + 5 }}
                >
                  {text.text}
                </span>
              )
            )
          })}
          {named.map(({ at, cell, name, how }, index) => {
            const place = names[index]
            return (
              place && (
                <span key={at} className="contents">
                  <span
                    className="absolute w-px bg-rule"
                    style={{
                      left: (at + 0.5) * step - 0.5,
                      top: -place.row * rowPx - 4,
                      height: place.row * rowPx + 4,
                    }}
                  />
                  <span
                    className={`absolute text-tiny leading-[1rem] truncate ${cell.state === 'conflict' ? 'text-error font-medium' : cell.state === 'gateway' ? 'text-accent' : 'text-ink'}`}
                    style={{
                      left: (at + 0.5) * step - 3,
                      top: -(place.row + 1) * rowPx - 2,
                      maxWidth: Math.max(0, place.room - 2),
                    }}
                  >
                    {how && <DiffersMark how={how} className="mr-0.5" />}
                    {name}
                  </span>
                </span>
              )
            )
          })}
          {line.marks.map(({ at, cell }) => (
            <span key={at} className="absolute inset-y-0 flex justify-center" style={{ left: at * step, width: step }}>
              <Mark state={cell.state} />
            </span>
          ))}
        </div>
        {/* The ruled line with a tick for each address, a longer one with its number for every eighth. */}
        <div
          aria-hidden
          className="absolute inset-x-0 top-4 h-1 border-t border-fill pointer-events-none"
          style={{ backgroundImage: `repeating-linear-gradient(to right, var(--rule) 0 1px, transparent 1px ${step}px)` }}
        />
        {line.cells.map(
          (cell, index) =>
            index > 0 &&
            index % every === 0 && (
              <span
                key={cell.ip}
                aria-hidden
                className="absolute top-4 h-4 border-l border-fill pl-0.5 pt-0.5 font-mono text-tiny leading-3 text-faint pointer-events-none"
                style={{ left: index * step }}
              >
                {lastPart(cell.ip)}
              </span>
            ),
        )}
        {line.cells.map((cell, index) => {
          const place = line.from + index
          const isChosen = place >= low && place <= high
          return (
            <div
              key={cell.ip}
              role="gridcell"
              id={`${id}-${place}`}
              data-address={place}
              aria-selected={isChosen}
              aria-label={saidOf(cell, differs.get(cell.ip))}
              title={`${cell.ip} ${cell.says}`}
              className={`absolute -top-1 bottom-1 cursor-pointer hover:bg-accent/10 ${isChosen ? 'bg-accent/15 border-y-2 border-accent' : ''} ${isChosen && place === low ? 'border-l-2' : ''} ${isChosen && place === high ? 'border-r-2' : ''}`}
              style={{ left: index * step, width: step }}
            />
          )
        })}
      </div>
    </div>
  )
}

const nameOf = ({ machine, state }: AddressCell): string => (isMark(state) ? (machine ?? (state === 'gateway' ? 'gateway' : '')) : '')

const saidOf = ({ ip, state, says }: AddressCell, how: Differing | undefined): string =>
  `${ip}, ${state}${says === state ? '' : `: ${says}`}${how ? `, ${differsInWords[how]}` : ''}`

/** The mark of an address that a machine has, or was seen with. */
export function Mark({ state }: { state: AddressCell['state'] }) {
  return isMark(state) && <span aria-hidden className={`absolute ${markLooks[state]}`} />
}
