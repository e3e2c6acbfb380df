import type { Command } from '@insel/core'
import { useState } from 'react'
import { refusedBy, textOfShown, useEstate, whereTo, type Refusal } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { useOnce } from '../../lib/use-once'

type Commands = readonly Command[] | undefined

/** What is proposed, and what follows when somebody takes it. */
export interface Proposed {
  /** The commands as they are when they are wanted; undefined while something is missing. */
  readonly commands: Commands | (() => Commands | Refusal | Promise<Commands | Refusal>)
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
  /** Whether it goes into the plan that is shown: there nothing is recorded at once. */
  readonly isForPlan: boolean
  /** Records it; where it is for the plan that is shown, adds it there. */
  record(): Promise<void>
  /** @param newName what a new plan is called, where it goes into one */
  plan(newName?: string): Promise<void>
  readonly refusal: Refusal | undefined
  /** Forgets a refusal: what it was said of has changed. */
  forget(): void
}

export function useProposal({ commands, says, recordBy, recorded, planned, planAt }: Proposed): Proposal {
  const { estate, revision, basis, submit } = useEstate()
  const planning = usePlanning(planAt)
  const once = useOnce()
  const [refusal, setRefusal] = useState<Refusal>()
  const wanted = async () => {
    const ready = await (typeof commands === 'function' ? commands() : commands)
    if (!ready || !('sentence' in ready)) return ready
    setRefusal(ready)
    return undefined
  }
  const plan = async (ready: readonly Command[], newName?: string) => {
    // A plan takes no step that cannot be done.
    const why = refusedBy(estate, ready, revision) ?? (await planning(ready, newName))
    setRefusal(why)
    if (!why) await planned?.()
  }
  return {
    refusal,
    isForPlan: basis.on === 'item' && (typeof commands !== 'object' || whereTo(basis, commands) === 'plan'),
    forget: () => setRefusal(undefined),
    record: () =>
      once(async () => {
        const ready = await wanted()
        if (!ready) return
        if (whereTo(basis, ready) === 'plan') return plan(ready)
        const why = await (recordBy ? recordBy(ready) : submit(ready, says))
        setRefusal(why)
        if (!why) await recorded?.(ready)
      }),
    plan: (newName) =>
      once(async () => {
        const ready = await wanted()
        if (ready) await plan(ready, newName)
      }),
  }
}

/** Adds commands to a plan, and shows it, here or elsewhere. @returns why they were not added, if so */
export function usePlanning(planAt: string | undefined): (commands: readonly Command[], newName?: string) => Promise<Refusal | undefined> {
  const { addItem, addToPlan, setPlanInto } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  return async (commands, newName) => {
    if (planAt === undefined) return addToPlan(commands, newName)
    const added = await addItem(commands, newName)
    if ('sentence' in added) return added
    if (added.on === 'item') setPlanInto(added.planId)
    await go(to(`${planAt}?basis=${textOfShown(added)}`))
    return undefined
  }
}
