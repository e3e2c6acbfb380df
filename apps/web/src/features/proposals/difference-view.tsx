import { manualSteps, describeDifference, type Difference, type Estate, type DescribedRecord } from '@insel/core'
import { useMemo } from 'react'

const signs = { added: '+', changed: '±', removed: '−' } as const
const tones = { added: 'text-notice', changed: 'text-warning', removed: 'text-error' } as const
const SHOWN = 60

/**
 * A difference, record by record: what is added, what changes from what to what, what is removed; and what it leaves to be
 * done by hand, since Insel reaches no machine.
 */
export function DifferenceView({ estate, difference }: { estate: Estate; difference: Difference }) {
  const { said, left } = useMemo(() => {
    const after = estate.with(difference)
    return { said: describeDifference(after, difference), left: manualSteps(after, difference) }
  }, [estate, difference])
  return (
    <>
      <SaidView said={said} />
      {left.length > 0 && (
        <div className="border-l-2 border-sand pl-2.5 my-2 text-dense">
          <p className="text-soft">Then by hand:</p>
          <ul>
            {left.map((sentence) => (
              <li key={sentence}>{sentence}</li>
            ))}
          </ul>
        </div>
      )}
    </>
  )
}

/** The same for records already put in words. */
export function SaidView({ said }: { said: readonly DescribedRecord[] }) {
  if (said.length === 0) return <p className="text-soft">Nothing would change.</p>
  return (
    <ul className="text-dense">
      {said.slice(0, SHOWN).map(({ id, how, title, fields }) => (
        <li key={id} className="flex gap-2 py-0.5">
          <span className={`font-mono font-bold w-3 ${tones[how]}`} aria-label={how}>
            {signs[how]}
          </span>
          <span className="min-w-0 break-words">
            {title}
            {how === 'added' && fields.length > 0 && (
              <span className="block text-soft">{fields.map(({ label, to }) => `${label} ${to}`).join(' · ')}</span>
            )}
            {how !== 'added' &&
              fields.map(({ label, from, to }) => (
                <span key={label} className="block text-soft">
                  {label}: <del className="text-faint">{from}</del> → <ins className="no-underline text-ink">{to}</ins>
                </span>
              ))}
          </span>
        </li>
      ))}
      {said.length > SHOWN && <li className="text-faint">and {said.length - SHOWN} more</li>}
    </ul>
  )
}
