import type { ReadingsCount, ReadingsTaken, TransferResponse } from '@insel/contract'
import type { NumberStyle } from '@insel/core'
import { call, post } from '../../lib/api'

const at = (estateId: string, moveId: string, what: string) => `/estates/${estateId}/migrations/${moveId}/${what}`

/** What is sent of a transfer: readings, or a tool's own lines. */
export type ReadingsBody =
  { readonly samples: readonly { readonly at: string; readonly bytes: number }[] } | { readonly text: string; readonly style?: NumberStyle }

/** What the server takes and says of the transfer of a move. */
export const transferApi = {
  progress: (estateId: string, moveId: string) => call<TransferResponse>(at(estateId, moveId, 'progress')),
  count: (estateId: string, moveId: string) => call<ReadingsCount>(at(estateId, moveId, 'samples/count')),
  take: (estateId: string, moveId: string, body: ReadingsBody) => post<ReadingsTaken>(at(estateId, moveId, 'samples'), body),
  forget: (estateId: string, moveId: string) => call<ReadingsCount>(at(estateId, moveId, 'samples'), { method: 'DELETE' }),
  ask: (estateId: string, moveId: string) => post<ReadingsTaken>(at(estateId, moveId, 'ask'), {}),
}
