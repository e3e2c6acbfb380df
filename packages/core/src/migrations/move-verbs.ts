import { isBeforeCutOver, isOpenMove } from '../capacity/index.js'
import { attemptIn, defineVerb, newIdField, removeWithReferring, type Command, type EstateEdit, type Follow } from '../commands/index.js'
import {
  dayOf,
  bool,
  choice,
  CommandError,
  commands as commandsField,
  derivedId,
  isPoweredOn,
  kinds,
  migrationNames,
  moveMethods,
  optional,
  ref,
  refMap,
  text,
  type Difference,
  type Guest,
  type Migration,
} from '../estate/index.js'
import { methodFacts } from '../methods/index.js'
import { beginFollowed, commandsOf, endFollowed, failFollowed } from '../plans/index.js'
import { counted } from '../units/index.js'
import { backOfCutOver, hostOfMapping, leftoversOf, passOver, type Mapping } from './pass-over.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'guest.migrate': typeof migrateGuest
    'migration.begin': typeof beginMove
    'migration.copy': typeof startCopying
    'migration.cutOver': typeof cutOver
    'migration.verify': typeof verifyMove
    'migration.close': typeof closeMove
    'migration.rollBack': typeof rollBack
    'migration.cancel': typeof cancelMove
  }
}

const migrationId = ref('migration', { label: 'Migration', doc: 'Which move.' })
const reasonField = text({ label: 'Reason', doc: 'Why, in a few words.', max: 400 })
const methodField = choice(moveMethods, { label: 'Method', doc: 'The way it is copied.', default: 'cold copy' })

/** What a move does, asked for in the same way when it is recorded as done and when it is begun. */
const mappingFields = {
  toHostId: optional(ref('host', { label: 'To', doc: 'The host it goes to; left out where a machine takes over.' })),
  becomesId: optional(
    ref('guest', { label: 'Becomes', doc: 'The guest or external machine that takes over; left out where the guest itself goes.' }),
  ),
  stores: optional(refMap('disk', 'store', { label: 'Stores', doc: 'For each disk that has to move, its new store.' })),
  networks: optional(refMap('adapter', 'network', { label: 'Networks', doc: 'For an adapter that changes its network, the new one.' })),
  adapters: optional(
    refMap('adapter', 'adapter', {
      label: 'Adapters',
      doc: 'For an adapter of the source, that of the target; by their numbers when left out.',
    }),
  ),
  takesName: bool({ label: 'Takes the name', doc: 'Whether what takes over gets the source’s name.', default: true }),
  takesAddresses: bool({ label: 'Takes the addresses', doc: 'Whether what takes over gets the source’s addresses.', default: true }),
  takesMacs: bool({ label: 'Takes the MACs', doc: 'Whether what takes over gets the source’s MACs.', default: false }),
  also: commandsField({
    label: 'Changes besides',
    doc: 'What else changes at that moment: sizes, bus, models, processors, memory, firmware, addresses.',
  }),
  method: methodField,
}

const migrateGuest = defineVerb({
  doc: 'Records a move that was done: the guest to another host, its disks to stores that host reaches, its adapters to networks as mapped; or another machine in its place.',
  fields: { guestId: ref('guest', { label: 'Guest', doc: 'What is moved.' }), id: newIdField('migration'), ...mappingFields },
  /** @throws CommandError `not-found`, `not-allowed`, `wrong-state`, `invalid` when a disk's store is out of the target's reach */
  does(edit, { id, ...mapping }) {
    const guest = edit.require('guest', mapping.guestId, 'guestId')
    const { hostId: fromHostId } = guest
    passOver(edit, mapping as unknown as Mapping)
    if (guest.state !== 'planned')
      edit.add(
        'migration',
        {
          ...(id ? { id } : {}),
          guestId: guest.id,
          fromHostId,
          toHostId: hostOfMapping(edit.estate, mapping)?.id ?? null,
          becomesId: mapping.becomesId,
          method: mapping.method,
          state: 'closed',
          endedAt: edit.context.now,
        },
        '',
      )
  },
  words: ({ guestId, toHostId, becomesId }, { nameOf }) =>
    `Migrate ${nameOf('guest', guestId)} to ${becomesId ? nameOf('guest', becomesId) : nameOf('host', toHostId)}`,
})

