import { routinesFor, stepOfRoutine, type Command, type Sheet, type SheetStep, type Step, type WorkSheet } from '@insel/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'
import { AddStep } from './add-step'
import { Progress } from './sheet-progress'
import type { SheetWork } from './sheet-work'
import { now } from '../../lib/time'
import { StepView } from './step-view'

/** A sheet: derived from the record, ticked off over days, timed, printed on a page or two. */
export function SheetView({ work, built, sheet }: { work: SheetWork; built: WorkSheet; sheet: Sheet | undefined }) {
  const { estate, person } = useEstate()
  const { record, trouble } = useRecord()
  const [isBusy, setBusy] = useState(false)
  const isFinished = sheet?.finishedAt !== null && sheet !== undefined
  const routines = routinesFor(estate, work.of, work.kind ?? 'set-up')
  const start = () => {
    const [id, at] = [newId(), now()]
    return record(
      [
        { type: 'sheet.add', record: { id, [work.of]: work.id, ...(work.kind ? { work: work.kind } : {}), startedAt: at, resumedAt: at } },
        ...(person
          ? routines.map((routine): Command => ({
              type: 'step.add',
              record: stepOfRoutine(routine, { sheetId: id, personId: person.id, at }),
            }))
          : []),
        ...(work.onStart ?? []),
      ],
      `${work.title} of ${work.name} started`,
    )
  }

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
        // What became of it so far is kept; how often it was tried is shown.
        { type: 'step.update', id: step.record.id, changes: { state: 'open', minutes: null } },
        ...(sheet.finishedAt ? [{ type: 'sheet.update' as const, id: sheet.id, changes: { finishedAt: null, resumedAt: now() } }] : []),
      ],
      `${step.title}: reopened`,
    )
  }
  return (
    <div className="max-w-[900px]">
      <h2 className="hidden print:block mb-1">
        {work.title}, {work.name}
      </h2>
      <Progress
        work={work}
        sheet={sheet}
        built={built}
        isFinished={isFinished}
        start={start}
        finish={() => sheet && void record(endOf(sheet, now()), `${work.title} of ${work.name} finished`)}
        record={record}
      />
      {!person && sheet && <p className="text-warning text-dense">Say who you are, in the bar above, before you complete a step.</p>}
      {trouble && <Trouble>{trouble}</Trouble>}
      <ol className="mt-2 at-a-rack" aria-label={`${work.title} of ${work.name}`}>
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
      {sheet && !isFinished && person && <AddStep work={work} sheet={sheet} person={person} record={record} />}
      {routines.length > 0 && (
        <p className="text-dense text-soft pl-[34px] print:hidden">
          On every new sheet of this kind:{' '}
          {routines.map(({ id, title }) => (
            <span key={id} className="inline-flex items-baseline mr-3">
              {title}
              <Button
                look="quiet"
                className="!min-h-7"
                onClick={() => void record([{ type: 'routine.remove', id }], `${title} is off new sheets`)}
              >
                Remove<span className="sr-only"> {title} from new sheets</span>
              </Button>
            </span>
          ))}
        </p>
      )}
    </div>
  )
}

/** When the clock of the step in hand began: the last step settled, or when work was taken up; undefined while paused. */
function lastMark(sheet: Sheet, built: WorkSheet): string | undefined {
  if (!sheet.resumedAt) return undefined
  return [sheet.resumedAt, ...built.steps.flatMap(({ record }) => record?.at ?? [])].sort().at(-1)
}
