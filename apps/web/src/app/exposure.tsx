import { useQuery } from '@tanstack/react-query'
import { api } from '../lib/api'

/** On every page of a server that listens beyond its own machine: there are no accounts, so everybody may change everything. */
export function Exposure() {
  const server = useQuery({ queryKey: ['server'], queryFn: api.server, staleTime: Infinity, retry: 3 })
  if (!server.data?.isOpenToNetwork) return null
  return (
    <p role="note" className="print:hidden bg-sand-wash text-ink border-b border-rule px-4 py-1 text-dense">
      <b className="font-medium">Open to the network.</b> Everybody who reaches this server can read and change everything. Start Insel
      without <code className="font-mono">--open-to-network</code> to keep it to this machine.
    </p>
  )
}
