import { routineOf, type Command, type Person, type Sheet } from '@insel/core'
import { useState } from 'react'
import { newId } from '../../lib/context'
import { AddLine } from '../../ui/add-line'
import { now } from '../../lib/time'
import type { SheetWork } from './sheet-work'
import { TickLine } from '../../ui/tick-line'

/** A step of this sheet that Insel did not derive; and, if wanted, of every new one of its kind. */
export function AddStep({
  work,
  sheet,
  person,
  record,
}: {
  work: SheetWork
  sheet: Sheet
  person: Person
  record: (commands: readonly Command[], done?: string) => Promise<boolean>
}) {
  const [isKept, setKept] = useState(false)
  const of = routineOf[work.of]
  const add = async (title: string) => {
    const id = newId()
    const step = { id, sheetId: sheet.id, step: `own-${id}`, title, state: 'open' as const, attempts: 0 }
    const isAdded = await record(
      [
        { type: 'step.add', record: { ...step, personId: person.id, at: now() } },
        ...(isKept && of ? [{ type: 'routine.add' as const, record: { id: newId(), of, work: sheet.work, title } }] : []),
      ],
      `Step ${title} added to the sheet${isKept ? ' and to every new one' : ''}`,
    )
    if (isAdded) setKept(false)
    return isAdded
  }
  return (
    <div className="border-t border-line py-2.5 pl-[34px] text-dense flex flex-wrap gap-x-4 gap-y-1 items-center print:hidden">
      <AddLine
        label="Another step"
        placeholder="another step"
        action="Add step"
        maxLength={200}
        className="flex-wrap min-w-0 max-w-full"
        fieldWidth="!w-80 max-w-full"
        add={add}
      />
      {of && (
        <TickLine isTicked={isKept} onTick={setKept}>
          and on every new sheet of this kind
        </TickLine>
      )}
    </div>
  )
}
