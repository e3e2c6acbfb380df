import { counted } from '@insel/core'
import { Link } from 'react-router'
import { useFindings } from '../../checks/first-checks'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { Mark } from '../findings/mark'

/** The worst that one failed host would do, in a line. */
export function FailoverNote() {
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
