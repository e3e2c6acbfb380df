import {
  aheadOf,
  compareNames,
  differenceAfter,
  differing,
  isAhead,
  recordTitle,
  sayCommand,
  whyNotInItem,
  type Command,
  type Difference,
  type Estate,
  type Person,
  type Plan,
} from '@insel/core'
import { createContext, use, useCallback, useEffect, useMemo, type ReactNode } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { DiffersContext, LeftOutContext, type DiffersById, type LeftOut } from '../ui/differs'
import { putShown, RECORDED, shownIn, whereTo, whyReadOnly, type Basis, type Shown } from '../basis/basis'
import { say } from '../lib/messages'
import { refusal, type Refusal } from './refusal'
import { usePast } from './past'
import { usePerson } from './person'
import { addItem, openPlan, useInto, useOldDraft } from './plan'
import { useRecorded, type Recorded } from './recorded'
import { submittingNothing, useSubmitting, type Submitting } from './submit'

/** What pages need of the estate. */
export interface EstateView extends Submitting {
  readonly estateId: string
  readonly revision: number
  /** The estate as shown: recorded, as it would be after items of a plan, or as it was. */
  readonly estate: Estate
  readonly recorded: Estate
  readonly basis: Basis
  showBasis(shown: Shown): void
  /** What is to be said of what is shown, if it is not the record. */
  readonly basisNote: string | undefined
  /** In what the estate that is shown differs from the record; undefined where it is the record. */
  readonly ahead: Difference | undefined
  /** Commands that this browser kept for itself before there were plans that everybody sees. */
  readonly oldDraft: readonly Command[] | undefined
  /** Keeps them, or nothing. */
  keepDraft(draft?: readonly Command[]): void
  /** The plan to which what is proposed is added as an item; undefined: to a new one. */
  readonly planInto: Plan | undefined
  setPlanInto(planId: string | undefined): void
  /**
   * Adds commands as an item to the plan that is shown, or the one that was chosen, or a new one.
   *
   * @param newName what a new plan is called
   * @returns what shows the estate after it, or why it was not added
   */
  addItem(commands: readonly Command[], newName?: string): Promise<Shown | Refusal>
  /** The same, and shows it on this page. */
  addToPlan(commands: readonly Command[], newName?: string): Promise<Refusal | undefined>
  readonly person: Person | undefined
  setPerson(id: string): void
}

/** Nothing is shown otherwise than recorded. */
const SAME: DiffersById = new Map()
const NOTHING: LeftOut = new Map()

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

/** What a difference removes, as it is called in the record, by kind. */
function leftOutOf(recorded: Estate, { removed }: Difference): LeftOut {
  const names = new Map<string, string[]>()
  for (const { kind, record } of Object.values(removed))
    names.set(kind, [...(names.get(kind) ?? []), recordTitle(recorded, kind, record)].sort(compareNames))
  return names
}

/** The basis after an item that is still to be done, up to which its plan is laid over the record; undefined where it is not. */
function afterItem(estate: Estate, itemId: string): Basis | undefined {
  const item = estate.find('item', itemId)
  const plan = estate.find('plan', item?.planId)
  if (!item || !plan || !isAhead(item)) return undefined
  return { on: 'item', plan, item, ahead: aheadOf(estate, plan.id) }
}

