import { invert, type Difference } from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { api, ProblemResponse } from '../lib/api'
import type { Recorded } from './recorded'

/** What leads from the record back to what it was after a change, once it is known. */
export interface Past {
  readonly back: Difference | undefined
  /** Why it cannot be shown. */
  readonly trouble: string | undefined
}

/** Said instead of a way back that has too many changes on it. */
const TOO_FAR = 'too far'

/**
 * The way back to the record as it was after a change.
 *
 * @param revision nothing is asked while undefined
 */
export function usePast(estateId: string, recorded: Recorded, revision: number | undefined): Past {
  const { epoch, revision: now } = recorded
  const query = useQuery({
    queryKey: ['past', estateId, epoch, now, revision],
    queryFn: async () => {
      const answer = await api.since(estateId, { epoch, revision: revision ?? now })
      if (!('difference' in answer)) return TOO_FAR
      // Somebody recorded something in between; the key changes as soon as it is heard of, and it is asked for again.
      return answer.revision === now ? invert(answer.difference) : null
    },
    enabled: revision !== undefined && revision < now,
    staleTime: Infinity,
    retry: false,
    structuralSharing: false,
  })
  if (revision === undefined) return { back: undefined, trouble: undefined }
  if (revision >= now)
    return { back: undefined, trouble: `There is no change ${revision}; the last one is ${now}. The current record is shown.` }
  if (query.error instanceof ProblemResponse) return { back: undefined, trouble: query.error.message }
  if (query.data === TOO_FAR)
    return { back: undefined, trouble: `Change ${revision} is too far back to be shown here. The current record is shown.` }
  return { back: query.data ?? undefined, trouble: undefined }
}
