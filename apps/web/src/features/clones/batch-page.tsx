import {
  copyLines,
  copySteps,
  counted,
  formatDuration,
  templateOf,
  timeZoneOf,
  type Batch,
  type Command,
  type Copy,
  type CopyStep,
  formatInstant,
} from '@insel/core'
import { clsx } from 'clsx'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Differs } from '../../ui/differs'
import { Page, Part, Trouble } from '../../ui/page'
import { Scrolling } from '../../ui/scrolling'
import { RemovedPage } from '../records/removed'
import { CopyCard } from './copy-card'
import { followed, isOpen, type FollowedCopy } from './followed'

/** A batch of copies as it is worked on: each copy against each step, ticked one by one, by row or by column. */
export function BatchPage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const batch = estate.find('batch', id)
  if (!batch) return <RemovedPage kind="batch" id={id} />
  return <Following key={batch.id} batch={batch} />
}

function Following({ batch }: { batch: Batch }) {
  const { estate, person } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const [chosen, setChosen] = useState<string>()
  const steps = copySteps(batch.school)
  const all = followed(estate, batch, steps)
  const open = all.filter(({ copy }) => isOpen(copy))
  const template = estate.find('guest', batch.templateId)
  const zone = timeZoneOf(estate)
  const minutes = all.reduce((sum, one) => sum + [...one.steps.values()].reduce((total, step) => total + (step.minutes ?? 0), 0), 0)
  const count = (state: Copy['state']) => all.filter(({ copy }) => copy.state === state).length
  const current = all.find(({ copy }) => copy.id === chosen)
  return (
    <Page
      title={batch.name}
      of={batch.id}
      isWide
      about={
        <>
          {counted(all.length - count('dropped'), 'copy', 'copies')} of{' '}
          {template ? (
            <Link className="link" to={to(`guests/${template.id}/template`)}>
              {template.name}
            </Link>
          ) : (
            (batch.templateName ?? 'a template that is removed')
          )}
          {batch.version && `, version ${batch.version}`}
          {template && templateOf(estate, template.id)?.withdrawnOn && <span className="text-warning"> (withdrawn since)</span>},{' '}
          {batch.school}. Begun {formatInstant(batch.startedAt, zone)}
          {batch.endedAt && `, done ${formatInstant(batch.endedAt, zone)}`}. {count('in service')} in service, {count('under way')} under
          way, {count('failed')} failed, {count('planned')} planned, {count('dropped')} dropped
          {minutes > 0 && `; ${formatDuration(minutes * 60)} of work so far`}.
        </>
      }
      actions={<ButtonLink to={to(`records/batch/${batch.id}`)}>Change</ButtonLink>}
    >
      {!person && <p className="text-warning">Say who you are, in the bar above, before you complete a step.</p>}
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="hidden md:block">
        {open.length > 0 && (
          <p className="text-dense text-soft mb-1">
            Press a cell to work on its copy; under a heading, tick its step for every copy that is ready for it.
          </p>
        )}
        <Grid batch={batch} all={all} steps={steps} chosen={chosen} choose={setChosen} record={record} />
      </div>
      <div className={clsx(current ? '' : 'md:hidden')}>
        {(current ? [current] : all).map((one) => (
          <CopyCard key={one.copy.id} one={one} steps={steps} record={record} leave={current ? () => setChosen(undefined) : undefined} />
        ))}
      </div>
      {open.length === 0 && all.length > 0 && (
        <Part title="Done">
          <p>Every copy is in service or dropped.</p>
        </Part>
      )}
    </Page>
  )
}

const marks = { done: '✓', skipped: '–', failed: '✗', open: '·' } as const

/** Copies against steps. A cell is pressed to look at its copy; a heading settles its step for every copy that is ready for it. */
function Grid({
  batch,
  all,
  steps,
  chosen,
  choose,
  record,
}: {
  batch: Batch
  all: readonly FollowedCopy[]
  steps: readonly CopyStep[]
  chosen: string | undefined
  choose: (copyId: string | undefined) => void
  record: (commands: readonly Command[], done?: string) => Promise<boolean>
}) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const ready = (step: CopyStep) => all.filter(({ copy, next }) => isOpen(copy) && next?.key === step.key)
  return (
    <Scrolling>
      <table className="text-dense border-collapse w-full" aria-label={`Copies of ${batch.name}`}>
        <thead>
          <tr className="text-left align-bottom">
            <th scope="col" className="pr-3 font-normal text-faint">
              copy
            </th>
            <th scope="col" className="pr-3 font-normal text-faint">
              host
            </th>
            {steps.map((step) => {
              const those = ready(step)
              return (
                <th key={step.key} scope="col" className="font-normal px-1 align-bottom" title={copyLines[step.key]}>
                  <span className="block max-w-20 leading-tight text-soft">{step.title}</span>
                  {those.length > 0 && (
                    <Button
                      look="quiet"
                      className="!min-h-7 !px-0"
                      onClick={() =>
                        void record(
                          those.map(({ copy }) => ({
                            type: 'copy.settle' as const,
                            copyId: copy.id,
                            step: step.key,
                            state: 'done' as const,
                          })),
                          `${step.title}: ${counted(those.length, 'copy', 'copies')} done`,
                        )
                      }
                    >
                      Tick {those.length}
                      <span className="sr-only">: {step.title}</span>
                    </Button>
                  )}
                </th>
              )
            })}
            <th scope="col" className="font-normal text-faint">
              state
            </th>
          </tr>
        </thead>
        <tbody>
          {all.map((one) => {
            const guest = estate.find('guest', one.copy.guestId)
            return (
              <tr key={one.copy.id} className={clsx('border-t border-line', one.copy.id === chosen && 'bg-accent-wash')}>
                <th scope="row" className="text-left pr-3 font-medium whitespace-nowrap">
                  {guest ? (
                    <Link className="name-link" to={to(`guests/${guest.id}`)}>
                      {one.name}
                    </Link>
                  ) : (
                    <span className="text-faint line-through">{one.name}</span>
                  )}
                  <Differs id={one.copy.id} className="ml-1.5" />
                </th>
                <td className="pr-3 text-soft">{estate.find('host', guest?.hostId)?.name ?? ''}</td>
                {steps.map((step) => {
                  const own = one.steps.get(step.key)
                  const state = own?.state ?? 'open'
                  return (
                    <td key={step.key} className="px-1">
                      <button
                        type="button"
                        className={clsx(
                          'font-mono min-w-8 min-h-7 rounded-sm border text-center',
                          one.next?.key === step.key && isOpen(one.copy) ? 'border-accent' : 'border-transparent',
                          state === 'failed' && 'text-error font-bold',
                          state === 'done' && 'text-accent',
                        )}
                        aria-label={`${one.name}, ${step.title.toLowerCase()}: ${state}`}
                        title={own?.note === '' ? undefined : own?.note}
                        onClick={() => choose(one.copy.id)}
                      >
                        {marks[state]}
                      </button>
                    </td>
                  )
                })}
                <td className={clsx('whitespace-nowrap', one.copy.state === 'failed' ? 'text-error' : 'text-soft')}>{one.copy.state}</td>
              </tr>
            )
          })}
        </tbody>
      </table>
    </Scrolling>
  )
}
