import { compareNames, type Kind, recordTitle, routerName } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Part } from '../../ui/page'

/** What the answers rest on besides segments and addresses: routers, routes, filters, forwarded ports. */
export function TrafficRules() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const routers = [...estate.all('guest'), ...estate.all('host')].filter(({ isRouter }) => isRouter)
  const filters = [...estate.all('filter')].sort(
    (a, b) => compareNames(routerName(estate, a), routerName(estate, b)) || a.position - b.position,
  )
  const add = (kind: Kind, label: string) => (
    <ButtonLink look="quiet" className="!min-h-7" to={to(`records/${kind}/new`)}>
      {label}
    </ButtonLink>
  )
  const item = (kind: Kind, id: string, text: string, about = '') => (
    <li key={id} className="border-t border-line first:border-0 py-1">
      <Link className="name-link" to={to(`records/${kind}/${id}`)}>
        {text}
      </Link>
      {about && <span className="text-faint"> {about}</span>}
    </li>
  )
  const none = <li className="text-faint py-1">None.</li>
  return (
    <div className="grid md:grid-cols-2 xl:grid-cols-4 gap-x-8 text-dense max-w-[1400px]">
      <Part title="Routers">
        <ul>
          {routers.length === 0 && none}
          {routers.map((machine) => (
            <li key={machine.id} className="border-t border-line first:border-0 py-1">
              <Link className="name-link" to={to('vcpu' in machine ? `guests/${machine.id}` : `hosts/${machine.id}`)}>
                {machine.name}
              </Link>
            </li>
          ))}
        </ul>
        <p className="text-faint">
          The site gateway joins every subnet whose gateway no recorded machine has; it does NAT for private IPv4 addresses on the way out.
        </p>
      </Part>
      <Part title="Routes" aside={add('route', 'Add route')}>
        <ul>
          {estate.count('route') === 0 && none}
          {estate.all('route').map((route) => item('route', route.id, recordTitle(estate, 'route', route), `via ${route.via}`))}
        </ul>
      </Part>
      <Part title="Filters" aside={add('filter', 'Add filter line')}>
        <ul>
          {filters.length === 0 && none}
          {filters.map((line) =>
            item(
              'filter',
              line.id,
              `${routerName(estate, line)}, ${line.position}: ${line.action} ${line.protocol ?? 'all'}${line.portFirst === null ? '' : ` ${line.portFirst}${line.portLast === null ? '' : `-${line.portLast}`}`}`,
              `from ${line.fromPrefix ?? 'anywhere'} to ${line.toPrefix ?? 'anywhere'}${line.note ? `: ${line.note}` : ''}`,
            ),
          )}
        </ul>
      </Part>
      <Part title="Forwarded ports" aside={add('forward', 'Add forward')}>
        <ul>
          {estate.count('forward') === 0 && none}
          {estate.all('forward').map((forward) => {
            const adapter = estate.find('adapter', forward.adapterId)
            return item(
              'forward',
              forward.id,
              recordTitle(estate, 'forward', forward),
              `to ${estate.find('guest', adapter?.guestId)?.name ?? ''}, port ${forward.guestPort}`,
            )
          })}
        </ul>
      </Part>
    </div>
  )
}
