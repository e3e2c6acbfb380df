import { counted, timeZoneOf, type Command, type Sheet, type Step, type WorkSheet, formatInstant } from '@insel/core'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Part } from '../../ui/page'
import type { SheetWork } from './sheet-work'
import { now } from '../../lib/time'
import { minutesText } from './step-view'

export function Progress({
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
  const titlesOf = (is: (step: WorkSheet['steps'][number]) => boolean) => built.steps.filter(is).map(({ title }) => title)
  const failed = titlesOf((step) => step.record?.state === 'failed')
  const again = titlesOf((step) => (step.reopened?.attempts ?? 0) > 0)
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
              onClick={() => update({ resumedAt: now() }, `${work.words.work} of ${work.name} resumed`)}
            >
              Resume
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
      <p className="text-dense py-1" role="status">
        {built.settled} of {counted(built.steps.length, 'step')} completed
        {sheet && `: ${count('done')} done, ${count('skipped')} skipped, ${count('failed')} failed`}. {minutesText(built.spentMinutes)}{' '}
        spent
        {built.leftMinutes > 0 && `, about ${minutesText(built.leftMinutes)} to go`}.
        {sheet && ` Begun ${formatInstant(sheet.startedAt, timeZone)}`}
        {sheet?.finishedAt && `, finished ${formatInstant(sheet.finishedAt, timeZone)}`}
        {sheet && '.'}
        {sheet && !isFinished && !sheet.resumedAt && <b> Paused.</b>}
      </p>
      {failed.length > 0 && <p className="text-dense text-error pb-1">Failed: {failed.join(', ')}. Reopen what is to be tried again.</p>}
      {again.length > 0 && <p className="text-dense text-warning pb-1">To be done again: {again.join(', ')}.</p>}
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
