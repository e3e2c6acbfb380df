import { formatMiB, nestingOf, type Host } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Ledger } from '../../ui/ledger'
import { Part } from '../../ui/page'

export function Nesting({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const layers = nestingOf(estate, host)
  if (layers.length === 0) return null
  return (
    <Part title="Counted on the outer hosts">
      <Ledger headings={['on host', 'as guest', 'vCPU', 'memory']}>
        {layers.map(({ outer, guestName, vcpu, memoryMiB }) => (
          <tr key={outer.id}>
            <td>
              <Link className="name-link" to={to(`hosts/${outer.id}`)}>
                {outer.name}
              </Link>
            </td>
            <td>{guestName}</td>
            <td className="font-mono">{vcpu}</td>
            <td className="font-mono">{formatMiB(memoryMiB)}</td>
          </tr>
        ))}
      </Ledger>
    </Part>
  )
}
