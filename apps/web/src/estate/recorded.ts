import type { Standing } from '@insel/contract'
import { Estate, type Difference } from '@insel/core'
import { useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
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

async function load(estateId: string): Promise<Recorded> {
  const { revision, epoch, records } = await api.records(estateId)
  syncChecks.load(records, revision)
  return { revision, epoch, estate: Estate.fromRecords(records) }
}

/** One catching up at a time for each estate: events may come faster than answers. */
const catching = new Map<string, Promise<void>>()

/**
 * Brings an estate to where it is. A change that follows the revision that is shown is taken as it was answered; what is
 * further off is asked for.
 */
export async function catchUp(
  client: QueryClient,
  estateId: string,
  wanted: Standing & { readonly difference?: Difference },
): Promise<void> {
  const before = catching.get(estateId) ?? Promise.resolve()
  const next = before.then(async () => {
    const current = recordedIn(client, estateId)
    if (!current || (current.epoch === wanted.epoch && current.revision >= wanted.revision)) return
    const isNext = wanted.epoch === current.epoch && wanted.revision === current.revision + 1
    const answer = isNext && wanted.difference ? { ...wanted, difference: wanted.difference } : await api.since(estateId, current)
    const { revision, epoch } = answer
    if ('records' in answer) {
      syncChecks.load(answer.records, revision)
      client.setQueryData<Recorded>(recordedKey(estateId), { revision, epoch, estate: Estate.fromRecords(answer.records) })
    } else {
      syncChecks.advance(answer.difference, revision)
      client.setQueryData<Recorded>(recordedKey(estateId), { revision, epoch, estate: current.estate.with(answer.difference) })
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

/** Loads an estate and keeps it current by the server's events. */
export function useRecorded(estateId: string): { readonly recorded: Recorded | undefined; readonly error: Error | null } {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: recordedKey(estateId),
    queryFn: () => load(estateId),
    staleTime: Infinity,
    structuralSharing: false,
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
