import { counted, type Item } from '@insel/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'

/** Carries out what is still to be done of a plan, a change for each item; it stops at the first that is refused. Asks before. */
export function CarryOutAll({ items }: { items: readonly Item[] }) {
  const { submit } = useEstate()
  const [asked, setAsked] = useState<readonly Item[]>()
  const [trouble, setTrouble] = useState<string>()
  const [isBusy, setBusy] = useState(false)
  if (!asked) return items.length > 1 ? <Button onClick={() => setAsked(items)}>Carry out all…</Button> : null
  const carryOut = async () => {
    setBusy(true)
    for (const [index, item] of asked.entries()) {
      const why = await submit([{ type: 'item.carryOut', itemId: item.id }])
      if (!why) continue
      setTrouble(`Stopped after ${index} of ${asked.length}: ${why.sentence}`)
      setBusy(false)
      return
    }
    setBusy(false)
    setAsked(undefined)
  }
  return (
    <div role="group" aria-label="Carry out all" className="border border-rule rounded-md p-3 bg-sheet max-w-[420px]">
      <p className="mb-2">
        Records {counted(asked.length, 'item')} as done, in their order, a change for each, and stops at the first that is refused. The
        machines themselves are not touched: do the work first, or while it goes on.
      </p>
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex gap-2">
        <Button look="primary" disabled={isBusy} onClick={() => void carryOut()}>
          Carry out {counted(asked.length, 'item')}
        </Button>
        <Button
          onClick={() => {
            setAsked(undefined)
            setTrouble(undefined)
          }}
        >
          Cancel
        </Button>
      </div>
    </div>
  )
}
