import type { CommandsResponse, Standing } from '@insel/contract'
import {
  applyAll,
  CommandError,
  Estate,
  project,
  sayCommand,
  withIds,
  type Command,
  type Difference,
  type FieldProblem,
  type Person,
} from '@insel/core'
import { useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { createContext, use, useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from 'react'
import { useParams, useSearchParams } from 'react-router'
import { api, ProblemResponse, Unreachable } from './api'
import { tellChecks } from './checks-remote'
import { browserContext, newId } from './context'
import { follow } from './follow'
import { say } from './messages'
import { readStored, store } from './storage'

/** The recorded estate at a revision, as kept in the query cache. */
interface Recorded extends Standing {
  readonly estate: Estate
}

/** What pages need of the estate. */
export interface EstateView {
  readonly estateId: string
  readonly revision: number
  /** The estate as shown: recorded, or with the plan's commands applied. */
  readonly estate: Estate
  readonly recorded: Estate
  readonly basis: 'recorded' | 'plan'
  showBasis(basis: 'recorded' | 'plan'): void
  /** The commands drafted and not applied. */
  readonly plan: readonly Command[]
  /** The plan when it is shown, otherwise nothing. */
  readonly shownPlan: readonly Command[]
  setPlan(commands: readonly Command[]): void
  /** Puts commands behind those of the plan, and shows it. */
  addToPlan(commands: readonly Command[]): void
  /** Why the plan cannot be applied as it is, if so. */
  readonly planTrouble: string | undefined
  readonly person: Person | undefined
  setPerson(id: string): void
  /**
   * Applies commands to the record, after those submitted before. @returns why not, or undefined when done
   * @param isShownAtOnce shows the change before the server has answered, where a refusal is rare; one takes it back. The ids
   * of what is added are in the commands then.
   */
  submit(commands: readonly Command[], done?: string, isShownAtOnce?: boolean): Promise<Refusal | undefined>
  /** Undoes a change, by a new one. @returns why not, or undefined when done */
  revert(revision: number): Promise<Refusal | undefined>
}

/** Why something was not recorded: a sentence, and where it concerns a field, its path. */
export interface Refusal {
  readonly sentence: string
  readonly problems: readonly FieldProblem[]
}
const nobody: Refusal = { sentence: 'Say who you are first, at the top right: your name stands in the logbook.', problems: [] }

const EstateContext = createContext<EstateView | undefined>(undefined)

export function useEstate(): EstateView {
  const view = use(EstateContext)
  if (!view) throw new Error('useEstate outside of an estate')
  return view
}

const keyOf = (estateId: string) => ['estate', estateId] as const
const NO_PLAN: readonly Command[] = []

async function load(estateId: string): Promise<Recorded> {
  const { revision, epoch, records } = await api.records(estateId)
  tellChecks.load(records, revision)
  return { revision, epoch, estate: Estate.fromRecords(records) }
}

/** One catching up at a time for each estate: events may come faster than answers. */
const catching = new Map<string, Promise<void>>()

/**
 * Brings an estate to where it stands. A change that follows the revision that is shown is taken as it was answered; what lies
 * further off is asked for.
 */
async function catchUp(client: QueryClient, estateId: string, wanted: Standing & { readonly difference?: Difference }): Promise<void> {
  const before = catching.get(estateId) ?? Promise.resolve()
  const next = before.then(async () => {
    const current = client.getQueryData<Recorded>(keyOf(estateId))
    if (!current || (current.epoch === wanted.epoch && current.revision >= wanted.revision)) return
    const isNext = wanted.epoch === current.epoch && wanted.revision === current.revision + 1
    const answer = isNext && wanted.difference ? { ...wanted, difference: wanted.difference } : await api.since(estateId, current)
    const { revision, epoch } = answer
    if ('records' in answer) {
      tellChecks.load(answer.records, revision)
      client.setQueryData<Recorded>(keyOf(estateId), { revision, epoch, estate: Estate.fromRecords(answer.records) })
    } else {
      tellChecks.advance(answer.difference, revision)
      client.setQueryData<Recorded>(keyOf(estateId), { revision, epoch, estate: current.estate.with(answer.difference) })
    }
    // After a restore nothing that was read before holds: observations, collections, the logbook.
    const isRestored = epoch !== current.epoch
    void client.invalidateQueries(
      isRestored ? { predicate: ({ queryKey }) => queryKey[0] !== 'estate' } : { queryKey: ['changes', estateId] },
    )
  })
  catching.set(
    estateId,
    next.catch(() => undefined),
  )
  return next
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
  const client = useQueryClient()
  const query = useQuery({
    queryKey: keyOf(estateId),
    queryFn: () => load(estateId),
    staleTime: Infinity,
    structuralSharing: false,
    retry: 1,
  })
  const recorded = query.data

  const isLoaded = recorded !== undefined
  useEffect(() => {
    if (!isLoaded) return
    return follow(estateId, (standing) => {
      catchUp(client, estateId, standing).catch((error: unknown) => {
        // When the server is back, the stream is, too, and says again where the estate stands.
        if (!(error instanceof Unreachable)) throw error
      })
    })
  }, [client, estateId, isLoaded])

  if (query.isError) return failed(query.error)
  if (!recorded) return waiting
  return (
    <Current key={estateId} estateId={estateId} recorded={recorded}>
      {children}
    </Current>
  )
}

function Current({ estateId, recorded: answered, children }: { estateId: string; recorded: Recorded; children: ReactNode }) {
  const client = useQueryClient()
  // What was said of another estate is not said of this one.
  useEffect(() => () => say(undefined), [])
  const [ahead, setAhead] = useState<readonly (readonly Command[])[]>(NONE_AHEAD)
  const recorded = useMemo(() => withAhead(answered, ahead), [answered, ahead])
  const turn = useRef<Promise<unknown>>(Promise.resolve())
  const [params, setParams] = useSearchParams()
  const [plan, keepPlan] = useState<readonly Command[]>(() => readStored<Command[]>(`plan.${estateId}`) ?? NO_PLAN)
  const [personId, keepPerson] = useState(() => readStored<string>(`person.${estateId}`))
  const basis = params.get('basis') === 'plan' && plan.length > 0 ? 'plan' : 'recorded'

  const setPlan = useCallback(
    (wanted: readonly Command[]) => {
      // What they make is settled now, so that the plan shows the same records each time it is laid over the record.
      const commands = withIds(wanted, newId)
      store(`plan.${estateId}`, commands.length > 0 ? commands : undefined)
      keepPlan(commands)
    },
    [estateId],
  )
  const setPerson = useCallback(
    (id: string) => {
      store(`person.${estateId}`, id)
      keepPerson(id)
    },
    [estateId],
  )
  const showBasis = useCallback(
    (wanted: 'recorded' | 'plan') =>
      setParams(
        (before) => {
          if (wanted === 'plan') before.set('basis', 'plan')
          else before.delete('basis')
          return before
        },
        { replace: true },
      ),
    [setParams],
  )

  const addToPlan = useCallback(
    (commands: readonly Command[]) => {
      setPlan([...plan, ...commands])
      showBasis('plan')
    },
    [plan, setPlan, showBasis],
  )

  // Commands that can no longer be done are left out, and said; the rest is shown.
  const planned = useMemo(() => {
    const { estate, steps } = project(recorded.estate, plan, browserContext(recorded.revision))
    const [trouble] = steps.flatMap((step) => (step.ok ? [] : [step.refusal.message]))
    return { estate, trouble }
  }, [recorded, plan])

  const person = recorded.estate.find('person', personId)
  const { revision } = recorded

  const settle = useCallback(
    async (after: CommandsResponse) => {
      try {
        await catchUp(client, estateId, after)
      } catch (error) {
        // It is recorded, whatever becomes of reading on; the stream says again where the estate stands.
        if (!(error instanceof Unreachable || error instanceof ProblemResponse)) throw error
      }
    },
    [client, estateId],
  )
  const revert = useCallback(
    async (target: number) => {
      if (!person) return nobody
      try {
        await settle(await api.revert(estateId, person.id, target))
        say({ sentence: `Change ${target} is undone.`, isTrouble: false })
        return undefined
      } catch (error) {
        return refusalOf(error)
      }
    },
    [estateId, person, settle],
  )
  const submit = useCallback(
    async (wanted: readonly Command[], done?: string, isShownAtOnce = false) => {
      const commands = withIds(wanted, newId)
      const isIntroduction = commands.length === 1 && commands[0]?.type === 'person.add'
      const actor = person?.id ?? (isIntroduction && commands[0]?.type === 'person.add' ? commands[0].record.id : undefined)
      if (!actor) return nobody
      if (isShownAtOnce) setAhead((before) => [...before, commands])
      // One at a time: who is quicker than the server's answer builds upon it, and does not come up against it.
      const send = turn.current.then(async () => {
        const current = client.getQueryData<Recorded>(keyOf(estateId)) ?? answered
        // The core refuses here what the server would refuse, without the way there and back.
        const tried = applyAll(current.estate, commands, browserContext(current.revision))
        const answer = await api.submit(estateId, actor, commands, current)
        await settle(answer)
        return { tried, after: answer.revision, difference: answer.difference }
      })
      turn.current = send.catch(() => undefined)
      try {
        const { tried, after, difference } = await send
        const isUndoable =
          Object.keys(difference.added).length + Object.keys(difference.updated).length + Object.keys(difference.removed).length > 0
        const first = commands[0]
        const sentence =
          done ?? (first ? sayCommand(tried.estate, first) + (commands.length > 1 ? ` and ${commands.length - 1} more` : '') : '')
        const undo = () =>
          void revert(after).then((refusal) => {
            if (refusal) say({ sentence: refusal.sentence, isTrouble: true })
          })
        if (!isIntroduction)
          say({ sentence: `${sentence}: recorded as change ${after}.`, isTrouble: false, ...(isUndoable ? { undo } : {}) })
        return undefined
      } catch (error) {
        if (error instanceof ProblemResponse && error.problem.code === 'database-restored')
          await client.refetchQueries({ queryKey: keyOf(estateId) })
        return refusalOf(error)
      } finally {
        if (isShownAtOnce) setAhead((before) => before.filter((others) => others !== commands))
      }
    },
    [estateId, client, answered, person, revert, settle],
  )

  const view = useMemo<EstateView>(
    () => ({
      estateId,
      revision,
      estate: basis === 'plan' ? planned.estate : recorded.estate,
      recorded: recorded.estate,
      basis,
      showBasis,
      plan,
      shownPlan: basis === 'plan' ? plan : NO_PLAN,
      setPlan,
      addToPlan,
      planTrouble: planned.trouble,
      person,
      setPerson,
      submit,
      revert,
    }),
    [estateId, revision, basis, planned, recorded.estate, showBasis, plan, setPlan, addToPlan, person, setPerson, submit, revert],
  )
  return <EstateContext value={view}>{children}</EstateContext>
}

const NONE_AHEAD: readonly (readonly Command[])[] = []

/** What is recorded, with what is shown ahead of the server's answers; what has arrived already, or is refused, changes nothing. */
function withAhead(answered: Recorded, ahead: readonly (readonly Command[])[]): Recorded {
  let { estate } = answered
  for (const commands of ahead) {
    try {
      estate = applyAll(estate, commands, browserContext(answered.revision)).estate
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
    }
  }
  return estate === answered.estate ? answered : { ...answered, estate }
}

function refusalOf(error: unknown): Refusal {
  if (error instanceof CommandError) return { sentence: error.message, problems: error.problems }
  if (error instanceof ProblemResponse) return { sentence: error.message, problems: error.problem.errors }
  if (error instanceof Unreachable) return { sentence: error.message, problems: [] }
  throw error
}