const beginMove = defineVerb({
  doc: 'Begins a move: target, method and mapping are fixed, room is held for it, and it is followed from then on.',
  fields: {
    id: newIdField('migration'),
    guestId: optional(ref('guest', { label: 'Machine', doc: 'What is moved; left out with an item.' })),
    ...mappingFields,
    itemId: optional(
      ref('item', { label: 'Item', doc: 'The item of a plan that holds the move: a “guest.migrate”, and what is added before it.' }),
    ),
    previousId: kinds.migration.fields.previousId,
    ownerId: kinds.migration.fields.ownerId,
    soakDays: kinds.migration.fields.soakDays,
    decideBy: kinds.migration.fields.decideBy,
    otherwise: kinds.migration.fields.otherwise,
    downtimeMinutes: kinds.migration.fields.downtimeMinutes,
    estimateSeconds: kinds.migration.fields.estimateSeconds,
    estimateLateSeconds: kinds.migration.fields.estimateLateSeconds,
    totalBytes: kinds.migration.fields.totalBytes,
    note: kinds.migration.fields.note,
  },
  /** @throws CommandError `wrong-state` when it is moved already, `invalid`, and whatever its cut-over would be refused for */
  does(edit, input) {
    const { id, guestId, itemId } = input
    if (!itemId === !guestId)
      throw new CommandError('invalid', 'Name an item that holds the move, or the machine that is moved.', 'guestId')
    const item = itemId ? edit.require('item', itemId, 'itemId') : undefined
    const held = item ? moveIn(commandsOf(item)) : undefined
    const mapping = held?.mapping ?? mappingOf({ ...input, guestId: guestId ?? '' })
    const made = id ?? edit.context.newId()
    const work = () => {
      if (held && held.before.length > 0) edit.take(attemptIn(edit, held.before, 'itemId'))
      const source = edit.require('guest', mapping.guestId, 'guestId')
      requireNotMoved(edit, source)
      requirePossible(edit, source, mapping)
      const target = mapping.becomesId ? edit.estate.find('guest', mapping.becomesId) : undefined
      if (target && (target.kind === 'template' || isPoweredOn(target) || target.state === 'retired'))
        throw new CommandError(
          'wrong-state',
          `${target.name} is ${target.kind === 'template' ? 'a template' : target.state}; what takes over is planned or stopped until the cut-over.`,
          'becomesId',
        )
      if (target?.state === 'planned') edit.update('guest', target.id, { state: 'being copied' }, '')
      const {
        previousId,
        ownerId,
        soakDays,
        decideBy,
        otherwise,
        downtimeMinutes,
        estimateSeconds,
        estimateLateSeconds,
        totalBytes,
        note,
      } = input
      edit.add(
        'migration',
        {
          id: made,
          guestId: source.id,
          fromHostId: source.hostId,
          toHostId: hostOfMapping(edit.estate, mapping)?.id ?? null,
          becomesId: mapping.becomesId ?? null,
          method: mapping.method ?? 'cold copy',
          state: 'begun',
          made: [{ type: 'guest.migrate', ...mapping }],
          itemId: item?.id ?? null,
          ownerId: ownerId ?? edit.context.personId ?? null,
          startedAt: edit.context.now,
          ...{ previousId, soakDays, decideBy, otherwise, downtimeMinutes, estimateSeconds, estimateLateSeconds, totalBytes, note },
        },
        '',
      )
      edit.add(
        'sheet',
        { id: derivedId(made, 'sheet'), migrationId: made, work: 'move', startedAt: edit.context.now, resumedAt: edit.context.now },
        '',
      )
    }
    if (item) beginFollowed(edit, item, work)
    else work()
  },
  words: ({ guestId, toHostId, becomesId }, { nameOf }) =>
    guestId
      ? `Begin migration of ${nameOf('guest', guestId)} to ${becomesId ? nameOf('guest', becomesId) : nameOf('host', toHostId)}`
      : 'Begin migration',
})

