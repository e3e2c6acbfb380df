import {
  cannotBeUndone,
  cautionsOf,
  commandsOf,
  formatDuration,
  isStale,
  manualSteps,
  minutesOf,
  sayWhole,
  timeZoneOf,
  type Estate,
  type Item,
  type ProjectedItem,
  formatInstant,
} from '@insel/core'
import { clsx } from 'clsx'
import { useId, useMemo, useState, type ReactNode } from 'react'
import { useEstate } from '../../estate'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'
import { ReasonForm } from '../../ui/reason-form'
import { FollowedItem, useFollowing } from './followed-item'
import { DeparturesNote } from './departures-note'
import type { Tick } from './held-ticks'

/** Made for a thumb. */
const LARGE = '!min-h-12 text-lead justify-center'
const COMMANDS_SHOWN = 12
const MS_PER_MINUTE = 60_000

interface RunItemProps {
  readonly item: Item
  readonly place: ProjectedItem | undefined
  /** The record with what is kept back. */
  readonly estate: Estate
  /** The time it is, milliseconds since 1970. */
  readonly at: number
  readonly tick: (command: Tick['command']) => Promise<string | undefined>
}

/** The item to be done now: what it changes, what is to be minded, by when it is decided, and ticking it. */
export function RunItem({ item, place, estate, at, tick }: RunItemProps) {
  const { recorded } = useEstate()
  const { record, trouble } = useRecord()
  const headingId = useId()
  const zone = timeZoneOf(recorded)
  const difference = place?.outcome.ok ? place.outcome.difference : undefined
  const { said, byHand, cautions } = useMemo(() => {
    const after = difference ? estate.with(difference) : estate
    return {
      said: commandsOf(item).map((command) => sayWhole(after, command)),
      byHand: difference ? manualSteps(after, difference) : [],
      cautions: difference ? cautionsOf(difference) : [],
    }
  }, [item, difference, estate])
  const batch = useFollowing(item)
  const isFollowed = batch !== undefined && batch.endedAt === null
  const waits = item.afterIds.flatMap((id) => {
    const other = estate.find('item', id)
    return other && (other.state === 'open' || other.state === 'under way' || other.state === 'failed')
      ? [`“${other.title}”, ${other.state}`]
      : []
  })
  const begun = item.begunAt === null ? undefined : Math.max(0, Math.round((at - Date.parse(item.begunAt)) / MS_PER_MINUTE))
  const who = recorded.find('person', item.personId)?.name
  return (
    <section aria-labelledby={headingId} className="border-2 border-accent rounded-md bg-sheet p-4 my-3">
      <h2 id={headingId} className="text-lead break-words">
        {item.title}
      </h2>
      <p className="text-soft">
        {item.kind}, about {formatDuration(minutesOf(estate, item).value * 60)}
        {who && `, for ${who}`}
        {begun !== undefined && `, begun ${begun === 0 ? 'just now' : `${formatDuration(begun * 60)} ago`}`}
      </p>
      {item.decideBy && <Decision by={item.decideBy} otherwise={item.otherwise} at={at} zone={zone} />}
      {item.note && <p className="whitespace-pre-wrap my-2">{item.note}</p>}
      {waits.length > 0 && <p className="text-warning my-1">It comes after {waits.join(', ')}.</p>}
      <DeparturesNote place={place} item={item} record={record} />
      {trouble && <Trouble>{trouble}</Trouble>}
      {said.length > 0 && (
        <Lines title="What it records">
          {said.slice(0, COMMANDS_SHOWN)}
          {said.length > COMMANDS_SHOWN && [`And ${said.length - COMMANDS_SHOWN} more.`]}
        </Lines>
      )}
      {byHand.length > 0 && <Lines title="By hand">{byHand}</Lines>}
      {cautions.map((caution) => (
        <p key={caution} className="border-l-2 border-warning pl-2 my-2">
          <b className="font-medium">Caution. </b>
          {caution}
        </p>
      ))}
      <FollowedItem item={item} record={record} className={clsx(LARGE, 'w-full my-2')} />
      {!isFollowed && (
        <Ticking
          item={item}
          isFinal={cannotBeUndone(item, difference)}
          isOff={place === undefined || isStale(place)}
          minutes={begun}
          tick={tick}
        />
      )}
    </section>
  )
}

