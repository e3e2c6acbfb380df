import { compareNames, countFailover, formatMiB, sayFailover } from '@insel/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { useFailover } from '../../estate/checks'
import type { Failover as HostFailover } from '../../checks/make-checks'
import { usePaths } from '../../lib/paths'
import { Button } from '../../ui/button'
import { Mark } from '../../ui/mark'
import { Part } from '../../ui/page'
import { useMost } from '../../lib/printing'

export function Failover() {
  const most = useMost(40)
  const outcomes = useFailover()
  const [isAll, setAll] = useState(false)
  const list = [...(outcomes.data ?? [])].sort(
    (a, b) =>
      b.stranded.length - a.stranded.length || b.withoutCopy.length - a.withoutCopy.length || compareNames(a.host.name, b.host.name),
  )
  const bad = list.filter(({ stranded, withoutCopy }) => stranded.length > 0 || withoutCopy.length > 0)
  const safe = list.length - bad.length
  return (
    <Part
      title="Failover"
      aside={
        safe > 0 && bad.length > 0 ? (
          <Button look="quiet" className="!min-h-7" onClick={() => setAll(!isAll)}>
            {isAll ? 'Only hosts whose failure loses guests' : `Show the ${safe} others`}
          </Button>
        ) : undefined
      }
    >
      <p className="text-dense py-1" role="status">
        {sayFailover(
          countFailover(list.map(({ stranded, withoutCopy }) => ({ hasRoom: stranded.length === 0, hasData: withoutCopy.length === 0 }))),
        )}{' '}
        <span className="text-soft">
          Guests are packed onto the remaining hosts one by one, by memory, processors, networks and store space; a place shown here exists.
        </span>
      </p>
      {(isAll ? list : bad).slice(0, most).map((outcome) => (
        <Outcome key={outcome.host.id} outcome={outcome} />
      ))}
    </Part>
  )
}

function Outcome({ outcome: { host, stranded, placed, reasons, withoutCopy } }: { outcome: HostFailover }) {
  const most = useMost(12)
  const { to } = usePaths()
  return (
    <div className="border-t border-line py-2 text-dense">
      <p className="flex gap-2 items-baseline min-h-8">
        <Mark of={stranded.length > 0 ? 'no' : withoutCopy.length > 0 ? 'remark' : 'fits'} />
        <Link className="font-bold name-link" to={to(`hosts/${host.id}`)}>
          {host.name}
        </Link>
        <span>
          {placed} of {placed + stranded.length} running guests have room elsewhere
          {stranded.length > 0 && `, ${formatMiB(stranded.reduce((sum, { memoryMiB }) => sum + memoryMiB, 0))} of memory does not`}
        </span>
      </p>
      {stranded.length > 0 && (
        <ul className="pl-[18px]">
          {stranded.slice(0, most).map((guest) => (
            <li key={guest.id} className="min-h-7">
              <Link className="font-medium name-link" to={to(`guests/${guest.id}`)}>
                {guest.name}
              </Link>{' '}
              <span className="font-mono text-faint">{formatMiB(guest.memoryMiB)}</span> {reasons.get(guest.id)}
            </li>
          ))}
          {stranded.length > most && <li className="text-faint">and {stranded.length - most} more</li>}
        </ul>
      )}
      {withoutCopy.length > 0 && (
        <p className="pl-[18px] text-warning">
          Data gone, no backup outside {host.name}: {withoutCopy.map(({ name }) => name).join(', ')}
        </p>
      )}
    </div>
  )
}
