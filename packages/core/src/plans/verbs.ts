import { defineVerb, newIdField, type CommandContext, type EstateEdit, type Follow, type Names, type VerbInput } from '../commands/index.js'
import {
  bool,
  choice,
  CommandError,
  commands as commandsField,
  itemKinds,
  kinds,
  note as noteField,
  optional,
  orderBetween,
  policyOf,
  real,
  ref,
  refs,
  text,
  type Estate,
  type Item,
} from '../estate/index.js'
import { counted, withArticle } from '../units/index.js'
import { commandsOf } from './body.js'
import { writerOn, writtenBody, type ItemWriter } from './planned-keys.js'
import { after, aheadOf, isAhead, isStale, itemsOf, outcomesOf, projectPlan } from './projection.js'
import { asDraft, carryOutBody, followItems, replan, requireAhead, requireOpenPlan } from './replan.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'plan.write': typeof writePlan
    'plan.agree': typeof agreePlan
    'plan.drop': typeof dropPlan
    'plan.reopen': typeof reopenPlan
    'item.write': typeof writeItem
    'item.rewrite': typeof rewriteItem
    'item.keep': typeof keepItem
    'item.order': typeof orderItem
    'item.split': typeof splitItem
    'item.join': typeof joinItem
    'item.drop': typeof dropItem
    'item.begin': typeof beginItem
    'item.carryOut': typeof carryOutItem
    'item.skip': typeof skipItem
    'item.fail': typeof failItem
    'item.reopen': typeof reopenItem
  }
}

const planId = ref('plan', { label: 'Plan', doc: 'Which plan.' })
const itemId = ref('item', { label: 'Item', doc: 'Which item.' })
const bodyField = commandsField({ label: 'Commands', doc: 'What it changes when it is carried out.' })
const minutesField = optional(real({ label: 'Minutes', doc: 'How long it took.', unit: 'minutes', max: 100_000 }))
const reasonField = text({ label: 'Reason', doc: 'Why, in a few words.', max: 400 })

const titled = (verb: string) => (input: { readonly itemId: string }, names: Names) => `${verb} “${titleOf(input, names)}”`
const titleOf = ({ itemId: id }: { readonly itemId: string }, { estate }: Names) =>
  estate.find('item', id)?.title ?? 'an item removed since'
const planVerb = (verb: string) => (input: { readonly planId: string }, names: Names) =>
  `${verb} plan ${names.nameOf('plan', input.planId)}`

const writePlan = defineVerb({
  doc: 'Adds a plan with all its items, as one change. Ids, MACs and addresses they make are chosen now, as by “item.write”.',
  fields: {
    id: newIdField('plan'),
    name: kinds.plan.fields.name,
    ownerId: kinds.plan.fields.ownerId,
    note: kinds.plan.fields.note,
    items: commandsField({ label: 'Items', doc: 'Its items in their order: an “item.write” of this plan each, without “beforeId”.' }),
  },
  /** @throws CommandError `invalid`, and whatever commands of an item are refused for */
  does(edit, { id, items, ...rest }) {
    const plan = id ?? edit.context.newId()
    edit.add('plan', { ...rest, id: plan }, '')
    const write = writerOn(edit.estate, edit.context)
    let order: string | null = null
    for (const [index, given] of items.entries()) {
      const path = `items.${index}`
      const { type, id: itemId, beforeId, commands, ...fields } = given as unknown as { type: string } & VerbInput<'item.write'>
      if (type !== 'item.write' || fields.planId !== plan || beforeId)
        throw new CommandError('invalid', 'The items of a new plan are “item.write” with its id, and without “beforeId”.', path)
      const made = itemId ?? edit.context.newId()
      try {
        order = orderBetween(order, null)
        edit.add('item', { ...fields, id: made, order, ...writtenBody(write, made, fields.kind, commands) }, '')
      } catch (error) {
        throw error instanceof CommandError ? error.under(path) : error
      }
    }
  },
  words: ({ name, items }) => `Add plan ${name} with ${counted(items?.length ?? 0, 'item')}`,
})

