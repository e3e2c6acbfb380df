import { sayCommand } from '../commands/index.js'
import type { Estate, Plan } from '../estate/index.js'
import { markdownCell, markdownLine, markdownQuote, markdownTable } from '../formats/index.js'
import { minutesOf } from '../durations/index.js'
import { commandsOf, estateAfter, isAhead, isStale, itemsOf, projectPlan, sayDeparture } from '../plans/index.js'

/**
 * A plan on a page, as Markdown: its items with what each changes, who does it and how long it takes, what became of those that are
 * over, and which are stale.
 *
 * @see CommonMark 0.31; the table as GitHub Flavored Markdown has it
 */
export function planMarkdown(estate: Estate, plan: Plan): string {
  const places = new Map(projectPlan(estate, plan.id).items.map((place) => [place.item.id, place]))
  const after = estateAfter(estate, plan.id)
  const items = itemsOf(estate, plan.id)
  const name = (id: string | null) => estate.find('person', id)?.name ?? ''
  const parts = [
    `# ${markdownCell(plan.name)}`,
    `${plan.state}${plan.ownerId ? `, owner ${markdownCell(name(plan.ownerId))}` : ''}`,
    ...(plan.note === '' ? [] : [markdownQuote(plan.note)]),
    markdownTable(
      ['#', 'Item', 'Kind', 'For', 'Minutes', 'State'],
      items.map((item, index) => [
        String(index + 1),
        item.title,
        item.kind,
        name(item.personId),
        String(item.minutesTaken ?? minutesOf(estate, item).value),
        item.state,
      ]),
    ),
    ...items.map((item, index) => {
      const place = places.get(item.id)
      const lines = commandsOf(item).map((command) => `- [${isAhead(item) ? ' ' : 'x'}] ${markdownLine(sayCommand(after, command))}`)
      const trouble =
        !place || !isStale(place)
          ? []
          : place.outcome.ok
            ? place.departures.map((departure) => `- **Stale.** ${markdownCell(sayDeparture(estate, departure))}`)
            : [`- **Cannot be applied.** ${markdownCell(place.outcome.refusal.message)}`]
      const note = item.note === '' ? [] : [`- ${markdownLine(item.note)}`]
      const reason = item.reason ? [`- ${item.state}: ${markdownCell(item.reason)}`] : []
      return [`## ${index + 1}. ${markdownCell(item.title)}`, '', ...lines, ...trouble, ...reason, ...note].join('\n').trim()
    }),
  ]
  return `${parts.join('\n\n')}\n`
}
