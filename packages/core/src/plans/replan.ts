import { withArticle } from '../units/index.js'
import { attempt, type CommandContext, type EstateEdit } from '../commands/index.js'
import {
  CommandError,
  emptyDifference,
  formatField,
  kinds,
  recordPhrase,
  type Estate,
  type Field,
  type Item,
  type Plan,
} from '../estate/index.js'
import { commandsOf } from './body.js'
import { departures, expectedOf, type Departure } from './expected.js'
import { isAhead, isStale, itemsOf, projectPlan } from './projection.js'

/**
 * Changes a plan and holds what its items were written for to that: an item that was as expected before is so after, for what the plan
 * does to itself makes nothing stale. One that was stale before stays so.
 *
 * @param renewed items that are written with what they do now
 * @throws CommandError of an item in `renewed` that cannot be applied
 */
export function replan(edit: EstateEdit, planId: string, change: () => void, renewed: readonly string[] = []): void {
  const { items } = projectPlan(edit.estate, planId)
  spend(edit, items.length)
  const before = new Map(items.map((place) => [place.item.id, place]))
  change()
  for (const { item, outcome, departures: found } of projectPlan(edit.estate, planId).items) {
    if (renewed.includes(item.id)) {
      if (!outcome.ok) throw outcome.refusal
    } else {
      const was = before.get(item.id)
      if (!outcome.ok || !was || isStale(was)) continue
    }
    if (expectedOf(item) && found.length === 0) continue
    edit.update('item', item.id, { expects: outcome.difference }, '')
  }
}

/** So many items may be looked at again by one list of commands: sixty edits of a plan of a hundred items. */
const LOOKS_MAX = 6_000
const looks = new WeakMap<CommandContext, number>()

/** @throws CommandError `not-allowed` when a list edits large plans so often that nobody else would be served meanwhile */
function spend({ context }: EstateEdit, items: number): void {
  const before = looks.get(context) ?? 0
  if (before > 0 && before + items > LOOKS_MAX)
    throw new CommandError('not-allowed', 'These commands edit large plans too often to be done at once. Send them in several lists.', '')
  looks.set(context, before + items)
}

/** A plan's state follows from its items: under way with the first that is begun, done with the last that is settled. */
export function followItems(edit: EstateEdit, planId: string): void {
  const plan = edit.require('plan', planId, 'planId')
  const items = itemsOf(edit.estate, planId)
  const isTouched = items.some(({ state }) => state !== 'open')
  const isOver = items.every(({ state }) => state === 'done' || state === 'skipped' || state === 'reverted')
  if (plan.state === 'dropped' || (!isTouched && plan.state !== 'done' && plan.state !== 'under way')) return
  edit.update('plan', planId, { state: !isTouched ? 'draft' : isOver ? 'done' : 'under way' }, '')
}

/** Who agreed to a plan agreed to what it says: one that is changed is a draft again. */
export function asDraft(edit: EstateEdit, planId: string): void {
  if (edit.require('plan', planId, 'planId').state === 'agreed') edit.update('plan', planId, { state: 'draft' }, '')
}

/** @throws CommandError `wrong-state` for a plan that was dropped */
export function requireOpenPlan(edit: EstateEdit, planId: string, path: string): Plan {
  const plan = edit.require('plan', planId, path)
  if (plan.state === 'dropped') throw new CommandError('wrong-state', `“${plan.name}” was dropped; reopen it first.`, path)
  return plan
}

/** The item, which is still to be done. @throws CommandError `not-found`, `changed-since` with who settled it */
export function requireAhead(edit: EstateEdit, itemId: string): Item {
  const item = edit.require('item', itemId, 'itemId')
  const batch = edit.estate.referring('batch', 'itemId', itemId).find(({ endedAt }) => endedAt === null)
  if (batch)
    throw new CommandError(
      'wrong-state',
      `The copies of “${item.title}” are followed in batch ${batch.name}; it is done with the last of them.`,
      'itemId',
    )
  if (isAhead(item)) return item
  const by = edit.estate.find('person', item.doneById)?.name
  throw new CommandError(
    'changed-since',
    `“${item.title}” is ${item.state} already${by ? `, by ${by}` : ''}${item.doneRevision ? `, as change ${item.doneRevision}` : ''}; nothing was changed.`,
    'itemId',
  )
}

/**
 * Does what an item says.
 *
 * @param isMeant also when that is not what it was written for
 * @throws CommandError
 */
