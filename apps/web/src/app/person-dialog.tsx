import { Dialog } from 'radix-ui'
import { useState, type SyntheticEvent } from 'react'
import { useEstate } from '../estate'
import { newId } from '../lib/context'
import { Button } from '../ui/button'
import { Trouble } from '../ui/page'
import { compareNames } from '@insel/core'

/** Asks once under which name changes are recorded: one of the estate's people, or a new one. */
export function PersonDialog({ isOpen, setOpen }: { isOpen: boolean; setOpen: (isOpen: boolean) => void }) {
  const { recorded, person, setPerson, submit } = useEstate()
  const people = [...recorded.all('person')].filter((one) => one.kind === 'person').sort((a, b) => compareNames(a.name, b.name))
  const [name, setName] = useState('')
  const [trouble, setTrouble] = useState<string>()
  const choose = (id: string) => {
    setPerson(id)
    setOpen(false)
  }
  const add = async (event: SyntheticEvent) => {
    event.preventDefault()
    const known = people.find((one) => one.name.toLowerCase() === name.trim().toLowerCase())
    if (known) return choose(known.id)
    const id = newId()
    const problem = await submit([{ type: 'person.add', record: { id, name } }])
    setTrouble(problem?.sentence)
    if (!problem) choose(id)
  }
  return (
    <Dialog.Root open={isOpen} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/30 dark:bg-black/50" />
        <Dialog.Content className="fixed z-50 left-1/2 top-24 -translate-x-1/2 w-[min(440px,92vw)] bg-sheet border border-rule rounded-md shadow-lg p-5">
          <Dialog.Title className="font-bold text-lead">Recorded as</Dialog.Title>
          <Dialog.Description className="text-soft mt-1 mb-4">The logbook shows your name beside what you record.</Dialog.Description>
          {people.length > 0 && (
            <div className="flex flex-wrap gap-2 mb-4" role="group" aria-label="People of this estate">
              {people.map((one) => (
                <Button
                  key={one.id}
                  onClick={() => choose(one.id)}
                  aria-pressed={one.id === person?.id}
                  look={one.id === person?.id ? 'primary' : 'plain'}
                >
                  {one.name}
                </Button>
              ))}
            </div>
          )}
          <form onSubmit={(event) => void add(event)} className="flex gap-2 items-end">
            <label className="flex-1">
              {people.length > 0 ? 'Or a new name' : 'Your name'}
              <input className="field mt-1" value={name} onChange={(event) => setName(event.target.value)} required maxLength={120} />
            </label>
            <Button type="submit" look="primary">
              Record as
            </Button>
          </form>
          {trouble && <Trouble>{trouble}</Trouble>}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
