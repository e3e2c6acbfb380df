import type { Command, Estate, Item, Person } from '@insel/core'
import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { useEstate, withAhead } from '../../estate'
import { newId } from '../../lib/context'
import { readStored, store } from '../../lib/storage'
import { now } from '../../lib/time'

/** One thing that was ticked, and when. */
export interface Tick {
  readonly command: Command & { readonly itemId: string }
  readonly at: string
  /** With which it is sent, however often: it is done once. */
  readonly submissionId: string
}

/** A tick that could not be sent any more, and why. */
export interface Refused extends Tick {
  readonly sentence: string
}

/** How often it is tried again while there is no connection, milliseconds. */
const AGAIN_MS = 3000

const AFTER: Readonly<Record<string, Item['state']>> = {
  'item.begin': 'under way',
  'item.carryOut': 'done',
  'item.fail': 'failed',
  'item.skip': 'skipped',
}

/** Whether the record has what was ticked, by the same person: the answer to it was lost, not the tick. */
function isRecorded(estate: Estate, { command }: Tick, person: Person | undefined): boolean {
  const item = estate.find('item', command.itemId)
  const isMine = person !== undefined && (item?.doneById ?? item?.personId) === person.id
  return item !== undefined && item.state === AFTER[command.type] && isMine
}

/**
 * Ticks of a plan that outlast a lost connection: they are kept in this browser, shown as if they were recorded, and sent in their order
 * once it is back. One that is refused then is kept beside what the record says.
 */
export function useHeldTicks(planId: string) {
  const { estateId, recorded, revision, person, submit } = useEstate()
  const name = `ticks.${estateId}.${planId}`
  const [held, setHeld] = useState<readonly Tick[]>(() => readStored<readonly Tick[]>(name) ?? [])
  const [refused, setRefused] = useState<readonly Refused[]>([])
  const queue = useRef(held)
  const isSending = useRef(false)
  const keep = useCallback(
    (ticks: readonly Tick[]) => {
      queue.current = ticks
      store(name, ticks.length > 0 ? ticks : undefined)
      setHeld(ticks)
    },
    [name],
  )

  /** Sends what is kept, in its order, until there is no connection. */
  const send = useCallback(async () => {
    if (isSending.current) return
    isSending.current = true
    try {
      for (let next = queue.current[0]; next; next = queue.current[0]) {
        const why = await submit([next.command], undefined, false, next.submissionId)
        if (why?.isUnreachable) return
        const tick = next
        if (why) setRefused((before) => [...before, { ...tick, sentence: why.sentence }])
        keep(queue.current.slice(1))
      }
    } finally {
      isSending.current = false
    }
  }, [submit, keep])

  const isHolding = held.length > 0
  useEffect(() => {
    if (!isHolding) return
    const again = () => void send()
    const timer = window.setInterval(again, AGAIN_MS)
    window.addEventListener('online', again)
    return () => {
      window.clearInterval(timer)
      window.removeEventListener('online', again)
    }
  }, [isHolding, send])

  /** Ticks something: at once where there is a connection and nothing waits. @returns why not, if it was refused */
  const tick = useCallback(
    async (command: Tick['command']): Promise<string | undefined> => {
      const one: Tick = { command, at: now(), submissionId: newId() }
      if (queue.current.length === 0) {
        const why = await submit([command], undefined, false, one.submissionId)
        if (!why?.isUnreachable) return why?.sentence
      }
      keep([...queue.current, one])
      return undefined
    },
    [submit, keep],
  )
  const shown = useMemo(
    () =>
      withAhead(
        recorded,
        held.map(({ command }) => [command]),
        revision,
      ),
    [recorded, held, revision],
  )
  return {
    held,
    refused: refused.filter((one) => !isRecorded(recorded, one, person)),
    forget: (one: Refused) => setRefused((before) => before.filter((other) => other !== one && other.at !== one.at)),
    tick,
    /** The record as it will be once what is kept is sent. */
    shown,
  }
}
