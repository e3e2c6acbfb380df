import { counted, timeZoneOf, formatDuration, formatNumber, readMinutes, type SheetStep, type Step, formatInstant } from '@insel/core'
import { useEffect, useState } from 'react'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Mark } from '../../ui/mark'
import type { SheetWork } from './sheet-work'
/** A step that nobody settled for longer was not worked on all the time: its minutes are left to who did it. */
const WORKED_MAX = 12 * 60
const MINUTES_PER_DAY = 24 * 60
export const minutesText = (minutes: number) =>
  minutes >= MINUTES_PER_DAY
    ? formatDuration(minutes * 60)
    : minutes >= 60
      ? `${Math.floor(minutes / 60)} h ${Math.round(minutes % 60)} min`
      : `${formatNumber(minutes, 0)} min`

const stateMarks = { open: 'remark', done: 'fits', skipped: 'remark', failed: 'no' } as const

interface StepViewProps {
  work: SheetWork
  step: SheetStep
  number: number
  isWorked: boolean
  since: string | undefined
  settle: (step: SheetStep, values: Pick<Step, 'state' | 'note' | 'minutes'>) => Promise<boolean>
  isBusy: boolean
  reopen: () => void
  remove: () => void
}

export function StepView({ work, step, number, isWorked, since, settle, isBusy, reopen, remove }: StepViewProps) {
  const { estate } = useEstate()
  const timeZone = timeZoneOf(estate)
  const { record: settled } = step
  const isOpen = isWorked && !settled
  // Kept here, so that a colleague who settles the step first does not take away what is being written.
  const [note, setNote] = useState('')
  return (
    <li
      className="grid grid-cols-[34px_minmax(0,1fr)] border-t border-line py-2.5 break-inside-avoid print:py-0.5"
      aria-label={`Step ${number}, ${step.title}`}
    >
      <span className="font-mono text-faint pt-px">{number}</span>
      <div>
        <p className="flex flex-wrap gap-x-3 items-baseline">
          <b>{step.title}</b>
          {settled ? (
            <span className="inline-flex items-center gap-1.5 text-dense">
              <Mark of={stateMarks[settled.state]} isLabelled={false} />
              {settled.state} by {estate.find('person', settled.personId)?.name ?? 'somebody'}, {formatInstant(settled.at, timeZone)}
              {settled.minutes !== null && `, ${minutesText(settled.minutes)}`}
              {settled.attempts > 1 && `, attempt ${settled.attempts}`}
            </span>
          ) : (
            <span className="text-faint text-dense" title={step.estimate.from}>
              about {minutesText(step.estimate.minutes)}
              <span className="print:hidden">, {step.estimate.from}</span>
            </span>
          )}
          {!settled && (
            <span className="hidden print:inline ml-auto text-small text-faint whitespace-nowrap">
              ☐ done ☐ skipped ☐ failed by ________ minutes ____ note ________________
            </span>
          )}
          {settled && (
            <Button look="quiet" className="!min-h-7 print:hidden" onClick={reopen}>
              Reopen<span className="sr-only"> step {step.title}</span>
            </Button>
          )}
          {isOpen && step.isAdded && step.reopened?.attempts === 0 && (
            <Button look="quiet" className="!min-h-7 print:hidden" onClick={remove}>
              Remove<span className="sr-only"> step {step.title}</span>
            </Button>
          )}
        </p>
        {settled?.note && <p className="text-dense whitespace-pre-wrap">{settled.note}</p>}
        {!settled && step.reopened && step.reopened.attempts > 0 && (
          <p className="text-dense whitespace-pre-wrap">
            Reopen after {counted(step.reopened.attempts, 'attempt')}
            {step.reopened.note && `: ${step.reopened.note}`}
          </p>
        )}
        <ul className="text-dense text-soft print:text-tiny print:leading-tight">
          {/* What was still to get is past once the materials are settled. */}
          {(settled && step.tool === 'materials' ? [] : step.lines).map((line) => (
            <li key={line} className="wrap-anywhere">
              {line}
            </li>
          ))}
        </ul>
        {step.caution && !settled && (
          <p className="text-dense border-l-2 border-warning pl-2 my-1">
            <b className="font-medium">Caution. </b>
            {step.caution}
          </p>
        )}
        {step.gap && !settled && (
          <p className="text-dense flex gap-2">
            <span className="pt-0.5">
              <Mark of="remark" />
            </span>
            {step.gap}
          </p>
        )}
        {isOpen && <Settling work={work} step={step} since={since} settle={settle} isBusy={isBusy} note={note} setNote={setNote} />}
        {!isOpen && note.trim() !== '' && (
          <p role="alert" className="text-dense border-l-2 border-warning pl-2 my-1 print:hidden">
            The step was completed or removed meanwhile; your note is not recorded: “{note.trim()}”{' '}
            <Button look="quiet" className="!min-h-7" onClick={() => setNote('')}>
              Discard<span className="sr-only"> the note on {step.title}</span>
            </Button>
          </p>
        )}
      </div>
    </li>
  )
}

