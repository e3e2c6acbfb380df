import { useEffect } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../estate'
import { LAST_ESTATE } from '../features/estates/use-estates'
import { usePaths } from '../lib/paths'
import { store } from '../lib/storage'

/** Remembers that this estate was looked at last, and says on every page of it that it is archived, where it is. */
export function EstateNote() {
  const { to } = usePaths()
  const { estateId, recorded } = useEstate()
  useEffect(() => store(LAST_ESTATE, estateId), [estateId])
  if (!recorded.all('estate')[0]?.archivedAt) return null
  return (
    <p role="status" className="px-4 py-1 bg-accent-wash border-b border-accent text-dense print:hidden">
      This estate is archived: it can be read, and nothing in it is changed. Take it out of the archive under{' '}
      <Link className="link" to={to('setup')}>
        Setup
      </Link>
      .
    </p>
  )
}
