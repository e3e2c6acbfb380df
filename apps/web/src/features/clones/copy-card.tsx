import { copyLines, formatDuration, readMinutes, timeZoneOf, type Command, type CopyStep, formatInstant } from '@insel/core'
import { clsx } from 'clsx'
import { useId, useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Button } from '../../ui/button'
import { ReasonForm } from '../../ui/reason-form'
import { isOpen, type FollowedCopy } from './followed'

const LARGE = '!min-h-11 justify-center'
type Mode = 'failed' | 'skipped' | 'drop'
const asks: Readonly<Record<Mode, { readonly label: string; readonly press: string }>> = {
  failed: { label: 'What went wrong', press: 'Record as failed' },
  skipped: { label: 'Why it is skipped', press: 'Record as skipped' },
  drop: { label: 'Why it is dropped', press: 'Drop the copy' },
}

/** One copy in hand: its next step large, what was done, dropping it and beginning another in its place. */
export function CopyCard({
  one,
  steps,
  record,
  leave,
}: {
  one: FollowedCopy
  steps: readonly CopyStep[]
  record: (commands: readonly Command[], done?: string) => Promise<boolean>
  leave?: (() => void) | undefined
}) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { copy, name, next } = one
  const headingId = useId()
  const [mode, setMode] = useState<Mode>()
  const [minutes, setMinutes] = useState('')
  const [isBusy, setBusy] = useState(false)
  const guest = estate.find('guest', copy.guestId)
  const reading = readMinutes(minutes)
  const take = async (commands: readonly Command[], said?: string) => {
    setBusy(true)
    const isDone = await record(commands, said)
    setBusy(false)
    if (!isDone) return
    setMode(undefined)
    setMinutes('')
  }
  const settle = (step: CopyStep, state: 'done' | 'failed' | 'skipped' | 'open', note = '') =>
    take(
      [
        {
          type: 'copy.settle',
          copyId: copy.id,
          step: step.key,
          state,
          note,
          ...(reading.ok && reading.minutes !== null ? { minutes: reading.minutes } : {}),
        },
      ],
      `${name}: ${step.title.toLowerCase()} ${state}`,
    )
  const rest = next
    ? steps.slice(steps.indexOf(next)).filter(({ key }) => !['done', 'skipped'].includes(one.steps.get(key)?.state ?? 'open'))
    : []
  const isLast = next?.key === 'in-service'
  return (
    <section
      aria-labelledby={headingId}
      className={clsx('border rounded-md bg-sheet p-3 my-3', copy.state === 'failed' ? 'border-error' : 'border-rule')}
    >
      <div className="flex flex-wrap gap-x-4 items-baseline">
        <h2 id={headingId} className="flex-1 min-w-0 break-words">
          {guest ? (
            <Link className="name-link" to={to(`guests/${guest.id}`)}>
              {name}
            </Link>
          ) : (
            name
          )}
          <span className="text-soft font-normal">
            , {copy.state}
            {guest && ` on ${estate.find('host', guest.hostId)?.name ?? 'no host'}`}
          </span>
        </h2>
        {guest && (
          <Link className="link target text-dense" to={to(`guests/${guest.id}/first-boot`)}>
            First-boot files<span className="sr-only"> of {name}</span>
          </Link>
        )}
        {leave && (
          <Button look="quiet" onClick={leave}>
            All copies
          </Button>
        )}
      </div>
      {copy.reason && <p className="text-error text-dense break-words">{copy.reason}</p>}
      {isOpen(copy) && next && (
        <>
          <p className="mt-1">
            <b className="font-medium">{next.title}.</b> {copyLines[next.key]}
          </p>
          {mode ? (
            <ReasonForm
              label={asks[mode].label}
              press={asks[mode].press}
              look={mode === 'drop' ? 'danger' : 'primary'}
              isBusy={isBusy}
              take={(reason) => {
                if (mode === 'drop') void take([{ type: 'copy.drop', copyId: copy.id, reason }], `${name} dropped`)
                else void settle(next, mode, reason)
              }}
              leave={() => setMode(undefined)}
            />
          ) : (
            <div className="grid grid-cols-3 gap-2 mt-2 max-w-[560px]">
              {copy.state === 'planned' && (
                <Button
                  className={clsx(LARGE, 'col-span-3')}
                  disabled={isBusy}
                  onClick={() => void take([{ type: 'copy.begin', copyId: copy.id }], `${name} is being copied`)}
                >
                  Begin copying<span className="sr-only"> {name}</span>
                </Button>
              )}
              <Button
                look="primary"
                className={clsx(LARGE, 'col-span-3')}
                disabled={isBusy || !reading.ok}
                onClick={() => void settle(next, 'done')}
              >
                {next.title}: done<span className="sr-only"> for {name}</span>
              </Button>
              <Button className={LARGE} disabled={isBusy} onClick={() => setMode('failed')}>
                Failed…
              </Button>
              <Button className={LARGE} disabled={isBusy} onClick={() => setMode('skipped')}>
                Skip…
              </Button>
              <Button className={LARGE} look="danger" disabled={isBusy} onClick={() => setMode('drop')}>
                Drop…
              </Button>
              <label className="text-dense col-span-3 flex gap-2 items-center">
                Minutes it took <span className="text-faint">(optional)</span>
                <input
                  className="field !w-20 font-mono"
                  inputMode="decimal"
                  aria-invalid={!reading.ok}
                  value={minutes}
                  onChange={(event) => setMinutes(event.target.value)}
                />
                {!reading.ok && <span className="text-error">{reading.sentence}</span>}
              </label>
              {rest.length > 1 && !isLast && (
                <Button
                  look="quiet"
                  className="!justify-start col-span-3"
                  disabled={isBusy}
                  onClick={() =>
                    void take(
                      rest.map(({ key }) => ({ type: 'copy.settle' as const, copyId: copy.id, step: key, state: 'done' as const })),
                      `${name}: in service`,
                    )
                  }
                >
                  All {rest.length} left are done
                </Button>
              )}
            </div>
          )}
        </>
      )}
      {copy.state === 'dropped' && (
        <p className="mt-2">
          <Button
            disabled={isBusy}
            onClick={() => void take([{ type: 'copy.replace', copyId: copy.id }], `Another copy in place of ${name}`)}
          >
            Begin another in its place
          </Button>
        </p>
      )}
      <Settled one={one} steps={steps} reopen={(step) => void settle(step, 'open')} />
    </section>
  )
}

