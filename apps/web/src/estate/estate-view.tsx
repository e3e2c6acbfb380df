import { aheadOf, commandsOf, estateAfter, isAhead, type Command, type Estate, type Person, type Plan } from '@insel/core'
import { createContext, use, useCallback, useEffect, useMemo, type ReactNode } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { asOf, putShown, RECORDED, shownIn, whyReadOnly, type Basis, type Shown } from './basis'
import { say } from './messages'
import type { Refusal } from './refusal'
import { usePast } from './past'
import { usePerson } from './person'
import { addItem, openPlan, planned, useInto, usePlan } from './plan'
import { useRecorded, type Recorded } from './recorded'
import { submittingNothing, useSubmitting, type Submitting } from './submit'

/** What pages need of the estate. */
export interface EstateView extends Submitting {
  readonly estateId: string
  readonly revision: number
  /** The estate as shown: recorded, with the plan's commands applied, or as it was. */
  readonly estate: Estate
  readonly recorded: Estate
  readonly basis: Basis
  showBasis(shown: Shown): void
  /** What is to be said of what is shown, if it is not the record or the plan. */
  readonly basisNote: string | undefined
  /** The commands drafted and not applied. */
  readonly plan: readonly Command[]
  setPlan(commands: readonly Command[]): void
  /** The plan to which what is proposed is added as an item; undefined: to the draft of this browser. */
  readonly planInto: Plan | undefined
  setPlanInto(planId: string | undefined): void
  /** Adds commands to that plan, or to the draft. @returns what shows them, or why they were not added */
  draft(commands: readonly Command[]): Promise<Shown | Refusal>
  /** The same, and shows them on this page. */
  addToPlan(commands: readonly Command[]): Promise<Refusal | undefined>
  /** Why the plan cannot be applied as it is, if so. */
  readonly planTrouble: string | undefined
  readonly person: Person | undefined
  setPerson(id: string): void
}

const EstateContext = createContext<EstateView | undefined>(undefined)

export function useEstate(): EstateView {
  const view = use(EstateContext)
  if (!view) throw new Error('useEstate outside of an estate')
  return view
}

/** Loads an estate, keeps it current by the server's events, and gives it to the pages below. */
export function EstateProvider({
  children,
  waiting,
  failed,
}: {
  children: ReactNode
  waiting: ReactNode
  failed: (error: Error) => ReactNode
}) {
  const { estateId = '' } = useParams()
  const { recorded, error } = useRecorded(estateId)
  if (error) return failed(error)
  if (!recorded) return waiting
  return (
    <Current key={estateId} estateId={estateId} answered={recorded}>
      {children}
    </Current>
  )
}

/** The basis after an item that is still to be done, up to which its plan is laid over the record; undefined where it is not. */
function afterItem(estate: Estate, itemId: string): Basis | undefined {
  const item = estate.find('item', itemId)
  const plan = estate.find('plan', item?.planId)
  if (!item || !plan || !isAhead(item)) return undefined
  const ahead = aheadOf(estate, plan.id)
  const steps = ahead.slice(0, ahead.findIndex(({ id }) => id === itemId) + 1).map(commandsOf)
  return { on: 'item', plan, item, ahead, steps }
}

function Current({ estateId, answered, children }: { estateId: string; answered: Recorded; children: ReactNode }) {
  // What was said of another estate is not said of this one.
  useEffect(() => () => say(undefined), [])
  const [params, setParams] = useSearchParams()
  const { personIn, setPerson } = usePerson(estateId)
  const { recorded, submitting } = useSubmitting(estateId, answered, personIn)
  const { plan, setPlan } = usePlan(estateId)
  const person = personIn(recorded.estate)
  const { revision } = recorded

  const shown = shownIn(params)
  const asked = shown.on === 'asOf' ? shown.revision : undefined
  const past = usePast(estateId, recorded, asked)
  const itemId = shown.on === 'item' ? shown.itemId : undefined
  const basis = useMemo((): Basis => {
    if (asked !== undefined && past.back) return { on: 'asOf', revision: asked, back: past.back }
    if (shown.on === 'plan' && plan.length > 0) return { on: 'plan', commands: plan }
    return (itemId === undefined ? undefined : afterItem(recorded.estate, itemId)) ?? RECORDED
  }, [asked, past.back, shown.on, plan, recorded.estate, itemId])

  const showBasis = useCallback(
    (wanted: Shown) =>
      setParams(
        (before) => {
          putShown(before, wanted)
          return before
        },
        { replace: true },
      ),
    [setParams],
  )
  const { intoId, setPlanInto } = useInto(estateId)
  const planInto = openPlan(recorded.estate, intoId)
  const { submit } = submitting
  const draft = useCallback(
    (commands: readonly Command[]): Promise<Shown | Refusal> => {
      if (planInto) return addItem(submit, recorded.estate, planInto, commands)
      setPlan([...plan, ...commands])
      return Promise.resolve({ on: 'plan' })
    },
    [plan, setPlan, planInto, submit, recorded.estate],
  )
  const addToPlan = useCallback(
    (commands: readonly Command[]) => {
      if (!planInto) showBasis({ on: 'plan' })
      return draft(commands).then((added) => {
        if ('sentence' in added) return added
        if (added.on === 'item') showBasis(added)
        return undefined
      })
    },
    [draft, planInto, showBasis],
  )
  const withPlan = useMemo(() => planned(recorded.estate, plan, revision), [recorded.estate, plan, revision])
  const estate = useMemo(() => {
    if (basis.on === 'asOf') return asOf(recorded.estate, basis)
    if (basis.on === 'item') return estateAfter(recorded.estate, basis.plan.id, basis.item.id)
    return basis.on === 'plan' ? withPlan.estate : recorded.estate
  }, [basis, recorded.estate, withPlan.estate])

  const why = whyReadOnly(basis)
  const isAwaited = asked !== undefined && basis.on !== 'asOf'
  const isOver = itemId !== undefined && basis.on !== 'item'
  const basisNote =
    why ??
    past.trouble ??
    (isAwaited ? `The record as of change ${asked} is loading; this is the current record.` : undefined) ??
    (isOver ? 'That item of a plan is not to be done any more; this is the current record.' : undefined)
  const allowed = useMemo(() => (why ? submittingNothing(why) : submitting), [why, submitting])

  const view = useMemo<EstateView>(
    () => ({
      ...allowed,
      estateId,
      revision,
      estate,
      recorded: recorded.estate,
      basis,
      showBasis,
      basisNote,
      plan,
      setPlan,
      planInto,
      setPlanInto,
      draft,
      addToPlan,
      planTrouble: withPlan.trouble,
      person,
      setPerson,
    }),
    [
      allowed,
      estateId,
      revision,
      estate,
      recorded.estate,
      basis,
      showBasis,
      basisNote,
      plan,
      setPlan,
      planInto,
      setPlanInto,
      draft,
      addToPlan,
      withPlan.trouble,
      person,
      setPerson,
    ],
  )
  return <EstateContext value={view}>{children}</EstateContext>
}
