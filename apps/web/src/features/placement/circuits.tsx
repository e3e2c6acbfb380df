import { circuitLoads, CONTINUOUS_SHARE, ELECTRICAL_CAUTION, formatNumber, heat } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Part } from '../../ui/page'
import { LedgerTable } from '../../ui/scrolling'
import { useMost } from '../../lib/printing'

export function Circuits() {
  const most = useMost(12)
  const { estate } = useEstate()
  const { to } = usePaths()
  const loads = circuitLoads(estate)
  const without = estate.all('host').filter(({ circuit, kind, state }) => !circuit && kind === 'physical' && state !== 'retired')
  return (
    <Part title="Power and heat">
      {loads.length === 0 ? (
        <p className="text-soft text-dense py-1">No host has a circuit recorded yet.</p>
      ) : (
        <LedgerTable>
          <thead>
            <tr>
              <th scope="col">circuit</th>
              <th scope="col">site</th>
              <th scope="col">hosts</th>
              <th scope="col" className="!text-right">
                draw
              </th>
              <th scope="col" className="!text-right">
                heat
              </th>
              <th scope="col" className="!text-right">
                of the rating
              </th>
              <th scope="col">notes</th>
            </tr>
          </thead>
          <tbody>
            {loads.map((load) => (
              <tr key={`${load.site} ${load.circuit}`}>
                <td className="font-medium">{load.circuit}</td>
                <td>{load.site}</td>
                <td>
                  {load.hosts.map((host, index) => (
                    <span key={host.id}>
                      {index > 0 && ', '}
                      <Link className="name-link" to={to(`hosts/${host.id}/hardware`)}>
                        {host.name}
                      </Link>
                    </span>
                  ))}
                </td>
                <td className="font-mono text-right">{formatNumber(load.watts, 0)} W</td>
                <td className="font-mono text-right">{formatNumber(heat(load.watts), 0)} BTU/h</td>
                <td
                  className={`font-mono text-right ${load.share !== undefined && load.share > CONTINUOUS_SHARE ? 'text-error font-bold' : ''}`}
                >
                  {load.share === undefined
                    ? 'not recorded'
                    : `${formatNumber(load.share * 100, 0)} % of ${formatNumber(load.ratedWatts ?? 0, 0)} W`}
                </td>
                <td>{load.unknown.length > 0 && `draw not recorded: ${load.unknown.map(({ name }) => name).join(', ')}`}</td>
              </tr>
            ))}
          </tbody>
        </LedgerTable>
      )}
      {without.length > 0 && loads.length > 0 && (
        <p className="text-soft text-dense mt-1">
          Without a circuit:{' '}
          {without
            .slice(0, most)
            .map(({ name }) => name)
            .join(', ')}
          {without.length > most && ` and ${without.length - most} more`}.
        </p>
      )}
      <p className="text-small text-soft border-l-2 border-warning pl-2 my-2">{ELECTRICAL_CAUTION}</p>
    </Part>
  )
}
