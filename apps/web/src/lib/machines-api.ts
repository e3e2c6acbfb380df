import type {
  CollectionStarted,
  CollectionSummary,
  CollectionText,
  DailyResponse,
  ObservationsTaken,
  ObserverStarted,
  ObserverState,
  SummariesResponse,
} from '@insel/contract'
import type { RedfishTree, Sample, SummaryDays } from '@insel/core'
import { call, post } from './api'

/** A host or a guest, by its id. */
export type MachineRef = { readonly hostId: string } | { readonly guestId: string }

/** What the server keeps of what machines say of themselves. */
export const machinesApi = {
  startCollection: (estateId: string, machine: MachineRef) => post<CollectionStarted>(`/estates/${estateId}/collections`, machine),
  collections: (estateId: string, machine: MachineRef) =>
    call<CollectionSummary[]>(`/estates/${estateId}/collections?${new URLSearchParams({ ...machine })}`),
  collection: (estateId: string, id: string) => call<CollectionText>(`/estates/${estateId}/collections/${id}`),
  redfish: (estateId: string, body: Readonly<Record<string, string>>) => post<RedfishTree>(`/estates/${estateId}/redfish`, body),
  observe: (estateId: string, samples: readonly (Sample & { readonly subjectId: string })[]) =>
    post<ObservationsTaken>(`/estates/${estateId}/observations`, { samples }),
  summaries: (estateId: string, days: SummaryDays) => call<SummariesResponse>(`/estates/${estateId}/observations/summaries?days=${days}`),
  samples: (estateId: string, subjectId: string, days: number) =>
    call<readonly Sample[]>(`/estates/${estateId}/observations/samples?subjectId=${subjectId}&days=${days}`),
  daily: (estateId: string, storeId: string | undefined, days: number) =>
    call<DailyResponse>(`/estates/${estateId}/observations/daily?days=${days}${storeId ? `&storeId=${storeId}` : ''}`),
  observer: (estateId: string, guestId: string) => call<{ observer: ObserverState | null }>(`/estates/${estateId}/observers/${guestId}`),
  startObserver: (estateId: string, guestId: string) => post<ObserverStarted>(`/estates/${estateId}/observers`, { guestId }),
  stopObserver: (estateId: string, guestId: string) =>
    call<{ observer: null }>(`/estates/${estateId}/observers/${guestId}`, { method: 'DELETE' }),
}
