import { formatMiB, type Host, inNameOrder } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Ledger } from '../../ui/ledger'
import { Part } from '../../ui/page'
import { Differs } from '../../ui/differs'

export function Guests({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const guests = inNameOrder(estate.referring('guest', 'hostId', host.id))
  return (
    <Part title={`Guests, ${guests.length}`}>
      {guests.length === 0 ? (
        <p className="text-soft py-1">None yet.</p>
      ) : (
        <Ledger headings={['name', 'state', 'purpose', 'vCPU', 'memory']}>
          {guests.map((guest) => (
            <tr key={guest.id}>
              <td>
                <Link className="font-medium name-link" to={to(`guests/${guest.id}`)}>
                  {guest.name}
                </Link>
                <Differs id={guest.id} className="ml-1.5" />
              </td>
              <td>{guest.kind === 'template' ? 'template' : guest.state}</td>
              <td>{guest.purpose}</td>
              <td className="font-mono">{guest.vcpu}</td>
              <td className="font-mono">{formatMiB(guest.memoryMiB)}</td>
            </tr>
          ))}
        </Ledger>
      )}
    </Part>
  )
}
