import type { QueryFunctionContext } from '@tanstack/react-query'
import { checks } from '../checks/checks-remote'
import type { Found } from '../checks/make-checks'
import { useAnswer } from './use-answer'

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
export const useFindings = () =>
  useAnswer<Found>(
    ['findings'],
    (on, query) =>
      inTwoSteps(
        query,
        ({ pending }) => pending.length > 0,
        async (isSettled) => checks().findings(on, isSettled),
      ),
    { keptMs: 300_000 },
  )