function Lines({ title, children }: { title: string; children: ReactNode }) {
  const lines = [children].flat(2).filter((line) => typeof line === 'string')
  return (
    <div className="my-2">
      <h3 className="font-medium">{title}</h3>
      <ul>
        {lines.map((line, index) => (
          <li key={index} className="break-words">
            {line}
          </li>
        ))}
      </ul>
    </div>
  )
}

/** By when it is decided, and what is done when it is not done then. */
function Decision({ by, otherwise, at, zone }: { by: string; otherwise: string | null; at: number; zone: string }) {
  const minutes = Math.round((Date.parse(by) - at) / MS_PER_MINUTE)
  const isPast = minutes <= 0
  return (
    <p role={isPast ? 'alert' : undefined} className={clsx('my-2 font-medium', isPast ? 'text-error' : 'text-warning')}>
      {isPast ? 'Decide now' : 'Decide'}: not done by {formatInstant(by, zone)}
      {isPast ? `, ${formatDuration(Math.max(1, -minutes) * 60)} ago` : `, in ${formatDuration(minutes * 60)}`}
      {otherwise ? `: ${otherwise}` : ''}
    </p>
  )
}

/** Begin, done, failed, skip: large, with a question before what cannot be undone. */
function Ticking({
  item,
  isFinal,
  isOff,
  minutes,
  tick,
}: Pick<RunItemProps, 'item' | 'tick'> & { isFinal: boolean; isOff: boolean; minutes: number | undefined }) {
  const [mode, setMode] = useState<'sure' | 'skip' | 'fail'>()
  const [note, setNote] = useState('')
  const [trouble, setTrouble] = useState<string>()
  const [isBusy, setBusy] = useState(false)
  const take = async (command: Tick['command']) => {
    setBusy(true)
    const why = await tick(command)
    setBusy(false)
    setTrouble(why)
    if (!why) setMode(undefined)
  }
  const noted = note.trim() === '' ? {} : { note: note.trim() }
  const taken = minutes === undefined ? {} : { minutes }
  const done = () => take({ type: 'item.carryOut', itemId: item.id, ...taken, ...noted })
  const word = item.kind === 'task' ? 'Done' : 'Done: record it'
  return (
    <div className="mt-3 print:hidden">
      {trouble && <Trouble>{trouble}</Trouble>}
      {mode === 'sure' ? (
        <div role="alertdialog" aria-label="Cannot be undone" className="border border-error rounded-md p-3">
          <p className="mb-2 font-medium">
            This cannot be undone on the machines, whatever is reverted in the record. Is it done, or to be done now?
          </p>
          <div className="grid grid-cols-2 gap-2">
            <Button look="danger" className={LARGE} autoFocus disabled={isBusy} onClick={() => void done()}>
              Yes, record it
            </Button>
            <Button className={LARGE} onClick={() => setMode(undefined)}>
              Back
            </Button>
          </div>
        </div>
      ) : mode ? (
        <ReasonForm
          label={mode === 'skip' ? 'Why it is skipped' : 'What went wrong'}
          press={mode === 'skip' ? 'Record as skipped' : 'Record as failed'}
          isBusy={isBusy}
          take={(reason) => {
            const why = { itemId: item.id, reason }
            void take(mode === 'skip' ? { type: 'item.skip', ...why } : { type: 'item.fail', ...why, ...taken })
          }}
          leave={() => setMode(undefined)}
        />
      ) : (
        <>
          <label className="block mb-2">
            Note for whoever is next <span className="text-faint">(optional)</span>
            <textarea className="field" rows={2} maxLength={4000} value={note} onChange={(event) => setNote(event.target.value)} />
          </label>
          <div className="grid grid-cols-2 gap-2">
            {item.state === 'open' && (
              <Button
                className={clsx(LARGE, 'col-span-2')}
                disabled={isBusy}
                onClick={() => void take({ type: 'item.begin', itemId: item.id })}
              >
                Begin
              </Button>
            )}
            <Button
              look="primary"
              className={clsx(LARGE, 'col-span-2')}
              disabled={isBusy || isOff}
              onClick={() => (isFinal ? setMode('sure') : void done())}
            >
              {word}
              {isFinal && '…'}
            </Button>
            <Button className={LARGE} onClick={() => setMode('fail')}>
              Failed…
            </Button>
            <Button className={LARGE} onClick={() => setMode('skip')}>
              Skip…
            </Button>
          </div>
        </>
      )}
    </div>
  )
}