const agreePlan = defineVerb({
  doc: 'Agrees to a plan as it is. Changing its items makes it a draft again.',
  fields: { planId },
  /** @throws CommandError `wrong-state` when it is no draft, has no items, or one of them is stale */
  does(edit, { planId: id }) {
    const plan = edit.require('plan', id, 'planId')
    if (plan.state !== 'draft')
      throw new CommandError('wrong-state', `“${plan.name}” is ${plan.state}; only a draft is agreed to.`, 'planId')
    const { items } = projectPlan(edit.estate, id)
    if (items.length === 0) throw new CommandError('wrong-state', `“${plan.name}” has no item that is to be done; add one first.`, 'planId')
    const stale = items.find(isStale)
    if (stale)
      throw new CommandError(
        'wrong-state',
        `${stale.outcome.ok ? `The effect of “${stale.item.title}” has changed since it was written.` : `“${stale.item.title}” cannot be applied: ${stale.outcome.refusal.message}`} Keep it as it is now, rewrite it, or drop it.`,
        'planId',
      )
    edit.update('plan', id, { state: 'agreed' }, '')
  },
  words: planVerb('Agree to'),
})

const dropPlan = defineVerb({
  doc: 'Drops a plan: nothing of it is carried out any more. It can be reopened.',
  fields: { planId },
  does(edit, { planId: id }) {
    requireOpenPlan(edit, id, 'planId')
    edit.update('plan', id, { state: 'dropped' }, '')
  },
  words: planVerb('Drop'),
})

const reopenPlan = defineVerb({
  doc: 'Resumes a dropped plan, as a draft or as far as it was.',
  fields: { planId },
  /** @throws CommandError `wrong-state` when it was not dropped */
  does(edit, { planId: id }) {
    const plan = edit.require('plan', id, 'planId')
    if (plan.state !== 'dropped') throw new CommandError('wrong-state', `“${plan.name}” is ${plan.state}, not dropped.`, 'planId')
    edit.update('plan', id, { state: 'draft' }, '')
    followItems(edit, id)
  },
  words: planVerb('Reopen'),
})

/** By the step that wrote a plan's last item, what writes the next one: items written one after the other build on each other. */
const writersBehind = new WeakMap<object, Behind>()
interface Behind {
  readonly planId: string
  readonly context: CommandContext
  readonly write: ItemWriter
  /** The order of the last item. */
  readonly order: string
}

/** What wrote the last item of a plan, where nothing was done since; a list of items takes time that grows with them, then. */
function writerBehind(edit: EstateEdit, planId: string): Behind | undefined {
  const kept = edit.lastStep && writersBehind.get(edit.lastStep)
  return kept?.planId === planId && kept.context === edit.context ? kept : undefined
}

const writeItem = defineVerb({
  doc: 'Adds an item to a plan. Ids, MACs and addresses it makes are chosen now, apart from those of all open plans.',
  fields: {
    id: newIdField('item'),
    planId,
    kind: choice(itemKinds, { label: 'Kind', doc: 'What it is.', default: 'change' }),
    title: text({ label: 'Title', doc: 'What is to be done.', max: 200 }),
    commands: bodyField,
    beforeId: optional(ref('item', { label: 'Before', doc: 'The item it goes before; at the end when left out.' })),
    afterIds: refs('item', { label: 'After', doc: 'Items that must be done before.' }),
    personId: optional(ref('person', { label: 'For', doc: 'Who shall do it.' })),
    minutes: optional(real({ label: 'Minutes', doc: 'How long it should take.', unit: 'minutes', max: 100_000 })),
    decideBy: kinds.item.fields.decideBy,
    otherwise: kinds.item.fields.otherwise,
    isFinal: kinds.item.fields.isFinal,
    note: noteField(),
  },
  /** @throws CommandError `not-found`, `not-allowed`, and whatever its commands are refused for */
  does(edit, { id, planId: plan, commands, beforeId, kind, ...rest }) {
    requireOpenPlan(edit, plan, 'planId')
    const made = id ?? edit.context.newId()
    const isLast = beforeId === null
    const behind = isLast ? writerBehind(edit, plan) : undefined
    const write = behind?.write ?? writerOn(before(edit.estate, plan, beforeId), edit.context)
    const order = behind ? orderBetween(behind.order, null) : orderBefore(edit.estate, plan, beforeId)
    const written = writtenBody(write, made, kind, commands)
    asDraft(edit, plan)
    const add = () => edit.add('item', { ...rest, id: made, planId: plan, ...written, order }, '')
    // What comes last changes nothing for those before it.
    if (isLast) add()
    else replan(edit, plan, add, [made])
    // A draft has no item that was begun, and another open one leaves it a draft.
    if (edit.require('plan', plan, 'planId').state !== 'draft') followItems(edit, plan)
    if (isLast && edit.lastStep) writersBehind.set(edit.lastStep, { planId: plan, context: edit.context, write, order })
  },
  words: ({ title, planId: id }, { nameOf }) => `Add “${title}” to plan ${nameOf('plan', id)}`,
})

