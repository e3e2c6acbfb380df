import { COMMANDS_MAX } from '@insel/contract'
import { kinds, recordTitle, type Command, type Field, type Guest } from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../lib/estate'
import { useRecord } from '../../lib/use-record'
import { Button } from '../../ui/button'
import { Effect } from '../../ui/effect'
import { Trouble } from '../../ui/page'
import { inputValue } from '../records/field-text'

/** Fields that several guests may share a value of. */
const shared = [
  'group',
  'purpose',
  'systemId',
  'backupStoreId',
  'latency',
  'processorMode',
  'firmware',
  'machineType',
  'vcpu',
  'memoryMiB',
  'bootFirst',
  'mediumId',
  'isGeneralised',
] as const
const tagActions = ['add tags', 'take tags away'] as const
type What = (typeof shared)[number] | (typeof tagActions)[number]
const fields = kinds.guest.fields as Readonly<Record<string, Field>>

/** What a change of several guests comes to; a guest that has the value already is left out. */
function commandsOf(guests: readonly Guest[], what: What, text: string): readonly Command[] | { readonly sentence: string } {
  if (guests.length > COMMANDS_MAX)
    return { sentence: `At most ${COMMANDS_MAX} are changed at once; these are ${guests.length}. Narrow the filter.` }
  const update = (guest: Guest, changes: Partial<Omit<Guest, 'id'>>): Command => ({ type: 'guest.update', id: guest.id, changes })
  if (what === 'add tags' || what === 'take tags away') {
    const field = fields['tags']
    const reading = field ? inputValue(field, text) : { sentence: '' }
    if ('sentence' in reading) return reading
    const words = reading.value as readonly string[]
    if (words.length === 0) return { sentence: 'Say which tags.' }
    return guests.flatMap((guest) => {
      const tags = what === 'add tags' ? [...new Set([...guest.tags, ...words])].sort() : guest.tags.filter((tag) => !words.includes(tag))
      return tags.join() === guest.tags.join() ? [] : [update(guest, { tags })]
    })
  }
  const field = fields[what]
  if (!field) return { sentence: '' }
  const reading = inputValue(field, text)
  if ('sentence' in reading) return reading
  return guests.flatMap((guest) => (guest[what] === reading.value ? [] : [update(guest, { [what]: reading.value })]))
}

/** Changes one thing of several guests: what it would do is shown first, and it is recorded as one change. */
export function BulkChange({ guests, done }: { guests: readonly Guest[]; done: () => void }) {
  const { estate, addToPlan } = useEstate()
  const { record, trouble } = useRecord()
  const [what, setWhat] = useState<What>('add tags')
  const [text, setText] = useState('')
  const [asked, setAsked] = useState<readonly Command[]>()
  const commands = useMemo(() => commandsOf(guests, what, text), [guests, what, text])
  const field = fields[what]
  const change = (next: () => void) => {
    next()
    setAsked(undefined)
  }
  const choices =
    field?.type === 'choice'
      ? field.options.map((option) => [option, option] as const)
      : field?.type === 'bool'
        ? ([
            ['true', 'yes'],
            ['false', 'no'],
          ] as const)
        : field?.type === 'ref' && (field.to === 'system' || field.to === 'store' || field.to === 'image')
          ? estate
              .all(field.to)
              .filter((one) => what !== 'backupStoreId' || ('kind' in one && one.kind === 'backup'))
              .map((one) => [one.id, recordTitle(estate, field.to as 'system', one as never)] as const)
          : undefined
  const apply = async () => {
    if (asked && (await record(asked, `${asked.length} guests changed: ${labelOf(what)}`))) done()
  }
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
          {choices ? (
            <select className="field !w-56" value={text} onChange={(event) => change(() => setText(event.target.value))}>
              <option value="">{field?.optional ? 'none' : 'choose…'}</option>
              {choices.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </select>
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
          {asked.length > 40 && <p className="text-faint">{asked.length} guests change; too many to list here, the logbook has each.</p>}
          <span className="flex gap-2">
            <Button look="primary" onClick={() => void apply()}>
              Change {asked.length}
            </Button>
            <Button onClick={() => addToPlan(asked)}>Add to the plan</Button>
          </span>
        </div>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}

const labelOf = (what: What): string => fields[what]?.label ?? what
