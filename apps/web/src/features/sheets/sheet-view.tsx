import {
  counted,
  timeZoneOf,
  formatNumber,
  readMinutes,
  type Command,
  type Person,
  type Sheet,
  type SheetStep,
  type SheetSubject,
  type Step,
  type StepTool as Tool,
  type WorkSheet,
} from '@insel/core'
import { useEffect, useState, type ReactNode } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { formatInstant } from '../../lib/time'
import { useRecord } from '../../lib/use-record'
import { AddLine } from '../../ui/add-line'
import { Button } from '../../ui/button'
import { Mark } from '../findings/mark'
import { Part, Trouble } from '../../ui/page'

const now = () => new Date().toISOString()
const minutesText = (minutes: number) =>
  minutes >= 60 ? `${Math.floor(minutes / 60)} h ${Math.round(minutes % 60)} min` : `${formatNumber(minutes, 0)} min`

/** What a sheet is of, and what its work is called. */
export interface SheetWork {
  readonly of: SheetSubject
  readonly id: string
  readonly name: string
  /** Title of the printed page. */
  readonly title: string
  readonly words: { readonly done: string; readonly doing: string; readonly start: string; readonly work: string; readonly again: string }
  /** Recorded with the start of the work. */
  readonly onStart?: readonly Command[]
  /** Recorded with the last step, in place of the bare end of the sheet. */
  readonly onFinish?: (sheet: Sheet, states: ReadonlyMap<string, Step['state']>, at: string) => readonly Command[]
  /** Offered once the sheet is finished. */
  readonly next?: { readonly label: string; readonly commands: readonly Command[] } | undefined
  readonly tool: (tool: Tool, allow: (isAllowed: boolean) => void) => ReactNode
}

/** A sheet: derived from the plan, ticked off over days, timed, printed on a page or two. */
export function SheetView({ work, built, sheet }: { work: SheetWork; built: WorkSheet; sheet: Sheet | undefined }) {
  const { estate, person } = useEstate()
  const { record, trouble } = useRecord()
  const timeZone = timeZoneOf(estate)
  const [isBusy, setBusy] = useState(false)
  const isFinished = sheet?.finishedAt !== null && sheet !== undefined
  const start = () =>
    record(
      [{ type: 'sheet.add', record: { id: newId(), [work.of]: work.id, startedAt: now(), resumedAt: now() } }, ...(work.onStart ?? [])],
      `${work.title} of ${work.name} started`,
    )

  /** What ends the sheet, with what became of its steps; of one of them as it is about to be recorded. */
  const endOf = (of: Sheet, at: string, about?: readonly [key: string, state: Step['state']]): readonly Command[] => {
    const settled = built.steps.flatMap(({ key, record: one }) => (one ? [[key, one.state] as const] : []))
    return (
      work.onFinish?.(of, new Map([...settled, ...(about ? [about] : [])]), at) ?? [
        { type: 'sheet.update', id: of.id, changes: { finishedAt: at, resumedAt: null } },
      ]
    )
  }
  const settle = async (step: SheetStep, values: Pick<Step, 'state' | 'note' | 'minutes'>) => {
    if (!sheet || !person) return false
    const isLast = built.steps.every((other) => other.record || other.key === step.key)
    const at = now()
    const { reopened } = step
    const changes = { ...values, personId: person.id, at, attempts: (reopened?.attempts ?? 0) + 1 }
    const commands: Command[] = [
      reopened
        ? { type: 'step.update', id: reopened.id, changes }
        : { type: 'step.add', record: { sheetId: sheet.id, step: step.key, ...changes } },
      ...(isLast ? endOf(sheet, at, [step.key, values.state]) : []),
    ]
    // One at a time: whether a step is the last is seen only when the one before it is recorded.
    setBusy(true)
    try {
      return await record(commands, `${step.title}: ${values.state}`)
    } finally {
      setBusy(false)
    }
  }
  const reopen = (step: SheetStep) => {
    if (!sheet || !step.record) return
    void record(
      [
        // What became of it so far is kept; how often it was tried is told.
        { type: 'step.update', id: step.record.id, changes: { state: 'open', minutes: null } },
        ...(sheet.finishedAt ? [{ type: 'sheet.update' as const, id: sheet.id, changes: { finishedAt: null, resumedAt: now() } }] : []),
      ],
      `${step.title}: open again`,
    )
  }
  return (
    <div className="max-w-[900px]">
      <p className="hidden print:block text-[13px] mb-1">
        {work.title}, {work.name}, {estate.all('estate')[0]?.name}, printed {formatInstant(now(), timeZone)} ({timeZone})
      </p>
      <Progress
        work={work}
        sheet={sheet}
        built={built}
        isFinished={isFinished}
        start={start}
        finish={() => sheet && void record(endOf(sheet, now()), `${work.title} of ${work.name} finished`)}
        record={record}
      />
      {!person && sheet && <p className="text-warning text-[13px]">Say who you are, in the bar above, before a step is settled.</p>}
      {trouble && <Trouble>{trouble}</Trouble>}
      <ol className="mt-2" aria-label={`${work.title} of ${work.name}`}>
        {built.steps.map((step, index) => (
          <StepView
            key={step.key}
            work={work}
            step={step}
            number={index + 1}
            isWorked={sheet !== undefined && !isFinished}
            since={sheet ? lastMark(sheet, built) : undefined}
            settle={settle}
            isBusy={isBusy}
            reopen={() => reopen(step)}
            remove={() => step.reopened && void record([{ type: 'step.remove', id: step.reopened.id }], `${step.title}: removed`)}
          />
        ))}
      </ol>
      {sheet && !isFinished && person && <AddStep sheet={sheet} person={person} record={record} />}
    </div>
  )
}

