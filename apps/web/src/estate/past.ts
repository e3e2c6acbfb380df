import { invert, type Difference } from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { api, ProblemResponse } from '../lib/api'
import type { Recorded } from './recorded'

/** The record as it was after a change, once it is known. */
export interface Past {
  /** What leads back there from the record as it is now, and when that was. */
  readonly then: { readonly back: Difference; readonly at: string } | undefined
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
      const asked = revision ?? now
      const [answer, { changes }] = await Promise.all([
        api.since(estateId, { epoch, revision: asked }),
        api.changes(estateId, { before: String(asked + 1), limit: '1', most: '1' }),
      ])
      if (!('difference' in answer)) return TOO_FAR
      // Somebody recorded something in between; the key changes as soon as it is heard of, and it is asked for again.
      const at = changes.find((change) => change.revision === asked)?.at
      return answer.revision === now && at !== undefined ? { back: invert(answer.difference), at } : null
    },
    enabled: revision !== undefined && revision >= 1 && revision < now,
    staleTime: Infinity,
    retry: false,
    structuralSharing: false,
  })
  if (revision === undefined) return { then: undefined, trouble: undefined }
  if (revision < 1 || revision >= now)
    return { then: undefined, trouble: `There is no change ${revision}; the last one is ${now}. The current record is shown.` }
  if (query.error instanceof ProblemResponse) return { then: undefined, trouble: query.error.message }
  if (query.data === TOO_FAR)
    return { then: undefined, trouble: `Change ${revision} is too far back to be shown here. The current record is shown.` }
  return { then: query.data ?? undefined, trouble: undefined }
}
