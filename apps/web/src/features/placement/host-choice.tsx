import type { Fit } from '@insel/core'
import { useEstate } from '../../estate'
import { Mark } from '../../ui/mark'

const SHOWN = 12

/** Hosts to choose from, each with what fits and what does not. */
export function HostChoice({
  legend,
  fits,
  chosen,
  choose,
}: {
  legend: string
  fits: readonly Fit[]
  chosen: string
  choose: (hostId: string) => void
}) {
  const { estate } = useEstate()
  return (
    <fieldset>
      <legend className="font-bold mb-1">{legend}</legend>
      {fits.slice(0, SHOWN).map((fit) => {
        const host = estate.find('host', fit.hostId)
        const remarks = fit.lines.filter((line) => line.verdict !== 'fits')
        return (
          <label
            key={fit.hostId}
            className={`grid grid-cols-[auto_auto_100px_minmax(0,1fr)] gap-2.5 items-baseline py-2 border-t border-line cursor-pointer ${fit.hostId === chosen ? 'bg-accent-wash/60' : ''}`}
          >
            <input
              type="radio"
              name="host"
              value={fit.hostId}
              checked={fit.hostId === chosen}
              onChange={() => choose(fit.hostId)}
              className="accent-accent ml-1"
            />
            <Mark of={fit.verdict} />
            <span className="font-medium truncate">{host?.name}</span>
            <span className="text-dense text-soft">
              {(remarks.length > 0 ? remarks : fit.lines).map((line) => line.sentence).join(' · ')}
            </span>
          </label>
        )
      })}
      {fits.length > SHOWN && <p className="text-faint text-dense pt-1">And {fits.length - SHOWN} more hosts, none better.</p>}
    </fieldset>
  )
}
