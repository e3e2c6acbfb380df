import type { Standing } from '@insel/contract'
import { Estate, type Difference, type Records } from '@insel/core'
import { useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect, useLayoutEffect } from 'react'
import { syncChecks } from '../checks/checks-remote'
import { api, Unreachable } from '../lib/api'
import { follow } from './follow'

/** The recorded estate at a revision, as kept in the query cache. */
export interface Recorded extends Standing {
  readonly estate: Estate
}

export const recordedKey = (estateId: string) => ['estate', estateId] as const

/** The record as it is known here, if it was loaded. */
export const recordedIn = (client: QueryClient, estateId: string): Recorded | undefined =>
  client.getQueryData<Recorded>(recordedKey(estateId))

/** One reading of an estate at a time: events may come faster than answers, and an older answer must not come after a newer one. */
const reading = new Map<string, Promise<void>>()

/** Does something when what was begun before for an estate is over. */
function inTurn<T>(estateId: string, act: () => Promise<T>): Promise<T> {
  const turn = (reading.get(estateId) ?? Promise.resolve()).then(act)
  reading.set(
    estateId,
    turn.then(
      () => undefined,
      () => undefined,
    ),
  )
  return turn
}

/** The estate that is shown, and the one that the checks beside the page have: they hear of no other. */
let [shownId, heldId]: (string | undefined)[] = []

/** Gives the checks the estate that is shown now, where they have another. */
function showTo(client: QueryClient, estateId: string): void {
  shownId = estateId
  const known = recordedIn(client, estateId)
  if (!known || heldId === estateId) return
  heldId = estateId
  syncChecks.load(known.estate.toRecords(), known.revision)
}

type Answer = Standing & ({ readonly records: Records } | { readonly difference: Difference })

/** What is recorded after an answer; the checks beside the page hear of it, and what else was read of the estate is asked for again. */
function after(client: QueryClient, estateId: string, answer: Answer, current: Recorded | undefined): Recorded {
  const { revision, epoch } = answer
  // After a restore nothing that was read before holds: observations, collections, the logbook.
  const isRestored = current !== undefined && epoch !== current.epoch
  void client.invalidateQueries(
    isRestored ? { predicate: ({ queryKey }) => queryKey[0] !== 'estate' } : { queryKey: ['changes', estateId] },
  )
  if ('records' in answer) {
    if (estateId === shownId || estateId === heldId) {
      heldId = estateId
      syncChecks.load(answer.records, revision)
    }
    return { revision, epoch, estate: Estate.fromRecords(answer.records) }
  }
  if (!current) throw new Error('a difference, and nothing that it is one to')
  if (estateId === heldId) syncChecks.advance(answer.difference, revision)
  return { revision, epoch, estate: current.estate.with(answer.difference) }
}

/** The estate as the server has it: all of it at first, and afterwards what changed since. */
const load = (client: QueryClient, estateId: string): Promise<Recorded> =>
  inTurn(estateId, async () => {
    const current = recordedIn(client, estateId)
    return after(client, estateId, current ? await api.since(estateId, current) : await api.records(estateId), current)
  })

/** The later of two standings: what was asked before something was recorded may be answered after it. */
const laterOf = (shown: Recorded | undefined, come: Recorded): Recorded =>
  shown && shown.epoch === come.epoch && shown.revision > come.revision ? shown : come

/**
 * Brings an estate to where it is. A change that follows the revision that is shown is taken as it was answered; what is
 * further off is asked for.
 */
export const catchUp = (client: QueryClient, estateId: string, wanted: Standing & { readonly difference?: Difference }): Promise<void> =>
  inTurn(estateId, async () => {
    const current = recordedIn(client, estateId)
    if (!current || (current.epoch === wanted.epoch && current.revision >= wanted.revision)) return
    const isNext = wanted.epoch === current.epoch && wanted.revision === current.revision + 1
    const answer = isNext && wanted.difference ? { ...wanted, difference: wanted.difference } : await api.since(estateId, current)
    client.setQueryData<Recorded>(recordedKey(estateId), after(client, estateId, answer, current))
  })

/** Loads an estate and keeps it current by the server's events. */
export function useRecorded(estateId: string): { readonly recorded: Recorded | undefined; readonly error: Error | null } {
  const client = useQueryClient()
  // Before any page below asks them something.
  useLayoutEffect(() => showTo(client, estateId), [client, estateId])
  const query = useQuery({
    queryKey: recordedKey(estateId),
    queryFn: () => load(client, estateId),
    staleTime: Infinity,
    structuralSharing: (shown, come) => laterOf(shown as Recorded | undefined, come as Recorded),
    retry: 1,
  })
  const isLoaded = query.data !== undefined
  useEffect(() => {
    if (!isLoaded) return
    return follow(estateId, (standing) => {
      catchUp(client, estateId, standing).catch((error: unknown) => {
        // When the server is back, the stream is, too, and says the estate's revision again.
        if (!(error instanceof Unreachable)) throw error
      })
    })
  }, [client, estateId, isLoaded])
  return { recorded: query.data, error: query.error }
}