/** A step of this sheet that the plan does not know of. */
function AddStep({
  sheet,
  person,
  record,
}: {
  sheet: Sheet
  person: Person
  record: (commands: readonly Command[], done?: string) => Promise<boolean>
}) {
  const add = (title: string) => {
    const id = newId()
    const step = { id, sheetId: sheet.id, step: `own-${id}`, title, state: 'open' as const, attempts: 0 }
    return record([{ type: 'step.add', record: { ...step, personId: person.id, at: now() } }], `Step ${title} added to the sheet`)
  }
  return (
    <AddLine
      label="What else there is to do"
      placeholder="what else there is to do"
      action="Add a step"
      maxLength={200}
      className="border-t border-line py-2.5 pl-[34px] text-[13px] flex-wrap items-center print:hidden"
      fieldWidth="!w-80"
      add={add}
    />
  )
}

/** When the clock of the step in hand began: the last step settled, or when work was taken up; undefined while paused. */
function lastMark(sheet: Sheet, built: WorkSheet): string | undefined {
  if (!sheet.resumedAt) return undefined
  return [sheet.resumedAt, ...built.steps.flatMap(({ record }) => record?.at ?? [])].sort().at(-1)
}

function Progress({
  work,
  sheet,
  built,
  isFinished,
  start,
  finish,
  record,
}: {
  work: SheetWork
  sheet: Sheet | undefined
  built: WorkSheet
  isFinished: boolean
  start: () => Promise<boolean>
  finish: () => void
  record: (commands: readonly Command[], done?: string) => Promise<boolean>
}) {
  const { estate } = useEstate()
  const timeZone = timeZoneOf(estate)
  const count = (state: Step['state']) => built.steps.filter((step) => step.record?.state === state).length
  const update = (changes: Partial<Pick<Sheet, 'resumedAt'>>, done: string) =>
    sheet && void record([{ type: 'sheet.update', id: sheet.id, changes }], done)
  return (
    <Part
      title={isFinished ? work.words.done : sheet ? work.words.doing : 'Not begun'}
      aside={
        <span className="flex gap-2 print:hidden">
          {!sheet && (
            <Button look="primary" className="!min-h-7" onClick={() => void start()}>
              {work.words.start}
            </Button>
          )}
          {/* Two people may settle the last two steps at the same moment. */}
          {sheet && !isFinished && built.settled === built.steps.length && (
            <Button look="primary" className="!min-h-7" onClick={finish}>
              Finish
            </Button>
          )}
          {sheet && !isFinished && sheet.resumedAt && (
            <Button className="!min-h-7" onClick={() => update({ resumedAt: null }, `${work.words.work} of ${work.name} paused`)}>
              Pause
            </Button>
          )}
          {sheet && !isFinished && !sheet.resumedAt && (
            <Button
              look="primary"
              className="!min-h-7"
              onClick={() => update({ resumedAt: now() }, `${work.words.work} of ${work.name} taken up again`)}
            >
              Take it up again
            </Button>
          )}
          {isFinished && work.next && (
            <Button look="primary" className="!min-h-7" onClick={() => void record(work.next?.commands ?? [])}>
              {work.next.label}
            </Button>
          )}
          {isFinished && (
            <Button className="!min-h-7" onClick={() => void start()}>
              {work.words.again}
            </Button>
          )}
        </span>
      }
    >
      <p className="text-[13px] py-1" role="status">
        {built.settled} of {built.steps.length} steps settled
        {sheet && `: ${count('done')} done, ${count('skipped')} skipped, ${count('failed')} failed`}. {minutesText(built.spentMinutes)}{' '}
        spent
        {built.leftMinutes > 0 && `, about ${minutesText(built.leftMinutes)} to go`}.
        {sheet && ` Begun ${formatInstant(sheet.startedAt, timeZone)}`}
        {sheet?.finishedAt && `, finished ${formatInstant(sheet.finishedAt, timeZone)}`}
        {sheet && '.'}
        {sheet && !isFinished && !sheet.resumedAt && <b> Paused.</b>}
      </p>
      <div className="h-1.5 bg-track border border-rule flex" aria-hidden>
        {built.steps.map((step) => (
          <div
            key={step.key}
            className={`h-full flex-1 border-r border-paper ${!step.record ? '' : step.record.state === 'done' ? 'bg-accent' : step.record.state === 'failed' ? 'bg-error' : 'bg-sand'}`}
          />
        ))}
      </div>
    </Part>
  )
}

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