function Current({ estateId, answered, children }: { estateId: string; answered: Recorded; children: ReactNode }) {
  // What was said of another estate is not said of this one.
  useEffect(() => () => say(undefined), [])
  const [params, setParams] = useSearchParams()
  const { personIn, setPerson } = usePerson(estateId)
  const { recorded, submitting } = useSubmitting(estateId, answered, personIn)
  const { oldDraft, keepDraft } = useOldDraft(estateId)
  const person = personIn(recorded.estate)
  const { revision } = recorded

  const shown = shownIn(params)
  const asked = shown.on === 'asOf' ? shown.revision : undefined
  const past = usePast(estateId, recorded, asked)
  const itemId = shown.on === 'item' ? shown.itemId : undefined
  const basis = useMemo((): Basis => {
    if (asked !== undefined && past.then) return { on: 'asOf', revision: asked, ...past.then }
    return (itemId === undefined ? undefined : afterItem(recorded.estate, itemId)) ?? RECORDED
  }, [asked, past.then, recorded.estate, itemId])

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
  const ahead = useMemo((): Difference | undefined => {
    if (basis.on === 'asOf') return basis.back
    return basis.on === 'item' ? differenceAfter(recorded.estate, basis.plan.id, basis.item.id) : undefined
  }, [basis, recorded.estate])
  const estate = useMemo(() => (ahead ? recorded.estate.with(ahead) : recorded.estate), [ahead, recorded.estate])
  const add = useCallback(
    (commands: readonly Command[], newName?: string) =>
      addItem(submitting.submit, { recorded: recorded.estate, basis, estate, into: planInto, newName, person }, commands),
    [submitting, recorded.estate, basis, estate, planInto, person],
  )
  const addToPlan = useCallback(
    async (commands: readonly Command[], newName?: string) => {
      const added = await add(commands, newName)
      if ('sentence' in added) return added
      if (added.on === 'item' && basis.on !== 'item') setPlanInto(added.planId)
      showBasis(added)
      return undefined
    },
    [add, basis.on, setPlanInto, showBasis],
  )

  const why = whyReadOnly(basis)
  const isAwaited = asked !== undefined && basis.on !== 'asOf'
  const isOver = itemId !== undefined && basis.on !== 'item'
  const basisNote =
    (basis.on === 'item'
      ? `After “${basis.item.title}” of plan “${basis.plan.name}”. What you change is added to the plan after it; ticks, observations, accepted findings and the plans themselves are recorded at once.`
      : why) ??
    past.trouble ??
    (isAwaited ? `The record as of change ${asked} is loading; this is the current record.` : undefined) ??
    (isOver ? 'That item of a plan is not to be done any more; this is the current record.' : undefined)
  const allowed = useMemo((): Submitting => {
    if (why) return submittingNothing(why)
    // On a plan's basis what an item can hold becomes one; the rest goes to the record, as everywhere.
    const placed = (commands: readonly Command[], record: () => Promise<Refusal | undefined>) => {
      const place = whereTo(basis, commands)
      const recorded = commands.find((command) => whyNotInItem(command) !== undefined)
      if (place === 'both' && recorded)
        return Promise.resolve(
          refusal(`“${sayCommand(estate, recorded)}” is recorded at once and the rest would be planned; switch to Recorded to do both.`),
        )
      return place === 'plan' ? addToPlan(commands) : record()
    }
    return {
      ...submitting,
      submit: (commands, ...more) => placed(commands, () => submitting.submit(commands, ...more)),
      submitImport: (given, commands, done) => placed(commands, () => submitting.submitImport(given, commands, done)),
    }
  }, [why, submitting, basis, estate, addToPlan])

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
      ahead,
      oldDraft,
      keepDraft,
      planInto,
      setPlanInto,
      addItem: add,
      addToPlan,
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
      ahead,
      oldDraft,
      keepDraft,
      planInto,
      setPlanInto,
      add,
      addToPlan,
      person,
      setPerson,
    ],
  )
  const differs = useMemo(() => (ahead ? differing(recorded.estate, estate, ahead) : SAME), [ahead, recorded.estate, estate])
  const leftOut = useMemo(() => (ahead ? leftOutOf(recorded.estate, ahead) : NOTHING), [ahead, recorded.estate])
  return (
    <EstateContext value={view}>
      <DiffersContext value={differs}>
        <LeftOutContext value={leftOut}>{children}</LeftOutContext>
      </DiffersContext>
    </EstateContext>
  )
}
