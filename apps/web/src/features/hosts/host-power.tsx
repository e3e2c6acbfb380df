import { circuitLoads, CONTINUOUS_SHARE, ELECTRICAL_CAUTION, formatNumber, HANDLING_CAUTION, heat, type Host } from '@insel/core'
import { useEstate } from '../../estate'
import { Part } from '../../ui/page'

export function Power({ host }: { host: Host }) {
  const { estate } = useEstate()
  if (host.kind === 'nested') return null
  const load = circuitLoads(estate).find(({ circuit, site }) => circuit === host.circuit && site === host.site)
  return (
    <Part title="Power and heat">
      <dl className="facts [--label:176px] gap-y-1 text-dense py-1">
        <dt className="text-faint">Draw</dt>
        <dd>{host.drawWatts ? `${host.drawWatts} W, ${formatNumber(heat(host.drawWatts), 0)} BTU/h of heat` : 'not recorded'}</dd>
        <dt className="text-faint">Circuit</dt>
        <dd>
          {!load
            ? 'not recorded'
            : load.share === undefined
              ? `${load.circuit}, rating not recorded`
              : `${load.circuit}: ${formatNumber(load.watts, 0)} of ${formatNumber(load.ratedWatts ?? 0, 0)} W, ${formatNumber(load.share * 100, 0)} %${load.share > CONTINUOUS_SHARE ? ', over the usual 80 %' : ''}, with ${load.hosts.map(({ name }) => name).join(', ')}`}
        </dd>
      </dl>
      <p className="text-small text-soft border-l-2 border-warning pl-2 my-1">
        {ELECTRICAL_CAUTION} {HANDLING_CAUTION}
      </p>
    </Part>
  )
}
