import type { Sample, SummaryDays } from '@insel/core'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { OBSERVATIONS_MAX, type ObservationsTaken } from '@insel/contract'
import { machinesApi } from '../../lib/machines-api'
import { useEstate } from '../../estate'

const key = (estateId: string, ...rest: readonly unknown[]) => ['observed', estateId, ...rest]
const fresh = 30_000

/** Percentiles and growth of every guest and store over some days. */
export function useSummaries(days: SummaryDays) {
  const { estateId } = useEstate()
  return useQuery({
    queryKey: key(estateId, 'summaries', days),
    queryFn: () => machinesApi.summaries(estateId, days),
    staleTime: fresh,
    placeholderData: (before) => before,
  })
}

/** Observations of one guest or store as they came. */
export function useSamples(subjectId: string, days: number) {
  const { estateId } = useEstate()
  return useQuery({
    queryKey: key(estateId, 'samples', subjectId, days),
    queryFn: () => machinesApi.samples(estateId, subjectId, days),
    staleTime: fresh,
    placeholderData: (before) => before,
  })
}

/** Bytes in use by day: of a store and its guests, or of everything; as the core reads them. */
export function useDaily(storeId: string | undefined, days = 90) {
  const { estateId } = useEstate()
  return useQuery({
    queryKey: key(estateId, 'daily', storeId, days),
    queryFn: async () => new Map(Object.entries((await machinesApi.daily(estateId, storeId, days)).daily)),
    staleTime: fresh,
    structuralSharing: false,
  })
}

/** Sends observations in pieces the server takes, and says how many of them it has. */
export function useObserve(progress?: (sent: number) => void) {
  const { estateId } = useEstate()
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (samples: readonly (Sample & { readonly subjectId: string })[]): Promise<ObservationsTaken> => {
      let taken = 0
      const rejected: { index: number; reason: string }[] = []
      for (let at = 0; at < samples.length; at += OBSERVATIONS_MAX) {
        const answer = await machinesApi.observe(estateId, samples.slice(at, at + OBSERVATIONS_MAX))
        taken += answer.taken
        rejected.push(...answer.rejected.map(({ index, reason }) => ({ index: index + at, reason })))
        progress?.(Math.min(samples.length, at + OBSERVATIONS_MAX))
      }
      return { taken, rejected }
    },
    onSettled: () => client.invalidateQueries({ queryKey: ['observed', estateId] }),
  })
}
