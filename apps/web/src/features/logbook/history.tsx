import { useQuery } from '@tanstack/react-query'
import { api } from '../../lib/api'
import { mayRecord, useEstate } from '../../estate'
import { now } from '../../lib/time'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Part } from '../../ui/page'
import { ChangeItem, COMMANDS_SHOWN } from './change-item'

const SHOWN = '8'

/**
 * The last changes of one thing and its parts.
 *
 * @param writesAbout what it is, where people write entries about it
 */
export function History({ id, writesAbout }: { id: string; writesAbout?: 'host' | 'guest' }) {
  const { estateId, basis } = useEstate()
  const { to } = usePaths()
  const page = useQuery({
    queryKey: ['changes', estateId, 'of', id],
    queryFn: () => api.changes(estateId, { subject: id, limit: SHOWN, most: String(COMMANDS_SHOWN) }),
  })
  return (
    <Part
      title="History"
      aside={
        <span className="flex gap-1">
          {writesAbout && mayRecord(basis) && (
            <ButtonLink
              look="quiet"
              to={to(`records/entry/new?${writesAbout}Id=${id}&at=${encodeURIComponent(now())}`)}
              className="!min-h-7"
            >
              Write an entry
            </ButtonLink>
          )}
          <ButtonLink look="quiet" to={to(`logbook?subject=${id}`)} className="!min-h-7">
            In the logbook
          </ButtonLink>
        </span>
      }
    >
      {page.isError && <p className="text-soft py-1">{page.error.message}</p>}
      {page.data?.changes.length === 0 && <p className="text-soft py-1">Nothing yet.</p>}
      <ul>
        {page.data?.changes.map((change) => (
          <ChangeItem key={change.revision} change={change} subject={id} />
        ))}
      </ul>
    </Part>
  )
}
