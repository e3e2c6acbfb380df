import { formatMiB, formatNumber, type Fit } from '@insel/core'
import { useState } from 'react'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Mark } from '../../ui/mark'
import { Part } from '../../ui/page'

const SHOWN = 8

/** Every host with whether the guest fits there, best first: what speaks against it, and what would be left. */
export function Places({
  places,
  isAsked,
  chosen,
  choose,
}: {
  places: readonly Fit[]
  isAsked: boolean
  chosen: string
  choose?: (hostId: string) => void
}) {
  const { estate } = useEstate()
  const [isAll, setAll] = useState(false)
  const [opened, setOpened] = useState<string>()
  return (
    <Part title="Possible hosts">
      {!isAsked && <p className="text-faint py-1">Enter name, processors and memory to see where it fits.</p>}
      <ul aria-live="polite">
        {places.slice(0, isAll ? undefined : SHOWN).map((fit) => {
          const remarks = fit.lines.filter((line) => line.verdict !== 'fits')
          const isOpen = opened === fit.hostId
          const shown = isOpen ? fit.lines : remarks.length > 0 ? remarks : fit.lines.slice(0, 1)
          const name = estate.find('host', fit.hostId)?.name
          return (
            <li
              key={fit.hostId}
              className={`grid grid-cols-[auto_84px_minmax(0,1fr)_auto] gap-2.5 items-baseline py-2 border-t border-line first:border-0 ${fit.hostId === chosen ? 'bg-accent-wash/60' : ''}`}
            >
              <Mark of={fit.verdict} />
              {choose ? (
                <button
                  type="button"
                  className="text-left font-medium truncate name-link"
                  aria-pressed={fit.hostId === chosen}
                  onClick={() => choose(fit.hostId)}
                >
                  {name}
                </button>
              ) : (
                <span className="font-medium truncate">{name}</span>
              )}
              <span className="text-dense text-soft">
                {isOpen ? (
                  <span className="grid gap-1">
                    {shown.map((line) => (
                      <span key={line.sentence} className="flex gap-2 items-baseline">
                        <Mark of={line.verdict} /> <span>{line.sentence}</span>
                      </span>
                    ))}
                    <span>
                      Left after: {formatMiB(fit.left.memoryMiB)} of memory, {formatNumber(fit.left.cores)} cores.
                    </span>
                  </span>
                ) : (
                  shown.map((line) => line.sentence).join(' · ')
                )}
              </span>
              <Button
                look="quiet"
                className="!min-h-7 !px-1 text-small"
                aria-expanded={isOpen}
                onClick={() => setOpened(isOpen ? undefined : fit.hostId)}
              >
                {isOpen ? 'less' : 'why'}
                <span className="sr-only"> on {name}</span>
              </Button>
            </li>
          )
        })}
      </ul>
      {places.length > SHOWN && (
        <Button look="quiet" className="!px-0" onClick={() => setAll(!isAll)}>
          {isAll ? `Only the best ${SHOWN}` : `And ${places.length - SHOWN} more hosts, none better`}
        </Button>
      )}
    </Part>
  )
}
