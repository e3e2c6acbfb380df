import type { Item } from '@insel/core'
import { useState, type ReactNode } from 'react'
import type { Refusal } from '../../estate'
import { Button } from '../../ui/button'
import { Trouble } from '../../ui/page'

/**
 * Does one thing with several items of a plan, one after the other, a change for each; it stops at the first that is refused. Asks before.
 *
 * @param name of the button that asks, and of the question
 * @param least so many items have to be there before it is offered
 * @param label of the button that does it
 * @param sayStop where it stopped: at which item, after how many, and why
 */
export function EachItem({
  name,
  items,
  least = 1,
  label,
  look,
  children,
  act,
  sayStop,
  done,
}: {
  name: string
  items: readonly Item[]
  least?: number
  label: string
  look: 'primary' | 'danger'
  children: ReactNode
  act: (item: Item) => Promise<Refusal | undefined>
  sayStop: (item: Item, done: number, sentence: string) => string
  /** What follows when all of it is done. */
  done?: (() => void) | undefined
}) {
  const [isAsking, setAsking] = useState(false)
  const [trouble, setTrouble] = useState<string>()
  const [isBusy, setBusy] = useState(false)
  if (!isAsking) return items.length >= least ? <Button onClick={() => setAsking(true)}>{name}…</Button> : null
  const close = () => {
    setAsking(false)
    setTrouble(undefined)
  }
  const actOnAll = async (): Promise<string | undefined> => {
    for (const [index, item] of items.entries()) {
      const why = await act(item)
      if (why) return sayStop(item, index, why.sentence)
    }
    return undefined
  }
  const run = async () => {
    setBusy(true)
    const stopped = await actOnAll()
    setBusy(false)
    if (stopped) setTrouble(stopped)
    else {
      close()
      done?.()
    }
  }
  return (
    <div role="group" aria-label={name} className="border border-rule rounded-md p-3 bg-sheet max-w-[420px]">
      <p className="mb-2">{children}</p>
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex gap-2">
        <Button look={look} disabled={isBusy} onClick={() => void run()}>
          {label}
        </Button>
        <Button onClick={close}>Cancel</Button>
      </div>
    </div>
  )
}
