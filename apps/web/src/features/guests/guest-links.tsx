import type { Guest } from '@insel/core'
import { Link } from 'react-router'
import { usePaths } from '../../lib/paths'

/** Guests by name, each a link. */
export function GuestLinks({ guests }: { guests: readonly Guest[] }) {
  const { to } = usePaths()
  return guests.map(({ id, name }, index) => (
    <span key={id}>
      {index > 0 && ', '}
      <Link className="link" to={to(`guests/${id}`)}>
        {name}
      </Link>
    </span>
  ))
}
