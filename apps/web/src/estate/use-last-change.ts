import type { Change } from '@insel/contract'
import { useQuery } from '@tanstack/react-query'
import { api } from '../lib/api'
import { useEstate } from '.'

/** The last change to a record that is in the logbook, asked for while it is wanted: who changed or removed it, and when. */
export function useLastChange(id: string, isWanted: boolean): Change | undefined {
  const { estateId } = useEstate()
  const changes = useQuery({
    queryKey: ['changes', estateId, 'last of', id],
    queryFn: () => api.changes(estateId, { subject: id, limit: '1', most: '1' }),
    enabled: isWanted,
  })
  return isWanted ? changes.data?.changes[0] : undefined
}