export function carryOutBody(edit: EstateEdit, item: Item, isMeant: boolean): void {
  const outcome = attempt(edit.estate.edit(), commandsOf(item), edit.context)
  if (!outcome.ok)
    throw new CommandError(
      outcome.refusal.code,
      `“${item.title}” cannot be applied: ${outcome.refusal.message}`,
      outcome.refusal.problems.map((problem) => ({ ...problem, path: 'itemId' })),
    )
  const expected = expectedOf(item)
  const found = expected ? departures(expected, outcome.difference) : []
  const [first] = found
  if (first && !isMeant)
    throw new CommandError(
      'changed-since',
      `The effect of “${item.title}” has changed since it was written: ${sayDeparture(edit.estate, first)}${found.length > 1 ? ` And ${found.length - 1} more.` : ''} Keep it as it is now, rewrite it, or drop it.`,
      'itemId',
    )
  edit.take(outcome.difference)
}

/** A departure in a sentence. @example 'Memory of guest vault: 8 GiB when the item was written, 12 GiB now.' */
export function sayDeparture(estate: Estate, { id, kind, field, how, expected, now }: Departure): string {
  const record = estate.find(kind, id)
  const what = record ? recordPhrase(estate, kind, record) : `${withArticle(kinds[kind].label)} that is not there`
  if (field === null) {
    if (how === 'new') return `${what} would be ${String(now)}, too.`
    return `${what} would not be ${String(expected)} any more.`
  }
  const definition = (kinds[kind].fields as Readonly<Record<string, Field>>)[field]
  const said = (value: unknown) => (definition && value !== null && value !== undefined ? formatField(estate, definition, value) : 'empty')
  const of = `${definition?.label ?? field} of ${what}`
  if (how === 'from') return `${of}: ${said(expected)} when the item was written, ${said(now)} now.`
  if (how === 'to') return `${of} would become ${said(now)}, not ${said(expected)}.`
  return how === 'new' ? `${of} would become ${said(now)}, too.` : `${of} would not become ${said(expected)} any more.`
}

/**
 * Begins an item that is followed beside the plan, such as copies: what it holds is done now, and the item goes on until that is over.
 *
 * @param work does what the item says, and what follows it
 * @throws CommandError `changed-since` when the effect of the item has changed since it was written
 */
export function beginFollowed(edit: EstateEdit, item: Item, work: () => void): void {
  requireAhead(edit, item.id)
  // On an estate of its own: whether it still does what it was written for.
  const outcome = attempt(edit.estate.edit(), commandsOf(item), edit.context)
  const expected = expectedOf(item)
  const [first] = outcome.ok && expected ? departures(expected, outcome.difference) : []
  if (first)
    throw new CommandError(
      'changed-since',
      `The effect of “${item.title}” has changed since it was written: ${sayDeparture(edit.estate, first)} Keep it as it is now, rewrite it, or drop it.`,
      'itemId',
    )
  replan(edit, item.planId, () => {
    work()
    edit.update(
      'item',
      item.id,
      {
        commands: [],
        expects: emptyDifference,
        state: 'under way',
        begunAt: edit.context.now,
        personId: item.personId ?? edit.context.personId ?? null,
      },
      '',
    )
  })
  followItems(edit, item.planId)
}

/** What an item was begun for is over, or goes on after all. */
export function endFollowed(edit: EstateEdit, item: Item, isOver: boolean): void {
  if (isOver === (item.state === 'done')) return
  const at = edit.context.now
  const minutesTaken = item.begunAt ? Math.max(0, (Date.parse(at) - Date.parse(item.begunAt)) / 60_000) : null
  edit.update(
    'item',
    item.id,
    isOver
      ? { state: 'done', doneAt: at, doneById: edit.context.personId ?? null, minutesTaken }
      : { state: 'under way', doneAt: null, doneById: null, minutesTaken: null },
    '',
  )
  followItems(edit, item.planId)
}

/** What was followed ended early: the item failed, and holds again what it was begun from. */
export function failFollowed(edit: EstateEdit, item: Item, reason: string, commands: readonly unknown[]): void {
  edit.update(
    'item',
    item.id,
    {
      state: 'failed',
      reason,
      commands,
      expects: null,
      doneAt: edit.context.now,
      doneById: edit.context.personId ?? null,
    },
    '',
  )
  followItems(edit, item.planId)
}
