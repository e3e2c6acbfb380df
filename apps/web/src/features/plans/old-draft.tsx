import { counted, itemKindOf, sayCommand, withIds, type Command } from '@insel/core'
import { useState } from 'react'
import { newPlanName, say, useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'
import { NewPlanName } from '../proposals/proposal-footer'

/** What this browser kept for itself before there were plans that everybody sees: offered once, as a plan. */
export function OldDraft({ commands }: { commands: readonly Command[] }) {
  const { recorded, submit, person, keepDraft } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [name, setName] = useState(() => newPlanName(recorded))
  const [trouble, setTrouble] = useState<string>()
  const keep = async () => {
    const planId = newId()
    const items = withIds(commands, newId).map((command) => ({
      type: 'item.write',
      id: newId(),
      planId,
      kind: itemKindOf([command]),
      title: sayCommand(recorded, command).slice(0, 200),
      commands: [command],
    }))
    const why = await submit([
      { type: 'plan.write', id: planId, name: name.trim(), ownerId: person?.id ?? null, items } as unknown as Command,
    ])
    setTrouble(why?.sentence)
    if (why) return
    keepDraft()
    await go(to(`plans/${planId}`))
  }
  return (
    <aside
      aria-label="Old draft"
      className="print:hidden fixed bottom-4 right-4 z-20 w-[min(400px,calc(100vw-32px))] max-h-[70vh] overflow-auto bg-sheet border border-accent rounded-md shadow-lg px-4 py-3"
    >
      <h2>A draft of {counted(commands.length, 'step')} in this browser</h2>
      <p className="text-dense text-soft my-1">
        Drafts are plans now, which everybody sees. Keep it as a plan, or discard it; it is not offered again then.
      </p>
      <ol className="border-t border-line text-dense">
        {commands.map((command, index) => (
          <li key={index} className="border-b border-line py-1 break-words">
            {sayCommand(recorded, command)}
          </li>
        ))}
      </ol>
      {trouble && <Trouble>{trouble}</Trouble>}
      <form
        className="flex flex-wrap gap-2 mt-3"
        onSubmit={(event) => {
          event.preventDefault()
          void keep()
        }}
      >
        <NewPlanName name={name} setName={setName} />
        <Button type="submit" look="primary" disabled={name.trim() === ''}>
          Keep as plan
        </Button>
        <Button
          onClick={() => {
            keepDraft()
            say({ sentence: 'The draft of this browser is discarded.', isTrouble: false, undo: () => keepDraft(commands) })
          }}
        >
          Discard
        </Button>
      </form>
    </aside>
  )
}
