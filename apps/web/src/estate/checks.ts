import type { Command, Demand, Group, GuestSize, MappedTable, Mapping, MoveWish, ReachQuestion, StateOfNew } from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { checks } from '../checks/checks-remote'
import { inTwoSteps } from './first-checks'
import type { Asked, Preview } from '../checks/make-checks'
import { useEstate, type Basis } from '.'
import { keyOfBasis, type BasisNamed, named } from '../basis/basis'

/**
 * What commands would do to the estate as shown, or to another base.
 *
 * @param commands nothing is asked while undefined
 * @param base another basis than the one that is shown
 */
export function usePreview(commands: readonly Command[] | undefined, base?: Basis) {
  const { estateId, revision, basis } = useEstate()
  const on = base ?? basis
  return useQuery<Preview>({
    queryKey: ['preview', estateId, revision, keyOfBasis(on), commands],
    queryFn: (query) =>
      inTwoSteps(
        query,
        (preview) => preview.ok && preview.findings.pending.length > 0,
        async (isSettled) => checks().preview(named(on), commands ?? [], isSettled),
      ),
    enabled: commands !== undefined,
    placeholderData: (before) => (commands ? before : undefined),
    staleTime: Infinity,
    gcTime: 10_000,
  })
}

/** Where a guest could go, best host first. */
export function usePlaces(demand: Demand | undefined) {
  const { estateId, revision, basis } = useEstate()
  return useQuery({
    queryKey: ['places', estateId, revision, keyOfBasis(basis), demand],
    queryFn: () => (demand ? checks().places(named(basis), demand) : []),
    enabled: demand !== undefined,
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 10_000,
  })
}

/** Whether one machine reaches another; nothing is asked while a part of the question is missing. */
export function useReach(question: ReachQuestion | undefined) {
  const { estateId, revision, basis } = useEstate()
  return useQuery<Asked>({
    queryKey: ['reach', estateId, revision, keyOfBasis(basis), question],
    queryFn: async () => checks().ask(named(basis), question ?? { from: '', to: '' }),
    enabled: question !== undefined,
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 10_000,
  })
}

/** Which groups reach which. */
export function useReachMatrix(service: Pick<ReachQuestion, 'protocol' | 'port'>, groups: readonly Group[]) {
  const { estateId, revision, basis } = useEstate()
  return useQuery({
    queryKey: ['reach matrix', estateId, revision, keyOfBasis(basis), service, groups],
    queryFn: () => checks().matrix(named(basis), service, groups),
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 10_000,
    structuralSharing: false,
  })
}

/** What becomes of each host's guests when it fails. */
export function useFailover() {
  const { estateId, revision, basis } = useEstate()
  return useQuery({
    queryKey: ['failover', estateId, revision, keyOfBasis(basis)],
    queryFn: () => checks().failover(named(basis)),
    placeholderData: (before) => before,
    staleTime: Infinity,
    structuralSharing: false,
  })
}

/** The figures of hosts and stores before a plan, and after each of its items; while that takes long, how many items are worked out. */
export function usePlanFigures(planId: string) {
  const { estateId, revision } = useEstate()
  const [done, setDone] = useState<number>()
  const query = useQuery({
    queryKey: ['plan figures', estateId, revision, planId],
    queryFn: async () => {
      try {
        const { proxy } = await import('comlink')
        return await checks().planFigures(planId, proxy(setDone))
      } finally {
        setDone(undefined)
      }
    },
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 10_000,
    structuralSharing: false,
  })
  return { figures: query.data, done }
}

/** The findings that a plan raises and settles, carried out up to an item, or all of it. */
export function usePlanFindings(planId: string, upTo?: string) {
  const { estateId, revision } = useEstate()
  return useQuery({
    queryKey: ['plan findings', estateId, revision, planId, upTo],
    queryFn: () => checks().planFindings(planId, upTo),
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 10_000,
  })
}

/** How many more guests of a size each host takes. */
export function useRooms(size: GuestSize | undefined) {
  const { estateId, revision, basis } = useEstate()
  return useQuery({
    queryKey: ['rooms', estateId, revision, keyOfBasis(basis), size],
    queryFn: () => (size ? checks().rooms(named(basis), size) : []),
    enabled: size !== undefined,
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 10_000,
  })
}

/**
 * What a text says of a machine, read off the page's thread: texts may have megabytes.
 *
 * @param taking a number for the text, so that the text itself is no key
 */
export function useFoundReading(taking: number, text: string, system: string | undefined) {
  const { estateId } = useEstate()
  return useQuery({
    queryKey: ['found', estateId, taking, system],
    queryFn: () => checks().readFound(text, system),
    placeholderData: (before) => (text.trim() === '' ? undefined : before),
    enabled: text.trim() !== '',
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
  const { estateId, revision, basis } = useEstate()
  const [done, setDone] = useState<number>()
  // Thousands of rows are no key: one that counts up with them is.
  const [asked, setAsked] = useState({ tables, times: 0 })
  if (asked.tables !== tables) setAsked({ tables, times: asked.times + 1 })
  const query = useQuery({
    queryKey: ['tables', estateId, revision, keyOfBasis(basis), asked.times, stateOfNew],
    queryFn: async () => {
      try {
        const { proxy } = await import('comlink')
        return await checks().importTables(named(basis), tables, stateOfNew, proxy(setDone))
      } finally {
        setDone(undefined)
      }
    },
    enabled: tables.length > 0,
    placeholderData: (before) => (tables.length > 0 ? before : undefined),
    staleTime: Infinity,
    gcTime: 0,
    structuralSharing: false,
  })
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
export function useMoveLook(of: string | Mapping | undefined, before: readonly Command[] = NOTHING_BEFORE) {
  return useMoveAnswer(['checks', of, before], of, (basis, known) => checks().moveChecks(basis, known, before))
}

/** The ways in which a move that is only thought of could be copied. */
export function useMoveAdvice(mapping: Mapping | undefined, wish: MoveWish, before: readonly Command[] = NOTHING_BEFORE) {
  return useMoveAnswer(['advice', mapping, wish, before], mapping, (basis, known) => checks().moveAdvice(basis, known, before, wish))
}

/** An answer about a move, asked for once it is known which; until the next one is there the one before is shown. */
function useMoveAnswer<Of, T>(key: readonly unknown[], of: Of | undefined, ask: (basis: BasisNamed, of: Of) => Promise<T | undefined>) {
  const { estateId, revision, basis } = useEstate()
  return useQuery({
    queryKey: ['move', estateId, revision, keyOfBasis(basis), ...key],
    queryFn: async () => (of === undefined ? null : ((await ask(named(basis), of)) ?? null)),
    enabled: of !== undefined,
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 10_000,
    structuralSharing: false,
  })
}
