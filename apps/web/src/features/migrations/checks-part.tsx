import { dayOf, counted, sheetOf, type CheckedMove, type Command, type Migration } from '@insel/core'
import { useState } from 'react'
import { mayRecord, useEstate } from '../../estate'
import { useMoveLook } from '../../estate/checks'
import { newId } from '../../lib/context'
import { now } from '../../lib/time'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Part, Trouble } from '../../ui/page'
import { ReasonForm } from '../../ui/reason-form'
import { Mark } from '../../ui/mark'

const marks = { error: 'no', warning: 'remark', fine: 'fits' } as const

/** How many checks are open, in words. */
export function sayChecks(checks: readonly CheckedMove[]): string {
  const open = checks.filter(({ settled }) => !settled)
  const errors = open.filter(({ verdict }) => verdict === 'error').length
  const warnings = open.filter(({ verdict }) => verdict === 'warning').length
  if (errors + warnings === 0) return `${counted(checks.length, 'check')}, all settled`
  return [...(errors > 0 ? [counted(errors, 'error')] : []), ...(warnings > 0 ? [counted(warnings, 'warning')] : [])].join(', ')
}

/** What is checked of a move before it copies: errors are settled or accepted with a reason. */
export function ChecksPart({ move }: { move: Migration }) {
  const { estate, basis, person } = useEstate()
  const { data } = useMoveLook(move.id)
  const { record, trouble } = useRecord()
  const [isWhole, setWhole] = useState(false)
  const checks = data?.checks ?? []
  const sheet = sheetOf(estate, 'migrationId', move.id, 'move')
  const isOpen = mayRecord(basis) && move.state === 'begun' && person !== undefined
  const settle = (check: CheckedMove, state: 'done' | 'skipped' | 'open', note: string) => {
    if (!sheet || !person) return Promise.resolve(false)
    const known = estate.referring('step', 'sheetId', sheet.id).find(({ step }) => step === check.step)
    const values = { state, note, personId: person.id, at: now(), minutes: null }
    const command: Command = known
      ? { type: 'step.update', id: known.id, changes: { ...values, attempts: known.attempts + Number(state !== 'open') } }
      : { type: 'step.add', record: { id: newId(), sheetId: sheet.id, step: check.step, ...values } }
    return record([command], `${check.title}: ${state === 'skipped' ? 'accepted' : state}`)
  }
  const shown = isWhole ? checks : checks.filter(({ verdict }) => verdict !== 'fine')
  return (
    <Part
      title="Checks"
      aside={
        <span className="text-dense text-soft flex gap-3 items-baseline">
          {data && sayChecks(checks)}
          <Button look="quiet" className="!min-h-7" onClick={() => setWhole(!isWhole)}>
            {isWhole ? 'Show problems only' : `Show all ${checks.length}`}
          </Button>
        </span>
      }
    >
      {data?.sentence && <Trouble>{data.sentence}</Trouble>}
      {trouble && <Trouble>{trouble}</Trouble>}
      {!data && <p className="text-soft py-1">Checking…</p>}
      {data && shown.length === 0 && <p className="text-soft py-1">Nothing is in the way.</p>}
      <ul aria-label="Checks">
        {shown.map((check) => (
          <OneCheck key={check.id} check={check} isOpen={isOpen} settle={settle} />
        ))}
      </ul>
    </Part>
  )
}

function OneCheck({
  check,
  isOpen,
  settle,
}: {
  check: CheckedMove
  isOpen: boolean
  settle: (check: CheckedMove, state: 'done' | 'skipped' | 'open', note: string) => Promise<boolean>
}) {
  const { estate } = useEstate()
  const [isAsking, setAsking] = useState<'done' | 'skipped'>()
  const { verdict, title, sentence, evidence, remedy, settled, isByHand } = check
  const take = (state: 'done' | 'skipped', note: string) => void settle(check, state, note).then((isDone) => isDone && setAsking(undefined))
  return (
    <li
      className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-2.5 border-t border-line first:border-0 py-2"
      aria-label={`${title}: ${verdict}`}
    >
      <span className="pt-0.5">
        <Mark of={settled ? 'fits' : marks[verdict]} />
      </span>
      <div>
        <p>
          <b className="font-medium">{title}.</b> {sentence}
        </p>
        {evidence && (
          <p className="text-dense text-soft wrap-anywhere">{evidence.map(([label, value]) => `${label}: ${value}`).join(' · ')}</p>
        )}
        {settled && (
          <p className="text-dense text-soft">
            {settled.how === 'accepted' ? 'Accepted' : 'Done'}
            {settled.note && `: ${settled.note}`}
          </p>
        )}
        {!settled && verdict !== 'fine' && remedy && <p className="text-dense text-soft">{remedy}</p>}
        {isOpen && !isAsking && verdict !== 'fine' && (
          <p className="flex flex-wrap gap-2 mt-1 print:hidden">
            {settled ? (
              <Button look="quiet" className="!min-h-7" onClick={() => void settle(check, 'open', '')}>
                Reopen<span className="sr-only"> {title}</span>
              </Button>
            ) : (
              <>
                {isByHand && (
                  <Button className="!min-h-7" onClick={() => (check.id === 'backup' ? setAsking('done') : take('done', ''))}>
                    {check.id === 'backup' ? 'Done on…' : 'Done'}
                    <span className="sr-only">: {title}</span>
                  </Button>
                )}
                <Button className="!min-h-7" onClick={() => setAsking('skipped')}>
                  Accept…<span className="sr-only"> {title}</span>
                </Button>
              </>
            )}
          </p>
        )}
        {isAsking && (
          <ReasonForm
            label={
              isAsking === 'done' ? `When the last backup ran, such as ${dayOf(estate, now())}` : `Why ${title.toLowerCase()} is accepted`
            }
            press={isAsking === 'done' ? 'Record as done' : 'Accept'}
            isBusy={false}
            take={(note) => take(isAsking, note)}
            leave={() => setAsking(undefined)}
          />
        )}
      </div>
    </li>
  )
}
