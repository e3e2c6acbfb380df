import { formatDuration, isAhead, minutesOf, readMinutes, timeZoneOf, type Command, type Item } from '@insel/core'
import { useState, type ReactNode } from 'react'
import { say, useEstate } from '../../estate'
import { instantAt, wallTime } from '../../lib/wall-time'
import { Button } from '../../ui/button'
import { byName, Choice } from '../../ui/choice'
import { Ledger } from '../../ui/ledger'
import { Trouble } from '../../ui/page'

type Changes = Partial<Pick<Item, 'title' | 'personId' | 'minutes' | 'afterIds' | 'decideBy' | 'otherwise' | 'isFinal' | 'note'>>

/**
 * The items of a plan as a table whose cells are changed in place, all saved at once: who, how long, after which others, by when it is
 * decided.
 *
 * @param record records commands, and says whether that was done
 */
export function PlanTable({ items, record }: { items: readonly Item[]; record: (commands: readonly Command[]) => Promise<boolean> }) {
  const { recorded } = useEstate()
  const [edits, setEdits] = useState<Readonly<Record<string, Changes>>>({})
  const [problems, setProblems] = useState<Readonly<Record<string, string>>>({})
  const zone = timeZoneOf(recorded)
  const people = byName(recorded.all('person'))
  const count = Object.keys(edits).length
  const edit = (item: Item, changes: Changes) => setEdits((before) => ({ ...before, [item.id]: { ...before[item.id], ...changes } }))
  const mark = (key: string, sentence: string | undefined) =>
    setProblems(({ [key]: _, ...others }) => (sentence === undefined ? others : { ...others, [key]: sentence }))
  const save = async () => {
    const commands = Object.entries(edits).map(([id, changes]) => ({ type: 'item.update' as const, id, changes }))
    if (await record(commands)) setEdits({})
  }
  const all = Object.values(problems)
  return (
    <>
      <Ledger headings={['#', 'title', 'for', 'minutes', 'after', 'decide by', 'otherwise', 'cannot be undone', 'note']}>
        {items.map((item, index) => {
          const now = { ...item, ...edits[item.id] }
          const cell = (what: string) => `${what} of “${item.title}”`
          if (!isAhead(item))
            return (
              <tr key={item.id} className="text-soft">
                <td className="font-mono">{index + 1}</td>
                <td>{item.title}</td>
                <td colSpan={7}>{item.state}</td>
              </tr>
            )
          return (
            <tr key={item.id}>
              <td className="font-mono text-faint">{index + 1}</td>
              <td>
                <Cell label={cell('Title')} value={now.title} className="!w-64" maxLength={200} take={(title) => edit(item, { title })} />
              </td>
              <td>
                <Choice
                  options={people}
                  none="unassigned"
                  value={now.personId ?? ''}
                  choose={(id: string) => edit(item, { personId: id === '' ? null : id })}
                  aria-label={cell('For')}
                  className="!w-32"
                />
              </td>
              <td>
                <Cell
                  label={cell('Minutes')}
                  value={now.minutes === null ? '' : String(now.minutes)}
                  placeholder={formatDuration(minutesOf(recorded, { ...item, minutes: null }).value * 60)}
                  className="!w-20 font-mono"
                  take={(text) => {
                    const reading = readMinutes(text)
                    mark(`${item.id} minutes`, reading.ok ? undefined : `Minutes of item ${index + 1}: ${reading.sentence}`)
                    if (reading.ok) edit(item, { minutes: reading.minutes })
                  }}
                />
              </td>
              <td>
                <Cell
                  label={cell('After')}
                  value={now.afterIds.flatMap((id) => (numberOf(items, id) === 0 ? [] : [numberOf(items, id)])).join(', ')}
                  placeholder="1, 2"
                  className="!w-16 font-mono"
                  take={(text) => {
                    const afterIds = idsOf(items, text)
                    mark(
                      `${item.id} after`,
                      afterIds ? undefined : `After of item ${index + 1}: numbers of items, with commas between, such as “1, 2”.`,
                    )
                    if (afterIds) edit(item, { afterIds })
                  }}
                />
              </td>
              <td>
                <input
                  type="datetime-local"
                  className="field !w-56"
                  aria-label={cell('Decide by')}
                  value={now.decideBy ? wallTime(now.decideBy, zone) : ''}
                  onChange={(event) => edit(item, { decideBy: instantAt(event.target.value, zone) ?? null })}
                />
              </td>
              <td>
                <Cell
                  label={cell('Otherwise')}
                  value={now.otherwise ?? ''}
                  placeholder="roll back"
                  className="!w-40"
                  maxLength={200}
                  take={(text) => edit(item, { otherwise: text.trim() === '' ? null : text.trim() })}
                />
              </td>
              <td>
                <input
                  type="checkbox"
                  className="size-5 accent-[var(--accent)]"
                  aria-label={cell('Cannot be undone')}
                  checked={now.isFinal}
                  onChange={(event) => edit(item, { isFinal: event.target.checked })}
                />
              </td>
              <td>
                <Cell label={cell('Note')} value={now.note} className="!w-56" maxLength={4000} take={(note) => edit(item, { note })} />
              </td>
            </tr>
          )
        })}
      </Ledger>
      {all.map((sentence) => (
        <Trouble key={sentence}>{sentence}</Trouble>
      ))}
      <p className="flex gap-2 items-center mt-2">
        <Button look="primary" disabled={count === 0 || all.length > 0} onClick={() => void save()}>
          Save {count === 1 ? '1 item' : `${count} items`}
        </Button>
        <Button
          disabled={count === 0 && all.length === 0}
          onClick={() => {
            setEdits({})
            setProblems({})
            say({
              sentence: 'What was typed here is discarded.',
              isTrouble: false,
              undo: () => {
                setEdits(edits)
                setProblems(problems)
              },
            })
          }}
        >
          Discard changes
        </Button>
        <span className="text-dense text-soft">Times are those of {zone}.</span>
      </p>
    </>
  )
}

/** A cell that is typed into; what was typed is taken when one leaves it. */
function Cell({
  label,
  value,
  take,
  className = '',
  ...more
}: {
  label: string
  value: string
  take: (text: string) => void
  className?: string
  placeholder?: string
  maxLength?: number
}): ReactNode {
  const [typed, setTyped] = useState<string>()
  return (
    <input
      className={`field ${className}`}
      aria-label={label}
      value={typed ?? value}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => {
        if (typed !== undefined && typed !== value) take(typed)
        setTyped(undefined)
      }}
      {...more}
    />
  )
}

/** The number of an item in its plan; 0 for one that is not in it. */
const numberOf = (items: readonly Item[], id: string): number => items.findIndex((item) => item.id === id) + 1

/** The items that numbers name; undefined where one names none. @example idsOf(items, '1, 3') */
function idsOf(items: readonly Item[], text: string): readonly string[] | undefined {
  const ids = text
    .split(/[\s,]+/)
    .filter((word) => word !== '')
    .map((word) => items[Number(word) - 1]?.id)
  return ids.every((id) => id !== undefined) ? ids : undefined
}