/** What was done with a copy so far, by whom and how long it took. */
function Settled({ one, steps, reopen }: { one: FollowedCopy; steps: readonly CopyStep[]; reopen: (step: CopyStep) => void }) {
  const { estate } = useEstate()
  const zone = timeZoneOf(estate)
  const done = steps.flatMap((step) => {
    const record = one.steps.get(step.key)
    return record && record.state !== 'open' ? [{ step, record }] : []
  })
  if (done.length === 0) return null
  return (
    <details className="mt-2 text-dense">
      <summary className="text-accent min-h-7 content-center">
        {done.length} of {steps.length} steps settled
      </summary>
      <ul>
        {done.map(({ step, record }) => (
          <li key={step.key} className="border-t border-line py-1 flex flex-wrap gap-x-3 items-baseline">
            <span className={clsx('font-medium', record.state === 'failed' && 'text-error')}>
              {step.title}: {record.state}
            </span>
            <span className="text-soft">
              {estate.find('person', record.personId)?.name}, {formatInstant(record.at, zone)}
              {record.minutes !== null && `, ${formatDuration(record.minutes * 60)}`}
              {record.attempts > 1 && `, attempt ${record.attempts}`}
            </span>
            {record.note && <span className="break-words">{record.note}</span>}
            {isOpen(one.copy) && (
              <Button look="quiet" className="!min-h-7" onClick={() => reopen(step)}>
                Reopen
                <span className="sr-only">
                  {' '}
                  {step.title.toLowerCase()} of {one.name}
                </span>
              </Button>
            )}
          </li>
        ))}
      </ul>
    </details>
  )
}