const rewriteItem = defineVerb({
  doc: 'Rewrites an item: other commands, for the record as it is now.',
  fields: { itemId, commands: bodyField },
  does(edit, { itemId: id, commands }) {
    const item = requireAhead(edit, id)
    const write = writerOn(before(edit.estate, item.planId, id), edit.context, (other) => other.id === id)
    const written = writtenBody(write, id, item.kind, commands)
    asDraft(edit, item.planId)
    replan(edit, item.planId, () => edit.update('item', id, { ...written }, ''), [id])
  },
  words: titled('Rewrite'),
})

const keepItem = defineVerb({
  doc: 'Keeps an item that became stale: what it does now is what it is for.',
  fields: { itemId },
  does(edit, { itemId: id }) {
    const { planId: plan } = requireAhead(edit, id)
    replan(edit, plan, () => asDraft(edit, plan), [id])
  },
  words: titled('Keep'),
})

const orderItem = defineVerb({
  doc: 'Puts an item before another of its plan, or at the end.',
  fields: {
    itemId,
    beforeId: optional(ref('item', { label: 'Before', doc: 'The item it goes before; at the end when left out.' })),
  },
  /** @throws CommandError `invalid` when the other is of another plan */
  does(edit, { itemId: id, beforeId }) {
    const item = requireAhead(edit, id)
    if (beforeId === id) return
    const order = orderBefore(edit.estate, item.planId, beforeId, id)
    asDraft(edit, item.planId)
    replan(edit, item.planId, () => edit.update('item', id, { order }, ''))
  },
  words: titled('Move'),
})

const splitItem = defineVerb({
  doc: 'Parts an item in two: its commands from a place on become an item after it.',
  fields: {
    itemId,
    id: newIdField('item'),
    at: real({ label: 'At', doc: 'How many commands stay.', unit: '', min: 1, max: 2000 }),
    title: optional(text({ label: 'Title', doc: 'The title of the second part.', max: 200 })),
  },
  /** @throws CommandError `invalid` when nothing would stay or go */
  does(edit, { itemId: id, id: newId, at, title }) {
    const item = requireAhead(edit, id)
    const body = commandsOf(item)
    if (!Number.isInteger(at) || at >= body.length)
      throw new CommandError(
        'invalid',
        `“${item.title}” has ${counted(body.length, 'command')}; split it after one of them, not after ${at}.`,
        'at',
      )
    const made = newId ?? edit.context.newId()
    const items = itemsOf(edit.estate, item.planId)
    const next = items[items.findIndex((other) => other.id === id) + 1]
    asDraft(edit, item.planId)
    replan(
      edit,
      item.planId,
      () => {
        edit.update('item', id, { commands: body.slice(0, at) }, '')
        edit.copy(
          'item',
          item,
          {
            id: made,
            title: title ?? `${item.title}, part 2`.slice(0, 200),
            commands: body.slice(at),
            afterIds: [id],
            order: orderBetween(item.order, next?.order ?? null),
            expects: null,
            state: 'open',
            begunAt: null,
          },
          '',
        )
      },
      [id, made],
    )
  },
  words: titled('Split'),
})

const joinItem = defineVerb({
  doc: 'Joins an item with the one after it.',
  fields: { itemId },
  /** @throws CommandError `wrong-state` when no open item follows, or it is of another kind */
  does(edit, { itemId: id }) {
    const item = requireAhead(edit, id)
    const ahead = aheadOf(edit.estate, item.planId)
    const next = ahead[ahead.findIndex((other) => other.id === id) + 1]
    if (!next) throw new CommandError('wrong-state', `Nothing comes after “${item.title}” that it could be joined with.`, 'itemId')
    if (next.kind !== item.kind)
      throw new CommandError(
        'wrong-state',
        `“${item.title}” is ${withArticle(item.kind)} and “${next.title}” is ${withArticle(next.kind)}; alike ones can be joined.`,
        'itemId',
      )
    asDraft(edit, item.planId)
    replan(
      edit,
      item.planId,
      () => {
        forget(edit, next.id, id)
        edit.update(
          'item',
          id,
          {
            commands: [...commandsOf(item), ...commandsOf(next)],
            afterIds: [...item.afterIds, ...next.afterIds.filter((other) => other !== id)],
            minutes: item.minutes === null && next.minutes === null ? null : (item.minutes ?? 0) + (next.minutes ?? 0),
          },
          '',
        )
        edit.remove('item', next.id)
      },
      [id],
    )
  },
  words: titled('Join to the next'),
})

