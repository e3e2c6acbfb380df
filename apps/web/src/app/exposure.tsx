import { useQuery } from '@tanstack/react-query'
import { api } from '../lib/api'
import { onDemand } from '../lib/on-demand'

const ExposureNote = onDemand(async () => (await import('./exposure-note')).ExposureNote)

/** On every page of a server that listens beyond its own machine: there are no accounts, so everybody may change everything. */
export function Exposure() {
  const server = useQuery({ queryKey: ['server'], queryFn: api.server, staleTime: Infinity, retry: 3 })
  if (!server.data?.isOpenToNetwork) return null
  return <ExposureNote />
}