const startCopying = defineVerb({
  doc: 'Records that copying has begun. Errors among the prechecks are settled, or accepted with a reason, before.',
  fields: { migrationId, totalBytes: kinds.migration.fields.totalBytes },
  /** @throws CommandError `wrong-state` where a check is open or the source runs and the method does not copy a running machine */
  does(edit, { migrationId: id, totalBytes }) {
    const move = requireState(edit, id, ['begun'], 'copying begins')
    const [first, ...others] = edit.context.openChecks?.(edit.estate, move, dayOf(edit.estate, edit.context.now)) ?? []
    if (first)
      throw new CommandError(
        'wrong-state',
        `${first.title}: ${first.sentence} Settle it, or accept it with a reason, before copying begins${others.length > 0 ? `; so are ${counted(others.length, 'more check')}` : ''}.`,
        'migrationId',
      )
    const source = edit.estate.find('guest', move.guestId)
    if (source && isPoweredOn(source) && copiesStopped(move.method))
      throw new CommandError(
        'wrong-state',
        `${source.name} is recorded as running; stop it before its disks are copied by ${move.method}.`,
        'migrationId',
      )
    edit.update('migration', id, { state: 'copying', copyingAt: timeFor(edit, move), ...(totalBytes ? { totalBytes } : {}) }, '')
  },
  words: ({ migrationId: id }, { nameOf }) => `Start copying: ${nameOf('migration', id)}`,
})

const cutOver = defineVerb({
  doc: 'Cuts a move over: the record changes place, and name, fixed addresses and MACs pass to the target in one go.',
  fields: {
    migrationId,
    movedBytes: kinds.migration.fields.movedBytes,
    copySeconds: kinds.migration.fields.copySeconds,
  },
  /** @throws CommandError `wrong-state` when the source runs (but live), and whatever the mapping is refused for */
  does(edit, { migrationId: id, movedBytes, copySeconds }) {
    const move = requireState(edit, id, ['copying'], 'it is cut over')
    const [made] = move.made as unknown as readonly ({ readonly type: string } & Mapping)[]
    if (!made)
      throw new CommandError(
        'wrong-state',
        'Nothing is kept of where its disks and adapters go; cancel it, and begin the move once more.',
        'migrationId',
      )
    const source = edit.require('guest', move.guestId ?? '', 'migrationId')
    if (isPoweredOn(source) && move.method !== 'live')
      throw new CommandError(
        'wrong-state',
        `${source.name} is recorded as running; stop it first, so that source and copy never run with one address.`,
        'migrationId',
      )
    const leftovers = leftoversOf(edit, move, timeFor(edit, move))
    const did = withoutMigrations(attemptIn(edit, [asVerb(made)], 'migrationId'))
    edit.take(did)
    edit.update(
      'migration',
      id,
      {
        state: 'cut over',
        cutOverAt: timeFor(edit, move),
        did: { added: did.added, updated: did.updated, removed: did.removed },
        ...(movedBytes ? { movedBytes } : {}),
        ...(copySeconds ? { copySeconds } : {}),
      },
      '',
    )
    for (const leftover of leftovers) edit.add('leftover', leftover, '')
  },
  words: ({ migrationId: id }, { nameOf }) => `Cut over: ${nameOf('migration', id)}`,
})

const verifyMove = defineVerb({
  doc: 'Records that a move is verified: the target does what the source did. The way back keeps its disks, no longer its memory.',
  fields: { migrationId, wasOffMinutes: kinds.migration.fields.wasOffMinutes },
  /** @throws CommandError `wrong-state` when the target is not recorded as running, or was not cut over */
  does(edit, { migrationId: id, wasOffMinutes }) {
    const move = requireState(edit, id, ['cut over'], 'it is verified')
    const target = targetOf(edit, move)
    if (target?.kind === 'machine' && !isPoweredOn(target))
      throw new CommandError('wrong-state', `${target.name} is recorded as ${target.state}; it is verified once it runs.`, 'migrationId')
    edit.update(
      'migration',
      id,
      { state: 'verified', verifiedAt: timeFor(edit, move), ...(wasOffMinutes === null ? {} : { wasOffMinutes }) },
      '',
    )
    if (target) edit.update('guest', target.id, { verifiedAt: edit.context.now }, '')
    const item = edit.estate.find('item', move.itemId)
    if (item) endFollowed(edit, item, true)
  },
  words: ({ migrationId: id }, { nameOf }) => `Verified: ${nameOf('migration', id)}`,
})

