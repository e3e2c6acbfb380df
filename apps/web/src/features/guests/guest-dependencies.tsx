import { type Guest, waitsOf } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Part } from '../../ui/page'

/** What it waits for at the start, and what waits for it. */
export function GuestDependencies({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  if (guest.kind !== 'machine') return null
  const waits = waitsOf(estate, guest)
  const needed = estate.referring('dependency', 'needsId', guest.id).flatMap(({ guestId }) => estate.find('guest', guestId) ?? [])
  const recorded = estate.referring('dependency', 'guestId', guest.id)
  return (
    <Part
      title="Starts after"
      aside={
        <ButtonLink look="quiet" className="!min-h-7" to={to(`records/dependency/new?guestId=${guest.id}`)}>
          Add dependency
        </ButtonLink>
      }
    >
      {waits.length === 0 && <p className="text-soft py-1">Nothing: it can be started first.</p>}
      <ul className="text-dense">
        {waits.map(({ guest: other, seconds, why }) => {
          const dependency = recorded.find(({ needsId }) => needsId === other.id)
          return (
            <li key={other.id} className="py-1 border-t border-line first:border-0">
              <Link className="link" to={to(`guests/${other.id}`)}>
                {other.name}
              </Link>{' '}
              and {seconds} s <span className="text-faint">{why}</span>{' '}
              {dependency && (
                <Link className="link" to={to(`records/dependency/${dependency.id}`)}>
                  Change
                </Link>
              )}
            </li>
          )
        })}
      </ul>
      {needed.length > 0 && <p className="text-dense text-soft py-1">Waits for it: {needed.map(({ name }) => name).join(', ')}.</p>}
    </Part>
  )
}
