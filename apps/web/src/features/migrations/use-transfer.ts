import { isBeforeCutOver, type Migration } from '@insel/core'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useEstate } from '../../estate'
import { ProblemResponse } from '../../lib/api'
import { transferApi } from './transfer-api'

const ASK_EVERY_MS = 5000
const COUNT_AFTER_MS = 500
const keyOf = (estateId: string, moveId: string) => ['transfer', estateId, moveId]

/** What is read of the transfer of a move, for one or for all who show something of it. */
const reading = (estateId: string, move: Migration) => ({
  queryKey: keyOf(estateId, move.id),
  queryFn: () => transferApi.progress(estateId, move.id),
  structuralSharing: false as const,
})

/** What was last read of the transfer of a move, by whoever follows it. */
export function useLastReading(move: Migration) {
  const { estateId } = useEstate()
  return useQuery({ ...reading(estateId, move), staleTime: Infinity }).data
}

/** How the transfer of a move stands; while it copies and an address is recorded, that is asked again and again. */
export function useTransfer(move: Migration) {
  const { estateId } = useEstate()
  const client = useQueryClient()
  const isCopying = isBeforeCutOver(move)
  const asking = useQuery({
    queryKey: [...keyOf(estateId, move.id), 'asked', move.progressAt],
    queryFn: () => transferApi.ask(estateId, move.id),
    enabled: move.state === 'copying' && move.progressAt !== null,
    // Where it may not be asked, asking again changes nothing.
    refetchInterval: ({ state: { error } }) => (error instanceof ProblemResponse && error.problem.status === 422 ? false : ASK_EVERY_MS),
    retry: false,
  })
  const { dataUpdatedAt } = asking
  useEffect(() => {
    if (dataUpdatedAt > 0) void client.invalidateQueries({ queryKey: keyOf(estateId, move.id), exact: true })
  }, [client, dataUpdatedAt, estateId, move.id])
  const transfer = useQuery({
    ...reading(estateId, move),
    // A colleague, or a script, may send readings, too.
    refetchInterval: isCopying ? ASK_EVERY_MS * 3 : false,
    placeholderData: (before) => before,
  })
  const { data } = transfer
  const isMany = data?.count === null
  const [isShown, setShown] = useState(false)
  // So many are counted once what they say has been drawn: it would be held up.
  useEffect(() => {
    if (!isMany) return
    const timer = setTimeout(() => setShown(true), COUNT_AFTER_MS)
    return () => clearTimeout(timer)
  }, [isMany])
  const counting = useQuery({
    queryKey: [...keyOf(estateId, move.id), 'count', data?.points.at(-1)?.at],
    queryFn: () => transferApi.count(estateId, move.id),
    enabled: isMany && isShown,
    placeholderData: (before) => before,
  })
  const refresh = () => client.invalidateQueries({ queryKey: keyOf(estateId, move.id), exact: true })
  return {
    transfer: data,
    count: data?.count ?? counting.data?.count,
    trouble: transfer.error ?? counting.error,
    /** What the address that is asked says, or why it is not asked. */
    asked: { isRefused: asking.error instanceof ProblemResponse && asking.error.problem.status === 422, trouble: asking.error },
    refresh,
  }
}