const closeMove = defineVerb({
  doc: 'Closes a move: what it left at the source is removed, a source that is a machine of its own is retired.',
  fields: {
    migrationId,
    wentWrong: kinds.migration.fields.wentWrong,
    nextTime: kinds.migration.fields.nextTime,
  },
  /** @throws CommandError `wrong-state` when it is not verified */
  does(edit, { migrationId: id, wentWrong, nextTime }) {
    const move = requireState(edit, id, ['verified'], 'it is closed')
    for (const leftover of edit.estate.referring('leftover', 'migrationId', id)) edit.remove('leftover', leftover.id)
    const source = move.becomesId ? edit.estate.find('guest', move.guestId) : undefined
    if (source?.kind === 'external') {
      if (source.state === 'stopped') edit.update('guest', source.id, { state: 'retired' }, '')
    } else if (source) removeWithReferring(edit, 'guest', source.id)
    edit.update(
      'migration',
      id,
      { state: 'closed', endedAt: timeFor(edit, move), ...(wentWrong ? { wentWrong } : {}), ...(nextTime ? { nextTime } : {}) },
      '',
    )
  },
  words: ({ migrationId: id }, { nameOf }) => `Close: ${nameOf('migration', id)}`,
})

const rollBack = defineVerb({
  doc: 'Rolls a move back: what its cut-over changed is as it was before, whatever else changed meanwhile stays.',
  fields: { migrationId, reason: reasonField },
  /** @throws CommandError `wrong-state` when it was not cut over, its leftover is gone, or the copy still runs */
  does(edit, { migrationId: id, reason }) {
    const move = requireState(edit, id, ['cut over', 'verified'], 'it is rolled back')
    if (!move.did) throw new CommandError('wrong-state', 'Nothing is kept of what its cut-over changed.', 'migrationId')
    const target = targetOf(edit, move)
    if (target && isPoweredOn(target) && move.method !== 'live')
      throw new CommandError(
        'wrong-state',
        `${target.name} is recorded as running; stop the copy first, so that it and the source never run with one address.`,
        'migrationId',
      )
    edit.take(backOfCutOver(edit.estate, move.did as unknown as Difference))
    for (const leftover of edit.estate.referring('leftover', 'migrationId', id)) edit.remove('leftover', leftover.id)
    edit.update('migration', id, { state: 'rolled back', endedAt: timeFor(edit, move), reason }, '')
    freeTarget(edit, move)
    endEarly(edit, move, reason)
  },
  words: ({ migrationId: id }, { nameOf }) => `Roll back: ${nameOf('migration', id)}`,
})

const cancelMove = defineVerb({
  doc: 'Cancels a move that was not cut over, with the reason: what was held for it is free, the source is as it was.',
  fields: { migrationId, reason: reasonField },
  /** @throws CommandError `wrong-state` when it was cut over */
  does(edit, { migrationId: id, reason }) {
    const move = requireState(edit, id, ['begun', 'copying'], 'it is cancelled')
    edit.update('migration', id, { state: 'cancelled', endedAt: timeFor(edit, move), reason }, '')
    freeTarget(edit, move)
    endEarly(edit, move, reason)
  },
  words: ({ migrationId: id }, { nameOf }) => `Cancel: ${nameOf('migration', id)}`,
})

/** What is done to moves beside changing their fields. */
export const moveVerbs = {
  'guest.migrate': migrateGuest,
  'migration.begin': beginMove,
  'migration.copy': startCopying,
  'migration.cutOver': cutOver,
  'migration.verify': verifyMove,
  'migration.close': closeMove,
  'migration.rollBack': rollBack,
  'migration.cancel': cancelMove,
}

/** What a move under way is about is not changed by itself: cancel it and begin another. */
export const moveChanged: Follow = (_, record, changes) => {
  const move = record as Migration
  const field = (['guestId', 'fromHostId', 'toHostId', 'becomesId', 'method', 'endedAt'] as const).find(
    (name) => changes[name] !== undefined && changes[name] !== move[name],
  )
  if (field && isOpenMove(move))
    throw new CommandError(
      'not-allowed',
      `The move is ${move.state}; ${kinds.migration.fields[field].label.toLowerCase()} follows from what is done. Cancel it or roll it back, and begin another.`,
      `changes.${field}`,
    )
}

/** Whether a method copies a machine that is off. */
const copiesStopped = (method: Migration['method']): boolean => !methodFacts[method].isRunning

/** The move in the commands of an item, and what is added before it. @throws CommandError `invalid` */
function moveIn(commands: readonly Command[]): { readonly before: readonly Command[]; readonly mapping: Mapping } {
  const at = commands.findIndex(({ type }) => type === 'guest.migrate')
  const move = commands[at]
  if (move?.type !== 'guest.migrate' || at !== commands.length - 1)
    throw new CommandError(
      'invalid',
      'A move is begun from an item whose last command is one “guest.migrate”; carry this item out, or part it.',
      'itemId',
    )
  return { before: commands.slice(0, at), mapping: mappingOf(move) }
}

