import { surveyHost, type Host } from '@insel/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useToday } from '../../estate/today'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Part } from '../../ui/page'
import { SurveyLines, VerdictWord } from './survey-view'

export function Verdict({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const platforms = estate.all('platform')
  const [platformId, setPlatform] = useState(host.platformId)
  const platform = estate.find('platform', platformId)
  const survey = useMemo(() => surveyHost(estate, host, today, platform), [estate, host, today, platform])
  return (
    <Part
      title="Compatibility"
      aside={
        <Link className="text-accent text-dense name-link" to={to('hosts/releases')}>
          All hosts
        </Link>
      }
    >
      <div className="flex items-center gap-3 py-2">
        <select
          className="field !w-44"
          aria-label="Platform to check"
          value={platformId}
          onChange={(event) => setPlatform(event.target.value)}
        >
          {platforms.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <b role="status">
          <VerdictWord survey={survey} />
        </b>
      </div>
      <SurveyLines survey={survey} />
    </Part>
  )
}
