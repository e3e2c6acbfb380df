import {
  commandsOf,
  formatDuration,
  isStale,
  minutesOf,
  readMinutes,
  sayCommand,
  sayDeparture,
  timeZoneOf,
  type Command,
  type Item,
  type ProjectedItem,
} from '@insel/core'
import { ArrowDown, ArrowUp } from 'lucide-react'
import { useMemo, useState, type KeyboardEvent, type ReactNode } from 'react'
import { useEstate } from '../../estate'
import { formatInstant } from '../../lib/time'
import { Button } from '../../ui/button'
import { Mark } from '../findings/mark'
import { DifferenceView } from '../proposals/difference-view'

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
  const waits = item.afterIds.flatMap((id) => recorded.find('item', id)?.title ?? [])
  return (
    <li aria-label={item.title} className="border-t border-line first:border-0 py-2.5 grid grid-cols-[2rem_minmax(0,1fr)] gap-x-2">
      <span className="font-mono text-faint pt-0.5">{number}</span>
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
            {item.minutesTaken === null ? (
              <>
                , about {formatDuration(minutes.value * 60)}
                {minutes.basis === 'common practice' && ', basis: common practice'}
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
        <Departures place={place} item={item} record={record} />
        {isOpen && <Body item={item} place={place} />}
        {item.note && <p className="text-dense whitespace-pre-wrap">{item.note}</p>}
        {place && isOpen && (
          <Settling
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
        {!place && <Over item={item} record={record} />}
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

/** Why an item does not do what it was written for, and the ways out. */
function Departures({ item, place, record }: Pick<PlanItemProps, 'item' | 'place' | 'record'>) {
  const { recorded } = useEstate()
  if (!place || !isStale(place)) return null
  const sentences = place.outcome.ok
    ? place.departures.map((departure) => sayDeparture(recorded, departure))
    : [place.outcome.refusal.message]
  return (
    <div className="border-l-2 border-warning pl-2 my-1 text-dense">
      <ul>
        {sentences.slice(0, SHOWN).map((sentence) => (
          <li key={sentence} className="flex gap-2 items-baseline">
            <Mark of="remark" /> <span className="min-w-0 break-words">{sentence}</span>
          </li>
        ))}
        {sentences.length > SHOWN && <li>And {sentences.length - SHOWN} more.</li>}
      </ul>
      <p className="flex flex-wrap gap-2 mt-1">
        {place.outcome.ok && (
          <Button className="!min-h-7" onClick={() => void record([{ type: 'item.keep', itemId: item.id }])}>
            Keep as it is now<span className="sr-only">: {item.title}</span>
          </Button>
        )}
      </p>
    </div>
  )
}
const SHOWN = 5

/** What an item does: its commands in words, and the exact changes. */
function Body({ item, place }: Pick<PlanItemProps, 'item' | 'place'>) {
  const { recorded, showBasis } = useEstate()
  const difference = place?.outcome.ok ? place.outcome.difference : undefined
  const after = useMemo(() => (difference ? recorded.with(difference) : recorded), [recorded, difference])
  const commands = commandsOf(item)
  return (
    <div className="my-1">
      {commands.length === 0 && <p className="text-dense text-soft">A task: it changes nothing in the record.</p>}
      <ul className="text-dense text-soft">
        {commands.slice(0, COMMANDS_SHOWN).map((command, index) => (
          <li key={index} className="break-words">
            {sayCommand(after, command)}
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

/** What can be done with an item that is still to be done. */
function Settling({
  item,
  isNext,
  isStale: isOff,
  record,
  order,
  next,
}: Pick<PlanItemProps, 'item' | 'isNext' | 'record'> & { isStale: boolean; order: ReactNode; next: Item | undefined }) {
  const [mode, setMode] = useState<'skip' | 'fail'>()
  const [reason, setReason] = useState('')
  const [typed, setTyped] = useState('')
  const [isBusy, setBusy] = useState(false)
  const reading = readMinutes(typed)
  const minutes = reading.ok ? reading.minutes : null
  const act = async (command: Command) => {
    setBusy(true)
    const isDone = await record([command])
    setBusy(false)
    if (isDone) setMode(undefined)
  }
  if (mode)
    return (
      <form
        className="text-dense flex flex-wrap gap-2 items-center mt-1 print:hidden"
        onSubmit={(event) => {
          event.preventDefault()
          void act({ type: `item.${mode}`, itemId: item.id, reason: reason.trim(), ...(mode === 'fail' ? { minutes } : {}) })
        }}
      >
        <input
          className="field !w-80 !min-h-7"
          autoFocus
          aria-label={mode === 'skip' ? `Why “${item.title}” is skipped` : `What went wrong with “${item.title}”`}
          placeholder={mode === 'skip' ? 'why it is skipped' : 'what went wrong'}
          maxLength={400}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <Button type="submit" className="!min-h-7" disabled={reason.trim() === '' || isBusy}>
          {mode === 'skip' ? 'Record as skipped' : 'Record as failed'}
        </Button>
        <Button look="quiet" className="!min-h-7" onClick={() => setMode(undefined)}>
          Back
        </Button>
      </form>
    )
  const hidden = <span className="sr-only"> {item.title}</span>
  return (
    <div className="text-dense flex flex-wrap gap-2 items-center mt-1 print:hidden">
      <Button
        look={isNext && !isOff ? 'primary' : 'plain'}
        className="!min-h-7"
        disabled={isBusy || isOff || !reading.ok}
        onClick={() => void act({ type: 'item.carryOut', itemId: item.id, minutes })}
      >
        {item.kind === 'task' ? 'Done' : 'Carry out'}
        {hidden}
      </Button>
      <label className="inline-flex items-center gap-1.5">
        <input
          className="field font-mono !w-16 !min-h-7"
          aria-label={`Minutes for “${item.title}”`}
          aria-invalid={!reading.ok}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        minutes
        {!reading.ok && (
          <span role="alert" className="text-error">
            {reading.sentence}
          </span>
        )}
      </label>
      {item.state === 'open' && (
        <Button className="!min-h-7" disabled={isBusy} onClick={() => void act({ type: 'item.begin', itemId: item.id })}>
          Begin{hidden}
        </Button>
      )}
      <Button className="!min-h-7" onClick={() => setMode('skip')}>
        Skip…{hidden}
      </Button>
      <Button className="!min-h-7" onClick={() => setMode('fail')}>
        Failed…{hidden}
      </Button>
      {item.state === 'open' && (
        <Button look="quiet" className="!min-h-7" disabled={isBusy} onClick={() => void act({ type: 'item.drop', itemId: item.id })}>
          Drop{hidden}
        </Button>
      )}
      {item.state === 'open' && commandsOf(item).length > 1 && (
        <Button
          look="quiet"
          className="!min-h-7"
          disabled={isBusy}
          onClick={() => void act({ type: 'item.split', itemId: item.id, at: 1 })}
        >
          Split off the first<span className="sr-only"> command of {item.title}</span>
        </Button>
      )}
      {item.state === 'open' && next?.kind === item.kind && next.state === 'open' && (
        <Button look="quiet" className="!min-h-7" disabled={isBusy} onClick={() => void act({ type: 'item.join', itemId: item.id })}>
          Join with the next{hidden}
        </Button>
      )}
      {order}
    </div>
  )
}

/** What can be done with an item that is over. */
function Over({ item, record }: Pick<PlanItemProps, 'item' | 'record'>) {
  const { revertItem } = useEstate()
  const [trouble, setTrouble] = useState<string>()
  return (
    <div className="text-dense mt-1 print:hidden">
      {item.state === 'done' ? (
        commandsOf(item).length > 0 && (
          <Button look="quiet" className="!min-h-7 !px-0" onClick={() => void revertItem(item).then((why) => setTrouble(why?.sentence))}>
            Revert<span className="sr-only"> {item.title}</span>
          </Button>
        )
      ) : (
        <Button look="quiet" className="!min-h-7 !px-0" onClick={() => void record([{ type: 'item.reopen', itemId: item.id }])}>
          Reopen<span className="sr-only"> {item.title}</span>
        </Button>
      )}
      {trouble && (
        <p role="alert" className="text-error">
          {trouble}
        </p>
      )}
    </div>
  )
}