const dropItem = defineVerb({
  doc: 'Takes an item out of its plan. What was done or tried stays as history.',
  fields: { itemId },
  does(edit, { itemId: id }) {
    const item = requireAhead(edit, id)
    if (item.state !== 'open')
      throw new CommandError('wrong-state', `“${item.title}” is under way; finish it, skip it or record that it failed.`, 'itemId')
    asDraft(edit, item.planId)
    replan(edit, item.planId, () => {
      forget(edit, id, null)
      edit.remove('item', id)
    })
    followItems(edit, item.planId)
  },
  words: titled('Drop'),
})

const beginItem = defineVerb({
  doc: 'Begins an item: somebody is at it.',
  fields: { itemId },
  does(edit, { itemId: id }) {
    const item = requireReady(edit, id)
    if (item.state === 'under way') return
    edit.update('item', id, { state: 'under way', begunAt: edit.context.now, personId: item.personId ?? edit.context.personId ?? null }, '')
    followItems(edit, item.planId)
  },
  words: titled('Begin'),
})

const carryOutItem = defineVerb({
  doc: 'Carries an item out: its commands are applied, and it is done. Refused when that is not what it was written for.',
  fields: {
    itemId,
    minutes: minutesField,
    note: optional(text({ label: 'Note', doc: 'For whoever comes next.', shape: 'note', max: 4000 })),
    isMeant: bool({ label: 'Even so', doc: 'Also when it does not do what it was written for.', default: false }),
  },
  /** @throws CommandError `changed-since` when it was settled meanwhile or became stale, `wrong-state` when something has to be done before */
  does(edit, { itemId: id, minutes, note, isMeant }) {
    const item = requireReady(edit, id)
    const settled = { ...settledNow(edit, item, minutes), doneRevision: edit.context.revision, ...(note === null ? {} : { note }) }
    const work = () => {
      carryOutBody(edit, item, isMeant)
      edit.update('item', id, { ...settled, state: 'done' }, '')
    }
    // The next item of a plan, as it was written: those after it need not be looked at.
    if (isNextAsWritten(edit.estate, item)) work()
    else replan(edit, item.planId, work)
    followItems(edit, item.planId)
  },
  words: titled('Carry out'),
})

const skipItem = defineVerb({
  doc: 'Skips an item, with the reason.',
  fields: { itemId, reason: reasonField },
  does: (edit, { itemId: id, reason }) => settle(edit, id, 'skipped', reason, null),
  words: titled('Skip'),
})

const failItem = defineVerb({
  doc: 'Records that an item failed, with the reason: nothing of it is recorded.',
  fields: { itemId, reason: reasonField, minutes: minutesField },
  does: (edit, { itemId: id, reason, minutes }) => settle(edit, id, 'failed', reason, minutes),
  words: titled('Record as failed'),
})

const reopenItem = defineVerb({
  doc: 'Reopens an item that was skipped, failed or reverted, for the record as it is now.',
  fields: { itemId },
  /** @throws CommandError `wrong-state` for one that is done or still to be done */
  does(edit, { itemId: id }) {
    const item = edit.require('item', id, 'itemId')
    if (isAhead(item) || item.state === 'done')
      throw new CommandError(
        'wrong-state',
        `“${item.title}” is ${item.state}; only what was skipped, failed or reverted is reopened.`,
        'itemId',
      )
    requireOpenPlan(edit, item.planId, 'itemId')
    const reset = { state: 'open', begunAt: null, doneById: null, doneAt: null, doneRevision: null, minutesTaken: null, reason: null }
    replan(edit, item.planId, () => edit.update('item', id, reset, ''))
    // Whoever opens it has looked at it. One that cannot be applied stays as it was written, and says so.
    const outcome = projectPlan(edit.estate, item.planId, id).items.at(-1)?.outcome
    if (outcome?.ok) edit.update('item', id, { expects: outcome.difference }, '')
    followItems(edit, item.planId)
  },
  words: titled('Reopen'),
})

/** What was agreed to: who does it, how long it takes and notes may change. */
const AGREED_TO = ['title', 'afterIds', 'decideBy', 'otherwise', 'isFinal'] as const

