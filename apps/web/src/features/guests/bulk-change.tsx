import { COMMANDS_MAX } from '@insel/contract'
import { counted, type Command, type Guest } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { commandsOf, fields, labelOf, shared, tagActions, type What } from './bulk-commands'
import { FieldControl } from '../records/field-control'

/** Changes one thing of several guests: what it would do is shown first, and it is recorded as one change. */
export function BulkChange({ guests, done }: { guests: readonly Guest[]; done: () => void }) {
  const { estate } = useEstate()
  const [what, setWhat] = useState<What>('add tags')
  const [text, setText] = useState('')
  const [asked, setAsked] = useState<readonly Command[]>()
  const commands = useMemo(() => commandsOf(guests, what, text), [guests, what, text])
  const field = fields[what]
  const change = (next: () => void) => {
    next()
    setAsked(undefined)
  }
  const proposal = useProposal({
    commands: asked,
    says: `${counted(asked?.length ?? 0, 'guest')} changed: ${labelOf(what)}`,
    recorded: done,
  })
  return (
    <div className="border-l-2 border-accent pl-3 py-1 my-2 max-w-[900px]">
      <form
        className="flex flex-wrap gap-2 items-center"
        onSubmit={(event) => {
          event.preventDefault()
          if (Array.isArray(commands)) setAsked(commands as readonly Command[])
        }}
      >
        <label className="inline-flex gap-2 items-center">
          Change
          <select
            className="field !w-44"
            value={what}
            onChange={(event) =>
              change(() => {
                setWhat(event.target.value as What)
                setText('')
              })
            }
          >
            {[...tagActions, ...shared].map((one) => (
              <option key={one} value={one}>
                {labelOf(one)}
              </option>
            ))}
          </select>
        </label>
        <label className="inline-flex gap-2 items-center">
          to
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
        <Button type="submit" disabled={'sentence' in commands || commands.length === 0}>
          Show what it does
        </Button>
        <span className="text-soft">
          {'sentence' in commands
            ? text === '' && guests.length <= COMMANDS_MAX
              ? ''
              : commands.sentence
            : `${commands.length} of ${guests.length} would change.`}
        </span>
      </form>
      {asked && (
        <div className="mt-2">
          <Effect commands={asked} withDifference={asked.length <= 40} />
          {asked.length > 40 && (
            <p className="text-faint">{counted(asked.length, 'guest')} change; too many to list here, the logbook has each.</p>
          )}
          <ProposalFooter proposal={proposal} label={`Change ${asked.length}`} />
        </div>
      )}
    </div>
  )
}
