import type { Command, Person, Sheet } from '@insel/core'
import { newId } from '../../lib/context'
import { AddLine } from '../../ui/add-line'
import { now } from '../../lib/time'

/** A step of this sheet that Insel did not derive. */
export function AddStep({
  sheet,
  person,
  record,
}: {
  sheet: Sheet
  person: Person
  record: (commands: readonly Command[], done?: string) => Promise<boolean>
}) {
  const add = (title: string) => {
    const id = newId()
    const step = { id, sheetId: sheet.id, step: `own-${id}`, title, state: 'open' as const, attempts: 0 }
    return record([{ type: 'step.add', record: { ...step, personId: person.id, at: now() } }], `Step ${title} added to the sheet`)
  }
  return (
    <AddLine
      label="Another step"
      placeholder="another step"
      action="Add step"
      maxLength={200}
      className="border-t border-line py-2.5 pl-[34px] text-dense flex-wrap items-center print:hidden"
      fieldWidth="!w-80"
      add={add}
    />
  )
}
