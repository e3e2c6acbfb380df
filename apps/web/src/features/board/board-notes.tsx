import { counted, inNameOrder } from '@insel/core'
import { Link } from 'react-router'
import { useFindings } from '../../estate/first-checks'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Mark } from '../../ui/mark'

/** What the lanes do not show: guests on no host, and what a failed host would do. */
export const BoardNotes = () => (
  <>
    <UnplacedNote />
    <FailoverNote />
  </>
)

/** So many guests are named. */
const NAMED = 6

/** The guests that are on no host, so that they are in no lane. */
function UnplacedNote() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const unplaced = inNameOrder(
    estate.all('guest').filter(({ hostId, kind, state }) => hostId === null && kind !== 'external' && state !== 'retired'),
  )
  if (unplaced.length === 0) return null
  return (
    <p className="text-dense flex flex-wrap items-center gap-x-1.5 min-h-7">
      On no host:
      {unplaced.slice(0, NAMED).map(({ id, name }) => (
        <Link key={id} className="name-link" to={to(`guests/${id}`)}>
          {name}
        </Link>
      ))}
      {unplaced.length > NAMED && (
        <Link className="link" to={to('guests?filter=unplaced')}>
          and {unplaced.length - NAMED} more
        </Link>
      )}
    </p>
  )
}

/** The worst that one failed host would do, in a line. */
function FailoverNote() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const findings = useFindings()
  const lost = findings.data?.list.filter((finding) => finding.ruleId === 'host.lost-means-guests-lost') ?? []
  const count = (finding: (typeof lost)[number]) => Number(finding.evidence[0]?.value ?? 0)
  const worst = [...lost].sort((a, b) => count(b) - count(a))[0]
  if (!worst) return null
  return (
    <Link
      to={to(`findings?rule=${worst.ruleId}`)}
      className="text-dense flex items-center gap-1.5 min-h-7 hover:underline underline-offset-2"
    >
      <Mark of={worst.severity} />
      If {estate.find('host', worst.subject.id)?.name} fails, {counted(count(worst), 'guest')} {count(worst) === 1 ? 'has' : 'have'} no room
      elsewhere
    </Link>
  )
}
