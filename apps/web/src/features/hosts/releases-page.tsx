import { compareNames, surveyHost, type SurveyVerdict } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { useToday } from '../../estate/today'
import { ButtonLink } from '../../ui/button'
import { Empty, Page } from '../../ui/page'
import { ShippedPlatforms } from '../setup/shipped-platforms'
import { VerdictWord } from './survey-view'
import { LedgerTable } from '../../ui/scrolling'

const order: Record<SurveyVerdict, number> = { 'not supported': 0, 'supported with remarks': 1, supported: 2 }

/** Which of all hosts can take a release, and what prevents it on the others. */
export function ReleasesPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const [wanted, setWanted] = useQueryParam('platform')
  const platforms = [...estate.all('platform')].sort((a, b) => ((a.releasedOn ?? '') < (b.releasedOn ?? '') ? 1 : -1))
  const platform = estate.find('platform', wanted) ?? platforms[0]
  const rows = platform
    ? estate
        .all('host')
        .filter(({ state }) => state !== 'retired')
        .map((host) => ({ host, survey: surveyHost(estate, host, today, platform) }))
        .sort((a, b) => order[a.survey.verdict] - order[b.survey.verdict] || compareNames(a.host.name, b.host.name))
    : []
  const count = (verdict: SurveyVerdict) => rows.filter(({ survey }) => survey.verdict === verdict).length
  if (!platform)
    return (
      <Page title="Release compatibility">
        <Empty action={<ShippedPlatforms />}>
          No platform is recorded yet: take one that comes with Insel, or add your own under Setup.
        </Empty>
      </Page>
    )
  return (
    <Page
      title={`Compatibility with ${platform.name}`}
      about={
        <span role="status">
          {count('supported')} supported, {count('supported with remarks')} with remarks, {count('not supported')} not.
          {platform.releasedOn && ` Released ${platform.releasedOn}.`} Needs {platform.minLevel}
          {platform.requiredFlags && ` with ${platform.requiredFlags.replaceAll('|', ' or ')}`}.
        </span>
      }
      actions={
        <select className="field !w-52" aria-label="Release" value={platform.id} onChange={(event) => setWanted(event.target.value)}>
          {platforms.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      }
    >
      {rows.length === 0 ? (
        <Empty action={<ButtonLink to={to('hosts/new')}>Add host</ButtonLink>}>No host is recorded yet.</Empty>
      ) : (
        <LedgerTable>
          <thead>
            <tr>
              <th scope="col">host</th>
              <th scope="col">runs</th>
              <th scope="col" className="w-52">
                verdict
              </th>
              <th scope="col">evidence</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ host, survey }) => {
              const lines = survey.lines
                .filter(({ verdict }) => verdict !== 'fits')
                .sort((a, b) => Number(a.verdict === 'remark') - Number(b.verdict === 'remark'))
              return (
                <tr key={host.id}>
                  <td>
                    <Link className="font-medium name-link" to={to(`hosts/${host.id}/hardware`)}>
                      {host.name}
                    </Link>
                    <span className="text-faint"> {host.site}</span>
                  </td>
                  <td>{estate.find('platform', host.platformId)?.name}</td>
                  <td>
                    <VerdictWord survey={survey} />
                  </td>
                  <td>
                    {lines.length === 0 ? (
                      <span className="text-faint">{survey.lines[0]?.sentence}</span>
                    ) : (
                      lines.slice(0, 4).map(({ sentence }) => (
                        <span key={sentence} className="block">
                          {sentence}
                        </span>
                      ))
                    )}
                    {lines.length > 4 && <span className="text-faint">and {lines.length - 4} more</span>}
                  </td>
                </tr>
              )
            })}
          </tbody>
        </LedgerTable>
      )}
    </Page>
  )
}