function Settling({
  work,
  step,
  since,
  settle,
  isBusy,
  note,
  setNote,
}: Pick<StepViewProps, 'work' | 'step' | 'since' | 'settle' | 'isBusy'> & { note: string; setNote: (note: string) => void }) {
  const [mode, setMode] = useState<'skipped' | 'failed'>()
  const [typed, setTyped] = useState<string>()
  const [isAllowed, setAllowed] = useState(step.tool !== 'wipe')
  const passed = useMinutesSince(since)
  const minutes = typed ?? (passed && passed <= WORKED_MAX ? String(passed) : '')
  const reading = readMinutes(minutes)
  const taken = reading.ok ? reading.minutes : null
  const isWrong = !reading.ok
  const minutesField = (
    <label className="inline-flex items-center gap-1.5">
      <input
        className="field font-mono !w-16 !min-h-7"
        aria-label={`Minutes for ${step.title}`}
        aria-invalid={isWrong}
        value={minutes}
        onChange={(event) => setTyped(event.target.value)}
      />
      minutes
      {isWrong && (
        <span role="alert" className="text-error">
          {reading.sentence}
        </span>
      )}
    </label>
  )
  if (mode)
    return (
      <form
        className="text-dense flex flex-wrap gap-2 items-center mt-1 print:hidden"
        onSubmit={(event) => {
          event.preventDefault()
          void settle(step, { state: mode, note: note.trim(), minutes: mode === 'failed' ? taken : null }).then((isDone) => {
            if (!isDone) return
            setNote('')
            setMode(undefined)
          })
        }}
      >
        <input
          className="field !w-80 !min-h-7"
          autoFocus
          aria-label={mode === 'skipped' ? `Why ${step.title} is skipped` : `What went wrong with ${step.title}`}
          placeholder={mode === 'skipped' ? 'why it is skipped' : 'what went wrong'}
          value={note}
          onChange={(event) => setNote(event.target.value)}
        />
        {mode === 'failed' && minutesField}
        <Button type="submit" className="!min-h-7" disabled={note.trim() === '' || isWrong || isBusy}>
          Record as {mode}
        </Button>
        <Button
          look="quiet"
          className="!min-h-7"
          onClick={() => {
            setNote('')
            setMode(undefined)
          }}
        >
          Back
        </Button>
      </form>
    )
  return (
    <div className="print:hidden">
      {step.tool && work.tool(step.tool, setAllowed)}
      <div className="text-dense flex flex-wrap gap-2 items-center mt-1">
        <Button
          look="primary"
          className="!min-h-7"
          disabled={!isAllowed || isWrong || isBusy}
          onClick={() =>
            void settle(step, { state: 'done', note: step.unrecorded ? `Not recorded then: ${step.unrecorded}.` : '', minutes: taken })
          }
        >
          Done<span className="sr-only">: {step.title}</span>
        </Button>
        {step.unrecorded && <span className="text-soft">noted with it: {step.unrecorded} is not recorded</span>}
        {minutesField}
        <Button className="!min-h-7" onClick={() => setMode('skipped')}>
          Skip…<span className="sr-only"> {step.title}</span>
        </Button>
        <Button className="!min-h-7" onClick={() => setMode('failed')}>
          Failed…<span className="sr-only"> {step.title}</span>
        </Button>
        {!isAllowed && <span className="text-soft">Type what is asked for above to complete this step.</span>}
      </div>
    </div>
  )
}

/** Whole minutes since an instant, kept current while one looks. */
function useMinutesSince(instant: string | undefined): number | undefined {
  const [at, tick] = useState(Date.now)
  useEffect(() => {
    const timer = setInterval(() => tick(Date.now()), 20_000)
    return () => clearInterval(timer)
  }, [])
  return instant === undefined ? undefined : Math.max(0, Math.round((at - Date.parse(instant)) / 60_000))
}
