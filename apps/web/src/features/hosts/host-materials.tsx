import { materialsOf, tickMaterial, type Host } from '@insel/core'
import { useEstate } from '../../estate'
import { useRecord } from '../../estate/use-record'
import { Part, Trouble } from '../../ui/page'
import { Tick } from '../../ui/tick'

export function Materials({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { record, trouble } = useRecord()
  const lines = materialsOf(estate, host)
  if (lines.length === 0) return null
  const missing = lines.filter(({ isAtHand }) => !isAtHand).length
  return (
    <Part
      title="Materials for the build"
      aside={<span className="text-dense text-soft">{missing === 0 ? 'all at hand' : `${missing} to get`}</span>}
    >
      <ul>
        {lines.map((line) => (
          <li key={line.key} className="flex gap-2 py-1 border-t border-line first:border-0 text-dense">
            <Tick
              id={`material-${line.key}`}
              isTicked={line.isAtHand}
              isDisabled={line.there >= line.count}
              onTick={(isTicked) =>
                record(
                  [{ type: 'host.update', id: host.id, changes: { atHand: tickMaterial(host, line.key, isTicked) || null } }],
                  `${line.what}: ${isTicked ? 'at hand' : 'to get'}`,
                )
              }
            />
            <label htmlFor={`material-${line.key}`} className="flex-1">
              <b className="font-medium">
                {line.count} × {line.what}
              </b>
              {line.there > 0 && line.there < line.count && `, ${line.there} there`}
              <span className="block text-faint">{line.because}</span>
              {line.problem && <span className="block text-error">{line.problem}</span>}
            </label>
          </li>
        ))}
      </ul>
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
