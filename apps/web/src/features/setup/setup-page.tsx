import { docOf, compareNames, type Field, formatField, kinds, recordTitle } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Page, Part } from '../../ui/page'
import { ThisEstate } from '../estates/this-estate'
import { ShippedPlatforms } from './shipped-platforms'

/** What is behind the figures: the estate's description, its policies, platforms, stores and people. */
export function SetupPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const [described] = estate.all('estate')
  const [policy] = estate.all('policy')
  return (
    <Page title="Setup and policies" about="The thresholds behind the figures. Each is a setting of this estate.">
      <div className="grid lg:grid-cols-2 gap-x-12">
        <div>
          {described && <ThisEstate described={described} />}
          {policy && (
            <Part
              title="Policies"
              aside={
                <ButtonLink look="quiet" className="!min-h-7" to={to(`records/policy/${policy.id}`)}>
                  Change the policies
                </ButtonLink>
              }
            >
              <dl>
                {Object.entries(kinds.policy.fields as Readonly<Record<string, Field>>).map(([name, field]) => (
                  <div
                    key={name}
                    className="grid grid-cols-[minmax(0,2fr)_minmax(0,1fr)] sm:grid-cols-[180px_90px_minmax(0,1fr)] gap-x-3 py-1.5 border-t border-line first:border-0 text-dense"
                  >
                    <dt>{field.label}</dt>
                    <dd className="font-mono">{formatField(estate, field, (policy as unknown as Record<string, unknown>)[name])}</dd>
                    <dd className="text-faint max-sm:col-span-2">{docOf('policy', name)}</dd>
                  </div>
                ))}
              </dl>
            </Part>
          )}
        </div>
        <div>
          {(['platform', 'store', 'person'] as const).map((kind) => (
            <Part
              key={kind}
              title={kinds[kind].plural.charAt(0).toUpperCase() + kinds[kind].plural.slice(1)}
              aside={
                kind === 'person' ? undefined : (
                  <ButtonLink look="quiet" className="!min-h-7" to={to(`records/${kind}/new`)}>
                    Add a {kinds[kind].label}
                  </ButtonLink>
                )
              }
            >
              {estate.count(kind) === 0 && <p className="text-soft py-1">None yet.</p>}
              {kind === 'platform' && (
                <div className="flex gap-2 flex-wrap">
                  <ShippedPlatforms />
                </div>
              )}
              <ul className="text-dense">
                {[...estate.all(kind)]
                  .sort((a, b) => compareNames(a.name, b.name))
                  .map((record) => (
                    <li key={record.id} className="py-1 border-t border-line first:border-0">
                      <Link className="name-link" to={to(`records/${kind}/${record.id}`)}>
                        {recordTitle(estate, kind, record)}
                      </Link>
                      {'hostId' in record && (
                        <span className="text-faint">
                          {' '}
                          {record.kind}
                          {record.hostId ? ` in ${estate.find('host', record.hostId)?.name}` : record.site ? ` at ${record.site}` : ''}
                        </span>
                      )}
                    </li>
                  ))}
              </ul>
            </Part>
          ))}
        </div>
      </div>
    </Page>
  )
}
