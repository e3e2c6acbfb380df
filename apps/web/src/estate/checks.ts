import type { Command, Demand, Group, GuestSize, MappedTable, Mapping, MoveWish, ReachQuestion, StateOfNew } from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { checks, doTask } from '../checks/checks-remote'
import { inTwoSteps } from './first-checks'
import { RECORDED, useEstate, type Basis } from '.'
import type { Preview, TaskInput, TaskName, TaskOutput } from '../checks/make-checks'
import { useAnswer, type Kept } from './use-answer'

/**
 * What comes of a task; while that takes long, how far it is.
 *
 * @param key what tells it from others
 * @param input nothing is done while undefined
 */
function useTask<N extends TaskName>(name: N, key: readonly unknown[], input: TaskInput<N> | undefined, kept?: Kept) {
  const { recorded, revision } = useEstate()
  const [done, setDone] = useState<number>()
  const query = useAnswer<TaskOutput<N>>(
    [name, ...key],
    input &&
      (async (on, { signal }) => {
        try {
          return await doTask(name, { estate: recorded, revision }, on, input, signal, setDone)
        } finally {
          setDone(undefined)
        }
      }),
    kept,
  )
  return { ...query, done }
}

/**
 * What commands would do to the estate as shown, or to another base.
 *
 * @param commands nothing is asked while undefined
 * @param base another basis than the one that is shown
 */
export const usePreview = (commands: readonly Command[] | undefined, base?: Basis) =>
  useAnswer<Preview>(
    ['preview', commands],
    commands &&
      ((on, query) =>
        inTwoSteps(
          query,
          (preview) => preview.ok && preview.findings.pending.length > 0,
          async (isSettled) => checks().preview(on, commands, isSettled),
        )),
    { on: base, isClearedBetween: true },
  )

/** Where a guest could go, best host first. */
export const usePlaces = (demand: Demand | undefined) =>
  useAnswer(['places', demand], demand && (async (on) => checks().places(on, demand)))

/** Whether one machine reaches another; nothing is asked while a part of the question is missing. */
export const useReach = (question: ReachQuestion | undefined) =>
  useAnswer(['reach', question], question && (async (on) => checks().ask(on, question)))

/** Which groups reach which. */
export const useReachMatrix = (service: Pick<ReachQuestion, 'protocol' | 'port'>, groups: readonly Group[]) =>
  useTask('reach matrix', [service, groups], { ...service, groups })

/** What becomes of each host's guests when it fails. */
export const useFailover = () => useAnswer(['failover'], async (on) => checks().failover(on), { keptMs: 300_000 })

/** What is asked of the record itself is the same whatever is shown. */
const ON_RECORDED: Kept = { on: RECORDED }

/** The figures of hosts and stores before a plan, and after each of its items; while that takes long, how many items are worked out. */
export function usePlanFigures(planId: string) {
  const { data, done } = useTask('plan figures', [planId], planId, ON_RECORDED)
  return { figures: data, done }
}

/** The findings that a plan raises and settles, carried out up to an item, or all of it. */
export const usePlanFindings = (planId: string, upTo?: string) =>
  useAnswer(['plan findings', planId, upTo], async () => checks().planFindings(planId, upTo), ON_RECORDED)

/** How many more guests of a size each host takes. */
export const useRooms = (size: GuestSize | undefined) => useAnswer(['rooms', size], size && (async (on) => checks().rooms(on, size)))

/**
 * What a text says of a machine, read off the page's thread: texts may have megabytes.
 *
 * @param taking a number for the text, so that the text itself is no key
 */
export function useFoundReading(taking: number, text: string, system: string | undefined) {
  const { estateId } = useEstate()
  const isAsked = text.trim() !== ''
  // It rests on the text alone: no change of the estate has it read again.
  return useQuery({
    queryKey: ['found', estateId, taking, system],
    queryFn: () => checks().readFound(text, system),
    placeholderData: (before) => (isAsked ? before : undefined),
    enabled: isAsked,
    staleTime: Infinity,
    gcTime: 0,
    structuralSharing: false,
  })
}

/**
 * What tables would record, row by row; while that takes long, how many rows are read.
 *
 * @param tables nothing is asked while there are none
 */
export function useTablesImport(tables: readonly MappedTable[], stateOfNew: StateOfNew) {
  // Thousands of rows are no key: one that counts up with them is.
  const [asked, setAsked] = useState({ tables, times: 0 })
  if (asked.tables !== tables) setAsked({ tables, times: asked.times + 1 })
  const { revision } = useEstate()
  const { done, ...query } = useTask(
    'tables',
    [asked.times, stateOfNew],
    tables.length > 0 ? { tables, stateOfNew, revision } : undefined,
    { keptMs: 0, isClearedBetween: true },
  )
  return {
    imported: tables.length > 0 ? query.data : undefined,
    isCurrent: !query.isPlaceholderData && !query.isFetching,
    trouble: query.error,
    done,
  }
}

const NOTHING_BEFORE: readonly Command[] = []

/**
 * What is checked of a move before it copies.
 *
 * @param of a recorded move by its id, or the mapping of one; nothing is asked while undefined
 * @param before commands that add what takes over
 */
export const useMoveLook = (of: string | Mapping | undefined, before: readonly Command[] = NOTHING_BEFORE) =>
  useAnswer(['move checks', of, before], of === undefined ? undefined : async (on) => (await checks().moveChecks(on, of, before)) ?? null)

/** The ways in which a move that is only thought of could be copied. */
export const useMoveAdvice = (mapping: Mapping | undefined, wish: MoveWish, before: readonly Command[] = NOTHING_BEFORE) =>
  useAnswer(['move advice', mapping, wish, before], mapping && (async (on) => checks().moveAdvice(on, mapping, before, wish)))
