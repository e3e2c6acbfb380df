import type { ChangedFinding, Finding } from '@insel/core'
import { Mark } from '../../ui/mark'

/** A finding in a line, as what a change raises; where it was there before, with which way it goes. */
export const FindingLine = ({ finding, how }: { finding: Finding; how?: ChangedFinding['how'] | 'new' }) => (
  <p className="flex gap-2 items-baseline py-1 text-dense">
    <Mark of={finding.severity} />
    <span className="min-w-0 break-words">
      {how && <b className="font-medium">{ways[how]}: </b>}
      {finding.sentence}
    </span>
  </p>
)

const ways = { new: 'New', worse: 'Worse', better: 'Better', changed: 'Changed' } as const
