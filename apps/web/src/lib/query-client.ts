import { notifyManager, QueryClient, type DefaultOptions } from '@tanstack/react-query'
import { ProblemResponse } from './api'

// What was fetched is shown in the same breath in which one goes on: a form that is free again shows the record as it is then.
notifyManager.setScheduler(queueMicrotask)

/** What the server refuses it refuses again; what it could not answer may be answered later. */
const retry = (tries: number, error: Error) => tries < 3 && !(error instanceof ProblemResponse && error.problem.status < 500)

/** The cache of what was asked of the server. */
export const makeQueryClient = (queries: DefaultOptions['queries'] = {}): QueryClient =>
  new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, retry, ...queries } } })
