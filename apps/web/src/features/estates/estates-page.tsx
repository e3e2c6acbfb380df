import { compareNames, counted, formatInstant } from '@insel/core'
import type { EstateSummary } from '@insel/contract'
import { Link } from 'react-router'
import { readStored } from '../../lib/storage'
import { ButtonLink, Button } from '../../ui/button'
import { Part, Trouble, useTitle, Waiting } from '../../ui/page'
import { Wordmark } from '../../ui/wordmark'
import { ImportEstate } from './import-estate'
import { LAST_ESTATE, useEstates } from './use-estates'

/** Every estate of this server: those that are worked on, those that are archived; and the ways to another. */
export function EstatesPage() {
  useTitle('Estates')
  const estates = useEstates()
  if (estates.isPending) return <Waiting what="the estates" />
  const all = [...(estates.data ?? [])].sort((a, b) => compareNames(a.name, b.name))
  const archived = all.filter(({ archivedAt }) => archivedAt !== null)
  const current = all.filter(({ archivedAt }) => archivedAt === null)
  return (
    <main className="p-10 max-w-[820px]">
      <Wordmark />
      <h1 className="mt-6">Estates</h1>
      <p className="text-soft mt-1 mb-5">
        Each holds the hosts, guests and networks of one organisation. What an estate is called, its archive and its removal are under Setup
        in it.
      </p>
      {estates.isError && (
        <Trouble>
          {estates.error.message}
          <Button onClick={() => void estates.refetch()}>Try again</Button>
        </Trouble>
      )}
      {current.length > 0 ? <EstateList estates={current} /> : <p className="text-soft">None yet.</p>}
      <div className="mt-8 flex flex-col gap-4">
        {archived.length > 0 && (
          <Part title={`Archived, ${archived.length}`}>
            <EstateList estates={archived} />
          </Part>
        )}
        <Part title="Another estate">
          <div className="flex flex-wrap gap-4 items-start py-1">
            <ButtonLink to="/?new">New estate</ButtonLink>
            <ImportEstate />
          </div>
        </Part>
      </div>
    </main>
  )
}

function EstateList({ estates }: { estates: readonly EstateSummary[] }) {
  const last = readStored<string>(LAST_ESTATE)
  return (
    <ul>
      {estates.map(({ id, name, revision, updatedAt, archivedAt }) => (
        <li
          key={id}
          className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[minmax(0,1fr)_auto_auto] gap-x-4 py-1.5 border-t border-line first:border-0 items-baseline"
        >
          <Link className="name-link break-words min-w-0" to={`/estates/${id}/board`}>
            {name}
            {id === last && <span className="text-faint text-dense"> shown last</span>}
          </Link>
          <span className="text-dense text-soft tabular-nums">
            {counted(revision, 'change')},{' '}
            {archivedAt === null
              ? `the last ${formatInstant(updatedAt, Intl.DateTimeFormat().resolvedOptions().timeZone)}`
              : `archived ${formatInstant(archivedAt, Intl.DateTimeFormat().resolvedOptions().timeZone)}`}
          </span>
          <Link className="link text-dense" to={`/estates/${id}/setup`}>
            Setup
          </Link>
        </li>
      ))}
    </ul>
  )
}
