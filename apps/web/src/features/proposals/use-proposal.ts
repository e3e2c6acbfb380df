import type { Command } from '@insel/core'
import { useState } from 'react'
import { refusedBy, textOfShown, useEstate, type Refusal } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'

type Commands = readonly Command[] | undefined

/** What is proposed, and what follows when somebody takes it. */
export interface Proposed {
  /** The commands as they are when they are wanted; undefined while something is missing. */
  readonly commands: Commands | (() => Commands | Promise<Commands>)
  /** What is said when they are recorded, instead of what the first of them says. */
  readonly says?: string | undefined
  /** Records them by another way than submitting them. */
  readonly recordBy?: (commands: readonly Command[]) => Promise<Refusal | undefined>
  /** What is done once they are recorded. */
  readonly recorded?: (commands: readonly Command[]) => unknown
  /** What is done once they are in the plan. */
  readonly planned?: () => unknown
  /** Where one goes to see the plan; without it, it is shown on this page. */
  readonly planAt?: string
}

/** Commands that a page proposes: to be recorded now, or put into the plan; with the refusal, if there was one. */
export interface Proposal {
  record(): Promise<void>
  plan(): Promise<void>
  readonly refusal: Refusal | undefined
  /** Forgets a refusal: what it was said of has changed. */
  forget(): void
}

export function useProposal({ commands, says, recordBy, recorded, planned, planAt }: Proposed): Proposal {
  const { estate, revision, submit } = useEstate()
  const drafting = useDrafting(planAt)
  const [refusal, setRefusal] = useState<Refusal>()
  const wanted = async () => (typeof commands === 'function' ? commands() : commands)
  return {
    refusal,
    forget: () => setRefusal(undefined),
    async record() {
      const ready = await wanted()
      if (!ready) return
      const why = await (recordBy ? recordBy(ready) : submit(ready, says))
      setRefusal(why)
      if (!why) await recorded?.(ready)
    },
    async plan() {
      const ready = await wanted()
      if (!ready) return
      // A plan takes no step that cannot be done.
      const why = refusedBy(estate, ready, revision)
      setRefusal(why)
      if (why) return
      const notAdded = await drafting(ready)
      setRefusal(notAdded)
      if (!notAdded) await planned?.()
    },
  }
}

/** Adds commands to the plan, or to the draft, and shows it, here or elsewhere. @returns why they were not added, if so */
export function useDrafting(planAt: string | undefined): (commands: readonly Command[]) => Promise<Refusal | undefined> {
  const { draft, addToPlan } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  return async (commands) => {
    if (planAt === undefined) return addToPlan(commands)
    const added = await draft(commands)
    if ('sentence' in added) return added
    await go(to(`${planAt}?basis=${textOfShown(added)}`))
    return undefined
  }
}
