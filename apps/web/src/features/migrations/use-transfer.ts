import { isBeforeCutOver, type Migration } from '@insel/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect } from 'react'
import { useEstate } from '../../estate'
import { transferApi } from './transfer-api'

const ASK_EVERY_MS = 5000
const keyOf = (estateId: string, moveId: string) => ['transfer', estateId, moveId]

/** How the transfer of a move stands; while it copies and an address is recorded, that is asked again and again. */
export function useTransfer(move: Migration) {
  const { estateId } = useEstate()
  const client = useQueryClient()
  const isCopying = isBeforeCutOver(move)
  const asking = useQuery({
    queryKey: [...keyOf(estateId, move.id), 'asked'],
    queryFn: () => transferApi.ask(estateId, move.id),
    enabled: move.state === 'copying' && move.progressAt !== null,
    refetchInterval: ASK_EVERY_MS,
    retry: false,
  })
  const { dataUpdatedAt } = asking
  useEffect(() => {
    if (dataUpdatedAt > 0) void client.invalidateQueries({ queryKey: keyOf(estateId, move.id), exact: true })
  }, [client, dataUpdatedAt, estateId, move.id])
  const transfer = useQuery({
    queryKey: keyOf(estateId, move.id),
    queryFn: () => transferApi.progress(estateId, move.id),
    // A colleague, or a script, may send readings, too.
    refetchInterval: isCopying ? ASK_EVERY_MS * 3 : false,
    placeholderData: (before) => before,
    structuralSharing: false,
  })
  const refresh = () => client.invalidateQueries({ queryKey: keyOf(estateId, move.id), exact: true })
  return { transfer: transfer.data, trouble: transfer.error ?? asking.error, refresh }
}