/** An agreed plan whose item is changed by itself is a draft again. */
export const itemChanged: Follow = (edit, record, changes) => {
  const { planId: id } = record as Item
  if (AGREED_TO.some((field) => field in changes)) asDraft(edit, id)
}

/** What is done to plans and items beside changing their fields. */
export const planVerbs = {
  'plan.write': writePlan,
  'plan.agree': agreePlan,
  'plan.drop': dropPlan,
  'plan.reopen': reopenPlan,
  'item.write': writeItem,
  'item.rewrite': rewriteItem,
  'item.keep': keepItem,
  'item.order': orderItem,
  'item.split': splitItem,
  'item.join': joinItem,
  'item.drop': dropItem,
  'item.begin': beginItem,
  'item.carryOut': carryOutItem,
  'item.skip': skipItem,
  'item.fail': failItem,
  'item.reopen': reopenItem,
}

/** The estate as it is after the items of a plan before one of them; after all of them where none is named. */
function before(estate: Estate, plan: string, beforeId: string | null): Estate {
  const ahead = aheadOf(estate, plan)
  const at = beforeId === null ? -1 : ahead.findIndex(({ id }) => id === beforeId)
  return after(estate, outcomesOf(estate, at < 0 ? ahead : ahead.slice(0, at))).finish()
}

/** The key of a place before an item of a plan, or at its end. @throws CommandError `invalid` when the item is of another plan */
function orderBefore(estate: Estate, plan: string, beforeId: string | null, moved?: string): string {
  const items = itemsOf(estate, plan).filter(({ id }) => id !== moved)
  const at = beforeId === null ? items.length : items.findIndex(({ id }) => id === beforeId)
  if (at < 0) throw new CommandError('invalid', 'The item it should go before is not in this plan.', 'beforeId')
  return orderBetween(items[at - 1]?.order ?? null, items[at]?.order ?? null)
}

/** Makes items that waited for one wait for another, or for none. */
function forget(edit: EstateEdit, gone: string, instead: string | null): void {
  const { planId: plan } = edit.require('item', gone, 'itemId')
  for (const item of itemsOf(edit.estate, plan)) {
    if (!item.afterIds.includes(gone)) continue
    const others = item.afterIds.filter((id) => id !== gone && id !== instead)
    edit.update('item', item.id, { afterIds: instead !== null && item.id !== instead ? [...others, instead] : others }, '')
  }
}

/** The item, which may be begun or done now. @throws CommandError `changed-since`, `wrong-state` */
function requireReady(edit: EstateEdit, id: string): Item {
  const item = requireAhead(edit, id)
  const plan = requireOpenPlan(edit, item.planId, 'itemId')
  if (plan.state === 'draft' && policyOf(edit.estate).carryOutAgreedOnly)
    throw new CommandError(
      'wrong-state',
      `“${plan.name}” is a draft, and the policies ask for an agreed plan; agree to it first.`,
      'itemId',
    )
  const waitsFor = item.afterIds
    .map((other) => edit.estate.find('item', other))
    .find((other) => other && (isAhead(other) || other.state === 'failed'))
  if (waitsFor)
    throw new CommandError('wrong-state', `“${item.title}” comes after “${waitsFor.title}”, which is ${waitsFor.state}.`, 'itemId')
  return item
}

/** Whether an item is the next of its plan and does what it was written for. */
function isNextAsWritten(estate: Estate, item: Item): boolean {
  const [next] = aheadOf(estate, item.planId)
  if (next?.id !== item.id) return false
  const place = projectPlan(estate, item.planId, item.id).items[0]
  return place !== undefined && !isStale(place)
}

const MS_PER_MINUTE = 60_000

/** By whom and when an item is settled, and how long it took: as said, or since it was begun. */
function settledNow({ context }: EstateEdit, { begunAt }: Item, minutes: number | null) {
  const since = begunAt === null ? null : Math.max(0, Math.round((Date.parse(context.now) - Date.parse(begunAt)) / MS_PER_MINUTE))
  return { doneById: context.personId ?? null, doneAt: context.now, minutesTaken: minutes ?? since }
}

function settle(edit: EstateEdit, id: string, state: 'skipped' | 'failed', reason: string, minutes: number | null): void {
  const item = requireAhead(edit, id)
  requireOpenPlan(edit, item.planId, 'itemId')
  replan(edit, item.planId, () => edit.update('item', id, { ...settledNow(edit, item, minutes), state, reason }, ''))
  followItems(edit, item.planId)
}
