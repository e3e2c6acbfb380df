import {
  commandsOf,
  counted,
  formatDuration,
  isStale,
  minutesOf,
  sayWhole,
  timeZoneOf,
  type Command,
  type Item,
  type ProjectedItem,
  formatInstant,
} from '@insel/core'
import { clsx } from 'clsx'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useMemo, useState, type KeyboardEvent } from 'react'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { DifferenceView } from '../proposals/difference-view'
import { FollowedItem } from './followed-item'
import { DeparturesNote } from './departures-note'
import { SettledItem, SettleItem } from './settle-item'
import { useItemGrip } from './sortable-items'

interface PlanItemProps {
  readonly number: number
  readonly item: Item
  /** What it would do, for one that is still to be done. */
  readonly place: ProjectedItem | undefined
  readonly isNext: boolean
  /** The item still to be done before it, and those after it. */
  readonly above: Item | undefined
  readonly below: readonly Item[]
  readonly record: (commands: readonly Command[]) => Promise<boolean>
}

/** An item of a plan: what it changes, whether that still holds, and what can be done with it. */
export function PlanItem({ number, item, place, isNext, above, below, record }: PlanItemProps) {
  const { recorded } = useEstate()
  const zone = timeZoneOf(recorded)
  const [isOpen, setOpen] = useState(isNext)
  const name = (id: string | null) => recorded.find('person', id)?.name
  const minutes = minutesOf(recorded, item)
  const by = name(item.doneById)
  const move = (beforeId: string | undefined) => record([{ type: 'item.order', itemId: item.id, ...(beforeId ? { beforeId } : {}) }])
  const up = above && item.state === 'open' ? () => void move(above.id) : undefined
  const down = below.length > 0 && item.state === 'open' ? () => void move(below[1]?.id) : undefined
  const onKey = (event: KeyboardEvent) => {
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return
    event.preventDefault()
    if (event.key === 'ArrowUp') up?.()
    else down?.()
  }
  const { ref, style, isDragging, grip } = useItemGrip(item)
  const waits = item.afterIds.flatMap((id) => recorded.find('item', id)?.title ?? [])
  return (
    <li
      ref={ref}
      style={style}
      aria-label={item.title}
      className={clsx(
        'relative border-t border-line first:border-0 py-2.5 grid grid-cols-[3.25rem_minmax(0,1fr)] gap-x-2',
        isDragging && 'bg-sheet shadow-lg',
      )}
    >
      <span className="font-mono text-faint pt-0.5 flex items-start justify-between">
        {number}
        {grip}
      </span>
      <div className="min-w-0" onKeyDown={onKey}>
        <p className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
          <button
            type="button"
            className="name-link font-medium text-left break-words"
            aria-expanded={isOpen}
            onClick={() => setOpen(!isOpen)}
          >
            {item.title}
          </button>
          <StateOf item={item} place={place} />
          <span className="text-soft text-dense">
            {item.kind}
            {item.isFinal && ', cannot be undone'}
            {item.minutesTaken === null ? (
              <>
                , about {formatDuration(minutes.value * 60)}
                {minutes.basis === 'own items'
                  ? `, basis: ${counted(minutes.from ?? 0, 'own item')} of this sort`
                  : minutes.basis !== 'as entered' && `, basis: ${minutes.basis}`}
              </>
            ) : (
              `, took ${formatDuration(item.minutesTaken * 60)}`
            )}
            {item.personId && name(item.personId) && `, for ${name(item.personId)}`}
            {by && item.doneAt && `, ${item.state} by ${by}, ${formatInstant(item.doneAt, zone)}`}
            {item.doneRevision !== null && `, change ${item.doneRevision}`}
          </span>
        </p>
        {item.reason && <p className="text-dense">Reason: {item.reason}</p>}
        {waits.length > 0 && place && <p className="text-dense text-soft">After {waits.map((title) => `“${title}”`).join(', ')}.</p>}
        {item.decideBy && place && (
          <p className="text-dense text-soft">
            Decide by {formatInstant(item.decideBy, zone)}
            {item.otherwise && `, otherwise: ${item.otherwise}`}.
          </p>
        )}
        <DeparturesNote place={place} item={item} above={above} record={record} />
        {isOpen && <Body item={item} place={place} />}
        {item.note && <p className="text-dense whitespace-pre-wrap">{item.note}</p>}
        {place && isOpen && (
          <SettleItem
            item={item}
            isNext={isNext}
            isStale={isStale(place)}
            record={record}
            next={below[0]}
            order={
              <>
                {up && (
                  <Button look="quiet" className="!min-h-7" aria-label={`Move “${item.title}” up`} title="Alt ↑" onClick={up}>
                    <ArrowUp size={14} aria-hidden />
                  </Button>
                )}
                {down && (
                  <Button look="quiet" className="!min-h-7" aria-label={`Move “${item.title}” down`} title="Alt ↓" onClick={down}>
                    <ArrowDown size={14} aria-hidden />
                  </Button>
                )}
              </>
            }
          />
        )}
        {!place && item.state === 'done' && <FollowedItem item={item} record={record} />}
        {!place && <SettledItem item={item} record={record} />}
      </div>
    </li>
  )
}

function StateOf({ item, place }: Pick<PlanItemProps, 'item' | 'place'>) {
  const look: Readonly<Record<Item['state'], string>> = {
    open: 'text-soft',
    'under way': 'text-accent font-medium',
    done: 'text-ok font-medium',
    skipped: 'text-soft',
    failed: 'text-error font-medium',
    reverted: 'text-soft',
  }
  return (
    <span className="text-dense inline-flex gap-2">
      <span className={look[item.state]}>{item.state}</span>
      {place && isStale(place) && <span className="text-warning font-medium">{place.outcome.ok ? 'stale' : 'cannot be applied'}</span>}
    </span>
  )
}

/** What an item does: its commands in words, and the exact changes. */
function Body({ item, place }: Pick<PlanItemProps, 'item' | 'place'>) {
  const { recorded, showBasis } = useEstate()
  const difference = place?.outcome.ok ? place.outcome.difference : undefined
  const after = useMemo(() => (difference ? recorded.with(difference) : recorded), [recorded, difference])
  const commands = commandsOf(item)
  return (
    <div className="my-1">
      {commands.length === 0 && item.kind === 'task' && <p className="text-dense text-soft">A task: it changes nothing in the record.</p>}
      <ul className="text-dense text-soft">
        {commands.slice(0, COMMANDS_SHOWN).map((command, index) => (
          <li key={index} className="break-words">
            {sayWhole(after, command)}
          </li>
        ))}
        {commands.length > COMMANDS_SHOWN && <li>And {commands.length - COMMANDS_SHOWN} more.</li>}
      </ul>
      {place && (
        <Button
          look="quiet"
          className="!min-h-7 !px-0 print:hidden"
          onClick={() => showBasis({ on: 'item', planId: item.planId, itemId: item.id })}
        >
          Show the estate after it<span className="sr-only">: {item.title}</span>
        </Button>
      )}
      {difference && commands.length > 0 && (
        <details className="text-dense mt-1">
          <summary className="text-accent min-h-7 content-center">Exact changes</summary>
          <DifferenceView estate={recorded} difference={difference} />
        </details>
      )}
    </div>
  )
}
const COMMANDS_SHOWN = 20
