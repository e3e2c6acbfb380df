import { COMMANDS_MAX } from '@insel/contract'
import { counted, type Command, type Guest } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { beforeValueOf, commandsOf, doings, fieldOf, isWithoutValue, labelOf, shared, tagActions, type What } from './bulk-commands'
import { FieldControl } from '../records/field-control'

/** Changes one thing of several guests: what it would do is shown first, and it is recorded as one change. */
export function BulkChange({ guests, done }: { guests: readonly Guest[]; done: () => void }) {
  const { estate } = useEstate()
  const [what, setWhat] = useState<What>('add tags')
  const [text, setText] = useState('')
  const [asked, setAsked] = useState<readonly Command[]>()
  const bulk = useMemo(() => commandsOf(estate, guests, what, text), [estate, guests, what, text])
  const field = fieldOf(what)
  const change = (next: () => void) => {
    next()
    setAsked(undefined)
  }
  const proposal = useProposal({
    commands: asked,
    says:
      what === 'remove'
        ? `${counted(asked?.length ?? 0, 'guest')} removed`
        : `${counted(guests.length, 'guest')} changed: ${labelOf(what)}`,
    recorded: done,
  })
  return (
    <div className="border-l-2 border-accent pl-3 py-1 my-2 max-w-[900px]">
      <form
        className="flex flex-wrap gap-2 items-center"
        onSubmit={(event) => {
          event.preventDefault()
          if ('commands' in bulk) setAsked(bulk.commands)
        }}
      >
        <label className="inline-flex gap-2 items-center">
          Change
          <select
            className="field !w-72"
            value={what}
            onChange={(event) =>
              change(() => {
                setWhat(event.target.value as What)
                setText('')
              })
            }
          >
            {[...tagActions, ...doings, ...shared].map((one) => (
              <option key={one} value={one}>
                {labelOf(one)}
              </option>
            ))}
          </select>
        </label>
        {!isWithoutValue(what) && (
          <label className="inline-flex gap-2 items-center">
            {beforeValueOf(what)}
            {field ? (
              <FieldControl
                className="!w-56"
                estate={estate}
                name={what}
                field={field}
                text={text}
                setText={(value) => change(() => setText(value))}
                none={field.optional ? 'none' : 'choose…'}
              />
            ) : (
              <input className="field !w-56" value={text} onChange={(event) => change(() => setText(event.target.value))} />
            )}
          </label>
        )}
        <Button type="submit" disabled={'sentence' in bulk || bulk.commands.length === 0}>
          Show what it does
        </Button>
        <span className="text-soft">
          {'sentence' in bulk
            ? text === '' && guests.length <= COMMANDS_MAX
              ? ''
              : bulk.sentence
            : what === 'addresses'
              ? `${counted(bulk.commands.length, 'address', 'addresses')} would be assigned.`
              : `${bulk.commands.length} of ${guests.length} would ${what === 'remove' ? 'be removed' : 'change'}.`}
        </span>
      </form>
      {'left' in bulk && bulk.left.length > 0 && (
        <details className="text-dense mt-1" open={bulk.commands.length === 0}>
          <summary className="cursor-pointer text-warning min-h-7">
            {counted(bulk.left.length, 'guest')} left as {bulk.left.length === 1 ? 'it is' : 'they are'}
          </summary>
          <ul className="max-h-40 overflow-auto">
            {bulk.left.map(({ guest, why }) => (
              <li key={guest.id}>
                <span className="font-mono">{guest.name}</span> {why}.
              </li>
            ))}
          </ul>
        </details>
      )}
      {what === 'remove' && (
        <p className="text-dense text-warning">Their disks, adapters, addresses and snapshots are removed with them.</p>
      )}
      {asked && (
        <div className="mt-2">
          <Effect commands={asked} withDifference={asked.length <= 40} />
          {asked.length > 40 && (
            <p className="text-faint">{counted(asked.length, 'guest')} change; too many to list here, the logbook has each.</p>
          )}
          <ProposalFooter
            proposal={proposal}
            label={
              what === 'remove' ? `Remove ${asked.length}` : what === 'addresses' ? `Assign ${asked.length}` : `Change ${asked.length}`
            }
          />
        </div>
      )}
    </div>
  )
}
