import type { ChangedFinding } from '@insel/core'
import { usePlanFindings } from '../../estate/checks'
import { Part } from '../../ui/page'
import { FindingLine } from '../proposals/finding-line'

/** The findings that a plan raises, changes and settles once all of it is carried out. */
export function PlanFindings({ planId }: { planId: string }) {
  const change = usePlanFindings(planId).data
  if (!change) return null
  return (
    <Part title="Findings after the plan">
      <Listed title="New" findings={change.raised.map((finding) => ({ finding }))} none="It raises no finding." />
      {change.changed.length > 0 && <Listed title="Changed" findings={change.changed} />}
      <Listed title="Settled" findings={change.settled.map((finding) => ({ finding }))} none="It settles none." />
    </Part>
  )
}

const SHOWN = 20

type Listing = Pick<ChangedFinding, 'finding'> & Partial<ChangedFinding>

function Listed({ title, findings, none }: { title: string; findings: readonly Listing[]; none?: string }) {
  if (findings.length === 0) return <p className="text-dense text-soft py-1">{none}</p>
  return (
    <div className="py-1">
      <h3>
        {title}, {findings.length}
      </h3>
      <ul>
        {findings.slice(0, SHOWN).map(({ finding, how }) => (
          <li key={finding.id}>
            <FindingLine finding={finding} {...(how && { how })} />
          </li>
        ))}
        {findings.length > SHOWN && <li className="text-dense text-soft">And {findings.length - SHOWN} more.</li>}
      </ul>
    </div>
  )
}
