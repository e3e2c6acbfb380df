import { counted, rules, severities, type Severity } from '@insel/core'
import { useState } from 'react'
import { useFindings } from '../../estate/first-checks'
import { mayRecord, useEstate } from '../../estate'
import { useMost } from '../../lib/printing'
import { useQueryParam } from '../../lib/query-param'
import { Button } from '../../ui/button'
import { Empty, Page, Part, Waiting } from '../../ui/page'
import { AcceptBar, AcceptedFindings } from './accepting'
import { FindingItem } from './finding-item'
import { PendingNote } from './pending-note'

const labels: Readonly<Record<Severity, string>> = { error: 'Errors', warning: 'Warnings', notice: 'Notices' }
const SHOWN = 200

/** What is wrong, errors first. */
export function FindingsPage() {
  const findings = useFindings()
  const most = useMost(SHOWN)
  const [rule, set] = useQueryParam('rule')
  const { basis } = useEstate()
  const [chosenIds, setChosen] = useState<ReadonlySet<string>>(new Set())
  const all = findings.data?.list ?? []
  const accepted = findings.data?.accepted ?? []
  const chosen = all.filter(({ id }) => chosenIds.has(id))
  const toggle = (id: string) =>
    setChosen((before) => {
      const next = new Set(before)
      if (!next.delete(id)) next.add(id)
      return next
    })
  const shown = rule ? all.filter((finding) => finding.ruleId === rule) : all
  if (!findings.data) return <Waiting what="the findings" />
  const present = rules.filter(({ id }) => id === rule || all.some((finding) => finding.ruleId === id))
  return (
    <Page
      title="Findings"
      about={
        all.length === 0
          ? undefined
          : `${severities.map((severity) => `${all.filter((finding) => finding.severity === severity).length} ${labels[severity].toLowerCase()}`).join(', ')}.${accepted.length > 0 ? ` ${accepted.length} accepted.` : ''}`
      }
      actions={
        all.length > 0 && (
          <select data-filter className="field print:hidden" aria-label="Rule" value={rule} onChange={(event) => set(event.target.value)}>
            <option value="">all rules</option>
            {present.map(({ id, title }) => (
              <option key={id} value={id}>
                {title} ({all.filter((finding) => finding.ruleId === id).length})
              </option>
            ))}
          </select>
        )
      }
    >
      <PendingNote of={findings.data.pending} />
      {mayRecord(basis) && shown.length > 0 && (
        <AcceptBar shown={shown} chosen={chosen} choose={(list) => setChosen(new Set(list.map(({ id }) => id)))} />
      )}
      {all.length === 0 && findings.data.pending.length === 0 && (
        <Empty>
          {accepted.length > 0
            ? `No finding is open; ${accepted.length} accepted.`
            : `${counted(rules.length, 'rule')} checked every record and found nothing.`}
        </Empty>
      )}
      {all.length > 0 && shown.length === 0 && (
        <Empty action={<Button onClick={() => set('')}>Show all findings</Button>}>This rule has no findings now.</Empty>
      )}
      {severities.map((severity) => {
        const some = shown.filter((finding) => finding.severity === severity)
        return (
          some.length > 0 && (
            <Part key={severity} title={`${labels[severity]}, ${some.length}`}>
              {some.slice(0, most).map((finding) => (
                <FindingItem
                  key={finding.id}
                  finding={finding}
                  choice={mayRecord(basis) ? { isChosen: chosenIds.has(finding.id), toggle: () => toggle(finding.id) } : undefined}
                />
              ))}
              {some.length > most && <p className="text-soft py-2">And {some.length - SHOWN} more: choose a rule to see fewer.</p>}
            </Part>
          )
        )
      })}
      <AcceptedFindings accepted={accepted} />
    </Page>
  )
}
