import { useQuery } from '@tanstack/react-query'
import { api } from '../../lib/api'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Part } from '../../ui/page'
import { ChangeItem } from './change-item'

const SHOWN = '8'

/** The last changes of one thing. */
export function History({ id }: { id: string }) {
  const { estateId } = useEstate()
  const { to } = usePaths()
  const page = useQuery({ queryKey: ['changes', estateId, 'of', id], queryFn: () => api.changes(estateId, { subject: id, limit: SHOWN }) })
  return (
    <Part
      title="History"
      aside={
        <ButtonLink look="quiet" to={to(`logbook?subject=${id}`)} className="!min-h-7">
          In the logbook
        </ButtonLink>
      }
    >
      {page.isError && <p className="text-soft py-1">{page.error.message}</p>}
      {page.data?.changes.length === 0 && <p className="text-soft py-1">Nothing yet.</p>}
      <ul>
        {page.data?.changes.map((change) => (
          <ChangeItem key={change.revision} change={change} />
        ))}
      </ul>
    </Part>
  )
}
