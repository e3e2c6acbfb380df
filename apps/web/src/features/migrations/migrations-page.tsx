import { migrationNames, timeZoneOf } from '@insel/core'
import type { Migration } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { formatInstant } from '../../lib/time'
import { ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Empty, Page, Part } from '../../ui/page'

const states: readonly (readonly [Migration['state'], string])[] = [
  ['under way', 'In progress'],
  ['done', 'Done'],
  ['given up', 'Cancelled'],
]

/** Moves between hosts: in progress, done, cancelled. */
export function MigrationsPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const migrations = [...estate.all('migration')].sort((a, b) =>
    (b.endedAt ?? b.startedAt ?? '').localeCompare(a.endedAt ?? a.startedAt ?? ''),
  )
  const zone = timeZoneOf(estate)
  return (
    <Page
      title="Migrations"
      about={`Moves of guests and external machines between hosts. Times in ${zone}.`}
      actions={<ButtonLink to={to('records/migration/new')}>Record a migration</ButtonLink>}
    >
      {migrations.length === 0 && (
        <Empty action={<ButtonLink to={to('board')}>Go to the board</ButtonLink>}>
          No migration is recorded yet. Drag a guest to another host on the board, or open a guest and migrate it.
        </Empty>
      )}
      {states.map(([state, label]) => {
        const some = migrations.filter((migration) => migration.state === state)
        return (
          some.length > 0 && (
            <Part key={state} title={`${label}, ${some.length}`}>
              <Ledger headings={['guest', 'from', 'to', 'method', state === 'under way' ? 'since' : 'ended', 'note']}>
                {some.map((migration) => {
                  const names = migrationNames(estate, migration)
                  const at = state === 'under way' ? migration.startedAt : migration.endedAt
                  return (
                    <tr key={migration.id}>
                      <td>
                        {migration.guestId ? (
                          <Link className="font-medium name-link" to={to(`guests/${migration.guestId}`)}>
                            {names.guest}
                          </Link>
                        ) : (
                          <span className="font-medium">
                            {names.guest} <span className="text-faint font-normal">removed</span>
                          </span>
                        )}
                      </td>
                      <td>{names.from ?? 'external'}</td>
                      <td>{names.to}</td>
                      <td>{migration.method}</td>
                      <td className="whitespace-nowrap">{at ? formatInstant(at, zone) : 'not recorded'}</td>
                      <td className="max-w-[36ch]">
                        {migration.note}{' '}
                        <Link className="text-accent underline whitespace-nowrap" to={to(`records/migration/${migration.id}`)}>
                          change
                        </Link>
                      </td>
                    </tr>
                  )
                })}
              </Ledger>
            </Part>
          )
        )
      })}
    </Page>
  )
}
