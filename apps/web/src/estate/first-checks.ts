import { useQuery, type QueryFunctionContext } from '@tanstack/react-query'
import { useEstate } from '.'
import { keyOfBasis, named } from '../basis/basis'
import { checks } from '../checks/checks-remote'
import type { Found } from '../checks/make-checks'

/** What can be said at once, shown until all of it is there. */
export async function inTwoSteps<T>(
  { client, queryKey }: Pick<QueryFunctionContext, 'client' | 'queryKey'>,
  isPending: (answer: T) => boolean,
  ask: (isSettled: boolean) => Promise<T>,
): Promise<T> {
  const first = await ask(false)
  if (!isPending(first)) return first
  client.setQueryData(queryKey, first)
  return ask(true)
}

/** Findings of the estate as shown: recorded, or with the plan. Those that take long to look at again follow. */
export function useFindings() {
  const { estateId, revision, basis } = useEstate()
  return useQuery<Found>({
    queryKey: ['findings', estateId, revision, keyOfBasis(basis)],
    queryFn: (query) =>
      inTwoSteps(
        query,
        ({ pending }) => pending.length > 0,
        (isSettled) => checks().findings(named(basis), isSettled),
      ),
    placeholderData: (before) => before,
    staleTime: Infinity,
  })
}