function StepView({ work, step, number, isWorked, since, settle, isBusy, reopen, remove }: StepViewProps) {
  const { estate } = useEstate()
  const timeZone = timeZoneOf(estate)
  const { record: settled } = step
  const isOpen = isWorked && !settled
  // Kept here, so that a colleague who settles the step first does not take away what is being written.
  const [note, setNote] = useState('')
  return (
    <li
      className="grid grid-cols-[34px_minmax(0,1fr)] border-t border-line py-2.5 break-inside-avoid print:py-1"
      aria-label={`Step ${number}, ${step.title}`}
    >
      <span className="font-mono text-faint pt-px">{number}</span>
      <div>
        <p className="flex flex-wrap gap-x-3 items-baseline">
          <b>{step.title}</b>
          {settled ? (
            <span className="inline-flex items-center gap-1.5 text-[13px]">
              <Mark of={stateMarks[settled.state]} isLabelled={false} />
              {settled.state} by {estate.find('person', settled.personId)?.name ?? 'somebody'}, {formatInstant(settled.at, timeZone)}
              {settled.minutes !== null && `, ${minutesText(settled.minutes)}`}
              {settled.attempts > 1 && `, attempt ${settled.attempts}`}
            </span>
          ) : (
            <span className="text-faint text-[13px]" title={step.estimate.from}>
              about {minutesText(step.estimate.minutes)}, {step.estimate.from}
            </span>
          )}
          {settled && (
            <Button look="quiet" className="!min-h-6 print:hidden" onClick={reopen}>
              Open again<span className="sr-only"> step {step.title}</span>
            </Button>
          )}
          {isOpen && step.isAdded && step.reopened?.attempts === 0 && (
            <Button look="quiet" className="!min-h-6 print:hidden" onClick={remove}>
              Remove<span className="sr-only"> step {step.title}</span>
            </Button>
          )}
        </p>
        {settled?.note && <p className="text-[13px] whitespace-pre-wrap">{settled.note}</p>}
        {!settled && step.reopened && step.reopened.attempts > 0 && (
          <p className="text-[13px] whitespace-pre-wrap">
            Open again after {counted(step.reopened.attempts, 'attempt')}
            {step.reopened.note && `: ${step.reopened.note}`}
          </p>
        )}
        <ul className="text-[13px] text-soft print:text-[11px] print:leading-tight">
          {/* What was still to get is past once the materials are settled. */}
          {(settled && step.tool === 'materials' ? [] : step.lines).map((line) => (
            <li key={line} className="wrap-anywhere">
              {line}
            </li>
          ))}
        </ul>
        {step.caution && !settled && (
          <p className="text-[13px] border-l-2 border-warning pl-2 my-1">
            <b className="font-medium">Caution. </b>
            {step.caution}
          </p>
        )}
        {step.gap && !settled && (
          <p className="text-[13px] flex gap-2">
            <span className="pt-0.5">
              <Mark of="remark" />
            </span>
            {step.gap}
          </p>
        )}
        {isOpen && <Settling work={work} step={step} since={since} settle={settle} isBusy={isBusy} note={note} setNote={setNote} />}
        {!isOpen && note.trim() !== '' && (
          <p role="alert" className="text-[13px] border-l-2 border-warning pl-2 my-1 print:hidden">
            The step was settled or put away meanwhile; what you wrote is not recorded: “{note.trim()}”{' '}
            <Button look="quiet" className="!min-h-6" onClick={() => setNote('')}>
              Discard<span className="sr-only"> the note on {step.title}</span>
            </Button>
          </p>
        )}
        {!settled && (
          <p className="hidden print:block text-[12px] text-faint mt-1">
            ☐ done ☐ skipped ☐ failed by ____________ minutes ______ note ______________________
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
  const minutes = typed ?? (passed ? String(passed) : '')
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
        className="text-[13px] flex flex-wrap gap-2 items-center mt-1 print:hidden"
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
      <div className="text-[13px] flex flex-wrap gap-2 items-center mt-1">
        <Button
          look="primary"
          className="!min-h-7"
          disabled={!isAllowed || isWrong || isBusy}
          onClick={() => void settle(step, { state: 'done', note: '', minutes: taken })}
        >
          Done<span className="sr-only">: {step.title}</span>
        </Button>
        {minutesField}
        <Button className="!min-h-7" onClick={() => setMode('skipped')}>
          Skip…<span className="sr-only"> {step.title}</span>
        </Button>
        <Button className="!min-h-7" onClick={() => setMode('failed')}>
          Failed…<span className="sr-only"> {step.title}</span>
        </Button>
        {!isAllowed && <span className="text-soft">Type the serial of each target disk to settle this.</span>}
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
