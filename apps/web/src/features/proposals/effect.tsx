import type { Command } from '@insel/core'
import { createContext, use } from 'react'
import { usePreview } from '../../estate/checks'
import { useEstate } from '../../estate'
import { DifferenceView } from './difference-view'
import { FindingLine } from './finding-line'
import { Part, Trouble } from '../../ui/page'

/** What cannot be read yet, so that there is nothing to show the effect of: a field’s name, or the line. */
export const UnreadContext = createContext<string | undefined>(undefined)

/** What commands would do before they are applied: findings they raise, change and settle, and the exact difference. */
export function Effect({ commands, withDifference = true }: { commands: readonly Command[] | undefined; withDifference?: boolean }) {
  const { estate } = useEstate()
  const preview = usePreview(commands)
  const unread = use(UnreadContext)
  if (!commands)
    return (
      <p className="text-faint">{unread ? `Preview appears when ${unread} can be read.` : 'Preview appears when all fields are valid.'}</p>
    )
  if (!preview.data) return null
  if (!preview.data.ok) return <Trouble>{preview.data.sentence}</Trouble>
  const { difference, findings } = preview.data
  return (
    <div aria-live="polite">
      <Part title="Findings">
        {findings.raised.length + findings.changed.length === 0 && <p className="text-soft py-1">No new ones.</p>}
        {findings.raised.map((finding) => (
          <FindingLine key={finding.id} finding={finding} how="new" />
        ))}
        {findings.changed.map(({ finding, how }) => (
          <FindingLine key={finding.id} finding={finding} how={how} />
        ))}
        {findings.settled.length > 0 && (
          <p className="text-dense text-soft py-1.5 border-t border-line">
            Settles: {findings.settled.map((finding) => finding.sentence).join(' ')}
          </p>
        )}
      </Part>
      {withDifference && (
        <Part title="Changes">
          <DifferenceView estate={estate} difference={difference} />
        </Part>
      )}
    </div>
  )
}
