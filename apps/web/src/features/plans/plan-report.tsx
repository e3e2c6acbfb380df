import { formatDuration, minutesOf, type Item } from '@insel/core'
import { useEstate } from '../../estate'
import { Ledger } from '../../ui/ledger'
import { Part } from '../../ui/page'

/** What was planned against what it took, for the items that are over. */
export function PlanReport({ items }: { items: readonly Item[] }) {
  const { recorded } = useEstate()
  const over = items.filter(({ state }) => state === 'done' || state === 'failed' || state === 'skipped')
  if (over.length === 0) return null
  const timed = over.filter(({ minutesTaken }) => minutesTaken !== null)
  const planned = timed.reduce((sum, item) => sum + minutesOf(recorded, item).value, 0)
  const taken = timed.reduce((sum, { minutesTaken }) => sum + (minutesTaken ?? 0), 0)
  return (
    <Part title="Planned against actual">
      {timed.length > 0 && (
        <p className="text-dense py-1">
          {formatDuration(planned * 60)} planned, {formatDuration(taken * 60)} taken for the {timed.length} that were timed.
        </p>
      )}
      <Ledger headings={['item', 'became', 'planned', 'taken', 'why']}>
        {over.map((item) => (
          <tr key={item.id}>
            <td>{item.title}</td>
            <td>{item.state}</td>
            <td className="font-mono whitespace-nowrap">{formatDuration(minutesOf(recorded, item).value * 60)}</td>
            <td className="font-mono whitespace-nowrap">{item.minutesTaken === null ? '' : formatDuration(item.minutesTaken * 60)}</td>
            <td className="max-w-[40ch] break-words">{item.reason ?? ''}</td>
          </tr>
        ))}
      </Ledger>
    </Part>
  )
}
