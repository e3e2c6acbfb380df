import type { ReachAnswer, SaidHop } from '@insel/core'
import { Link } from 'react-router'
import { usePaths } from '../../lib/paths'

const STATION: Readonly<Record<SaidHop['machine']['kind'], string>> = {
  guest: 'M5 5h10v10h-10z',
  host: 'M2.5 4h15v12h-15z',
  device: 'M10 4L16 16H4z',
  'site gateway': 'M10 2L18 10L10 18L2 10z',
  outside: 'M10 3a7 7 0 1 1 0 14a7 7 0 1 1 0-14z',
}

/** A path as a chain of stations from top to bottom: each machine, what it does and why; the last one of a failing path is where it fails. */
export function PathView({ hops, title, failure }: { hops: readonly SaidHop[]; title: string; failure: ReachAnswer['failure'] }) {
  return (
    <div className="min-w-0">
      <h3 className="text-soft text-dense mb-1">{title}</h3>
      {hops.length === 0 && !failure && <p className="text-faint text-dense">Nothing to show.</p>}
      <ol aria-label={title}>
        {hops.map((hop, index) => (
          <Station
            key={`${hop.machine.id} ${index}`}
            machine={hop.machine}
            sentence={hop.sentence}
            isLast={index === hops.length - 1 && !failure}
          />
        ))}
        {failure && <Station machine={failure.at} sentence={failure.sentence} isLast isFailing />}
      </ol>
    </div>
  )
}

function Station({
  machine,
  sentence,
  isLast,
  isFailing = false,
}: {
  machine: SaidHop['machine']
  sentence: string
  isLast: boolean
  isFailing?: boolean
}) {
  const { to } = usePaths()
  const page = machine.kind === 'guest' ? `guests/${machine.id}` : machine.kind === 'host' ? `hosts/${machine.id}` : undefined
  return (
    <li className="relative flex gap-3 pb-3">
      {!isLast && <span aria-hidden className="absolute left-[9.25px] top-5 bottom-0 w-px bg-fill" />}
      <svg viewBox="0 0 20 20" className={`size-5 shrink-0 mt-px ${isFailing ? 'text-error' : 'text-fill'}`} aria-hidden>
        <path d={STATION[machine.kind]} fill={isFailing ? 'currentColor' : 'var(--sheet)'} stroke="currentColor" strokeWidth="1.6" />
        {isFailing && <path d="M7 7L13 13M13 7L7 13" stroke="var(--sheet)" strokeWidth="1.8" />}
      </svg>
      <p className="min-w-0 break-words">
        {page ? (
          <Link className="font-medium name-link" to={to(page)}>
            {machine.name}
          </Link>
        ) : (
          <span className="font-medium">{machine.name}</span>
        )}{' '}
        {isFailing && <span className="text-error">fails here: </span>}
        <span className={isFailing ? '' : 'text-soft'}>{sentence}</span>
      </p>
    </li>
  )
}