function mappingOf(input: Mapping): Mapping {
  const { guestId, toHostId, becomesId, stores, networks, adapters, takesName, takesAddresses, takesMacs, also, method } = input
  return {
    guestId,
    toHostId: toHostId ?? null,
    becomesId: becomesId ?? null,
    stores: stores ?? null,
    networks: networks ?? null,
    adapters: adapters ?? null,
    takesName: takesName ?? true,
    takesAddresses: takesAddresses ?? true,
    takesMacs: takesMacs ?? false,
    also: also ?? [],
    method: method ?? 'cold copy',
  }
}

const asVerb = (mapping: Mapping): Command => ({ ...mapping, type: 'guest.migrate' }) as unknown as Command

/** @throws CommandError `wrong-state` */
function requireNotMoved(edit: EstateEdit, guest: Guest): void {
  const other = [
    ...edit.estate.referring('migration', 'guestId', guest.id),
    ...edit.estate.referring('migration', 'becomesId', guest.id),
  ].find((move) => isBeforeCutOver(move) || move.state === 'cut over')
  if (other)
    throw new CommandError(
      'wrong-state',
      `${guest.name} is being moved already: ${migrationNames(edit.estate, other).guest} to ${migrationNames(edit.estate, other).to}, ${other.state}.`,
      'guestId',
    )
  if (guest.state === 'planned' || guest.state === 'retired')
    throw new CommandError('wrong-state', `${guest.name} is ${guest.state}; there is nothing to copy.`, 'guestId')
}

/** Whether its cut-over would be taken, with the source stopped. @throws CommandError */
function requirePossible(edit: EstateEdit, source: Guest, mapping: Mapping): void {
  const isRunning = isPoweredOn(source) && mapping.method !== 'live'
  const stop: readonly Command[] =
    isRunning && source.state === 'running' ? [{ type: 'guest.power', guestId: source.id, state: 'stopped' }] : []
  attemptIn(edit, [...stop, asVerb(mapping)], (path) => path.replace(/^commands\.\d+\./, ''))
}

/** @throws CommandError `changed-since` where it is further, `not-found` */
function requireState(edit: EstateEdit, id: string, states: readonly Migration['state'][], what: string): Migration {
  const move = edit.require('migration', id, 'migrationId')
  if (states.includes(move.state)) return move
  throw new CommandError(
    'changed-since',
    `The move of ${migrationNames(edit.estate, move).guest} is ${move.state}; ${what} when it is ${states.join(' or ')}. Nothing was changed.`,
    'migrationId',
  )
}

/** The time of what is done with a move now: never before what was done with it, whatever the clocks of two machines say. */
const timeFor = (edit: EstateEdit, { startedAt, copyingAt, cutOverAt, verifiedAt }: Migration): string =>
  [startedAt, copyingAt, cutOverAt, verifiedAt].reduce<string>((latest, at) => (at !== null && at > latest ? at : latest), edit.context.now)

const targetOf = (edit: EstateEdit, move: Migration): Guest | undefined => edit.estate.find('guest', move.becomesId ?? move.guestId)

/** The machine that was to take over is kept for the next attempt, by whichever method. */
function freeTarget(edit: EstateEdit, move: Migration): void {
  const target = move.becomesId ? edit.estate.find('guest', move.becomesId) : undefined
  if (target?.state === 'being copied') edit.update('guest', target.id, { state: 'planned' }, '')
}

/** The item of a plan that a move was begun by failed with it. */
function endEarly(edit: EstateEdit, move: Migration, reason: string): void {
  const item = edit.estate.find('item', move.itemId)
  // The next attempt is another move.
  if (item)
    failFollowed(
      edit,
      item,
      reason,
      move.made.map((made) => ({ ...made, id: edit.context.newId() })),
    )
}

/** What a cut-over changed, without the closed move that “guest.migrate” records. */
function withoutMigrations({ added, updated, removed }: Difference): Difference {
  return {
    added: Object.fromEntries(Object.entries(added).filter(([, { kind }]) => kind !== 'migration')),
    updated,
    removed,
  }
}
