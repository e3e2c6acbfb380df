import { counted, dayAfter, timeZoneOf, type AcceptedFinding, type Command, type Finding, formatInstant } from '@insel/core'
import { useState } from 'react'
import { mayRecord, useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { useToday } from '../../estate/today'
import { useRecord } from '../../estate/use-record'
import { Button } from '../../ui/button'
import { Chosen } from '../../ui/chosen'
import { Part, Trouble } from '../../ui/page'
import { Mark } from '../../ui/mark'

const USUAL_DAYS = 90

/** How many findings are chosen, the ways to choose all or none, and accepting them for a time, with the reason. */
export function AcceptBar({
  shown,
  chosen,
  choose,
}: {
  shown: readonly Finding[]
  chosen: readonly Finding[]
  choose: (findings: readonly Finding[]) => void
}) {
  const today = useToday()
  const { record, trouble } = useRecord()
  const [reason, setReason] = useState('')
  const [until, setUntil] = useState(dayAfter(today, USUAL_DAYS))
  const [isBusy, setBusy] = useState(false)
  const accept = async () => {
    setBusy(true)
    const commands = chosen.map(({ id }): Command => ({
      type: 'finding.accept',
      id: newId(),
      finding: id,
      reason: reason.trim(),
      until: until.trim(),
    }))
    const isDone = await record(commands, `${counted(commands.length, 'finding')} accepted until ${until}`)
    setBusy(false)
    if (!isDone) return
    setReason('')
    choose([])
  }
  return (
    <div className="text-dense mb-2 print:hidden">
      <Chosen shown={shown} chosen={chosen} choose={choose} />
      {chosen.length > 0 && (
        <form
          className="flex flex-wrap gap-2 items-center mt-1"
          onSubmit={(event) => {
            event.preventDefault()
            void accept()
          }}
        >
          <input
            className="field !w-80"
            aria-label="Why they may stay as they are"
            placeholder="why they may stay as they are"
            maxLength={400}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
          <label className="inline-flex items-center gap-2">
            until
            <input
              className="field font-mono !w-32"
              placeholder="2027-04-18"
              value={until}
              onChange={(event) => setUntil(event.target.value)}
            />
          </label>
          <Button type="submit" look="primary" disabled={isBusy || reason.trim() === ''}>
            Accept {counted(chosen.length, 'finding')}
          </Button>
        </form>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}

/** Findings that somebody accepted, with who, why and until when; each can be reopened. */
export function AcceptedFindings({ accepted }: { accepted: readonly AcceptedFinding[] }) {
  const { estate, recorded, basis } = useEstate()
  const { record, trouble } = useRecord()
  if (accepted.length === 0) return null
  const zone = timeZoneOf(recorded)
  return (
    <Part title={`Accepted, ${accepted.length}`}>
      {trouble && <Trouble>{trouble}</Trouble>}
      <p className="text-dense text-soft py-1">They return when their day is over, or when they get worse.</p>
      {accepted.map(({ finding, acceptance }) => (
        <article key={finding.id} className="py-2.5 border-t border-line flex gap-2.5 items-baseline">
          <Mark of={finding.severity} />
          <div className="min-w-0 flex-1">
            <p className="break-words">
              <b className="font-medium">{finding.title}.</b> {finding.sentence}
            </p>
            <p className="text-dense text-soft break-words">
              Until {acceptance.until}, by {estate.find('person', acceptance.personId)?.name ?? 'somebody removed since'},{' '}
              {formatInstant(acceptance.acceptedAt, zone)}: {acceptance.reason}
            </p>
            {mayRecord(basis) && (
              <Button
                look="quiet"
                className="!min-h-7 !px-0"
                onClick={() => void record([{ type: 'acceptance.remove', id: acceptance.id }], 'Finding reopened')}
              >
                Reopen<span className="sr-only">: {finding.sentence}</span>
              </Button>
            )}
          </div>
        </article>
      ))}
    </Part>
  )
}
