import { isFindingOn } from '@insel/core'
import { useFindings } from '../../estate/first-checks'
import { Part } from '../../ui/page'
import { FindingItem } from './finding-item'

/** The open findings on some records: a guest and its parts, a host and its stores. */
export function FindingsOf({ ids }: { ids: readonly string[] }) {
  const findings = useFindings()
  const own = findings.data?.list.filter((finding) => isFindingOn(finding, ids)) ?? []
  return (
    <Part title={own.length > 0 ? `Findings, ${own.length}` : 'Findings'}>
      {own.length === 0 && <p className="text-soft py-1">None.</p>}
      {own.map((finding) => (
        <FindingItem key={finding.id} finding={finding} isLinked={!ids.includes(finding.subject.id)} />
      ))}
    </Part>
  )
}
