import type { Finding } from '@insel/core'
import { usePlanFindings } from '../../estate/checks'
import { Part } from '../../ui/page'
import { Mark } from '../../ui/mark'

/** The findings that a plan raises, and those it settles, once all of it is carried out. */
export function PlanFindings({ planId }: { planId: string }) {
  const change = usePlanFindings(planId).data
  if (!change) return null
  return (
    <Part title="Findings after the plan">
      <Listed title="New" findings={change.raised} none="It raises no finding." />
      <Listed title="Settled" findings={change.settled} none="It settles none." />
    </Part>
  )
}

const SHOWN = 20

function Listed({ title, findings, none }: { title: string; findings: readonly Finding[]; none: string }) {
  if (findings.length === 0) return <p className="text-dense text-soft py-1">{none}</p>
  return (
    <div className="py-1">
      <h3>
        {title}, {findings.length}
      </h3>
      <ul>
        {findings.slice(0, SHOWN).map((finding) => (
          <li key={finding.id} className="flex gap-2 items-baseline py-1 text-dense">
            <Mark of={finding.severity} /> <span className="min-w-0 break-words">{finding.sentence}</span>
          </li>
        ))}
        {findings.length > SHOWN && <li className="text-dense text-soft">And {findings.length - SHOWN} more.</li>}
      </ul>
    </div>
  )
}
