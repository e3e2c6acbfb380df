import { compareNames, counted, disksOf, type Forecast, formatBytes, type Store } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Ledger } from '../../ui/ledger'
import { Part } from '../../ui/page'
import { useMost } from '../../lib/printing'

export function Drivers({ forecast }: { forecast: Forecast }) {
  const { to } = usePaths()
  if (forecast.drivers.length === 0) return null
  const all = forecast.drivers.reduce((sum, { perDay }) => sum + perDay, 0)
  return (
    <Part title="What makes it grow">
      <ul className="text-dense">
        {forecast.drivers.slice(0, 10).map(({ guest, perDay }) => (
          <li
            key={guest.id}
            className="grid grid-cols-[minmax(0,1fr)_auto_70px] gap-3 items-center py-1 border-t border-line first:border-0"
          >
            <Link className="name-link" to={to(`guests/${guest.id}/observed`)}>
              {guest.name}
            </Link>
            <span className="font-mono">{formatBytes(perDay * 7)} a week</span>
            <span className="h-2 bg-track" aria-hidden>
              <span className="block h-full bg-fill" style={{ width: `${(perDay / all) * 100}%` }} />
            </span>
          </li>
        ))}
      </ul>
    </Part>
  )
}

export function DisksOn({ store }: { store: Store }) {
  const most = useMost(200)
  const { estate } = useEstate()
  const { to } = usePaths()
  const guests = [...new Set(estate.referring('disk', 'storeId', store.id).map(({ guestId }) => guestId))]
    .flatMap((id) => estate.find('guest', id) ?? [])
    .sort((a, b) => compareNames(a.name, b.name))
  const shown = guests.slice(0, most)
  return (
    <Part title={`Disks of ${counted(guests.length, 'guest')}`}>
      {guests.length === 0 && <p className="text-soft py-1">None.</p>}
      {guests.length > 0 && (
        <Ledger headings={['guest', 'disk', 'size', 'used', 'kind', 'grows a month']}>
          {shown.flatMap((guest) =>
            disksOf(estate, guest.id)
              .filter(({ storeId }) => storeId === store.id)
              .map((disk) => (
                <tr key={disk.id}>
                  <td>
                    <Link className="name-link" to={to(`guests/${guest.id}`)}>
                      {guest.name}
                    </Link>
                  </td>
                  <td>{disk.use}</td>
                  <td className="font-mono">{formatBytes(disk.sizeBytes)}</td>
                  <td className="font-mono">{disk.usedBytes === null ? 'not seen yet' : formatBytes(disk.usedBytes)}</td>
                  <td>{disk.provisioning}</td>
                  <td className="font-mono">{disk.growthBytesPerMonth ? formatBytes(disk.growthBytesPerMonth) : ''}</td>
                </tr>
              )),
          )}
        </Ledger>
      )}
      {guests.length > shown.length && <p className="text-faint text-dense">And {guests.length - shown.length} more guests.</p>}
    </Part>
  )
}
