import type { Survey } from '@insel/core'
import { Mark } from '../../ui/mark'

const verdictMarks = { supported: 'fits', 'supported with remarks': 'remark', 'not supported': 'no' } as const

/** A survey's lines, the ones against it first. */
export function SurveyLines({ survey }: { survey: Survey }) {
  const order = { no: 0, remark: 1, fits: 2 }
  return (
    <ul>
      {[...survey.lines]
        .sort((a, b) => order[a.verdict] - order[b.verdict])
        .map((line) => (
          <li key={line.sentence} className="flex gap-2 py-1.5 border-t border-line first:border-0 text-dense">
            <span className="pt-0.5">
              <Mark of={line.verdict} />
            </span>
            <span>{line.sentence}</span>
          </li>
        ))}
    </ul>
  )
}

/** A survey's verdict in words, with its mark. */
export const VerdictWord = ({ survey }: { survey: Survey }) => (
  <span className="inline-flex items-center gap-2">
    <Mark of={verdictMarks[survey.verdict]} isLabelled={false} />
    {survey.verdict}
  </span>
)
