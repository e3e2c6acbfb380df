import { notifyManager, QueryClient, type DefaultOptions } from '@tanstack/react-query'

// What was fetched is shown in the same breath in which one goes on: a form that is free again shows the record as it is then.
notifyManager.setScheduler(queueMicrotask)

/** The cache of what was asked of the server. */
export const makeQueryClient = (queries: DefaultOptions['queries'] = {}): QueryClient =>
  new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, ...queries } } })
