import { attemptIn, defineVerb, newIdField, removeWithReferring, type Command, type EstateEdit, type Follow } from '../commands/index.js'
import {
  choice,
  cloneSchools,
  CommandError,
  commands as commandsField,
  derivedId,
  kinds,
  optional,
  real,
  ref,
  text,
  type Adapter,
  type Batch,
  type Copy,
  type Guest,
  type Item,
} from '../estate/index.js'
import { beginFollowed, endFollowed } from '../plans/index.js'
import { counted } from '../units/index.js'
import type { CloneCommand } from './compose-batch.js'
import { copySteps, isCopyStep } from './copy-steps.js'
import { templateOf } from './identity.js'
import { giveIdentity } from './identity-verb.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'batch.begin': typeof beginBatch
    'copy.begin': typeof beginCopy
    'copy.settle': typeof settleStep
    'copy.drop': typeof dropCopy
    'copy.replace': typeof replaceCopy
  }
}

const copyId = ref('copy', { label: 'Copy', doc: 'Which copy of a batch.' })
const reasonField = text({ label: 'Reason', doc: 'Why, in a few words.', max: 400 })

const beginBatch = defineVerb({
  doc: 'Begins a batch of copies: each is recorded as planned, with its name, MACs and addresses, and is followed from then on.',
  fields: {
    id: newIdField('batch'),
    name: kinds.batch.fields.name,
    school: optional(
      choice(cloneSchools, { label: 'Identity', doc: 'How the copies come to one of their own; follows from the copies when left out.' }),
    ),
    itemId: optional(ref('item', { label: 'Item', doc: 'The item of a plan that holds the copies; it is done with the last of them.' })),
    copies: commandsField({ label: 'Copies', doc: 'Without an item: a “guest.clone” of the same original for each.' }),
    ownerId: kinds.batch.fields.ownerId,
    note: kinds.batch.fields.note,
  },
  /** @throws CommandError `invalid` where something else than copies of one original is given, and whatever a copy is refused for */
  does(edit, { id, name, school, itemId, copies, ownerId, note }) {
    const item = itemId ? edit.require('item', itemId, 'itemId') : undefined
    if (!item === (copies.length === 0))
      throw new CommandError('invalid', 'Name an item that holds copies, or the copies themselves.', item ? 'copies' : 'itemId')
    const made = clonesIn((item ? item.commands : copies) as unknown as readonly Command[], item ? 'itemId' : 'copies')
    const [first] = made
    if (!first) throw new CommandError('invalid', 'A batch has at least one copy.', item ? 'itemId' : 'copies')
    const template = edit.require('guest', first.guestId, 'copies.0.guestId')
    const version = templateOf(edit.estate, template.id)
    if (version?.withdrawnOn)
      throw new CommandError(
        'wrong-state',
        `Version ${version.version} of ${template.name} is withdrawn since ${version.withdrawnOn}${version.withdrawnFor ? `: ${version.withdrawnFor}` : ''}; copy a newer one.`,
        item ? 'itemId' : 'copies',
      )
    const record = {
      ...(id ? { id } : {}),
      name,
      templateId: template.id,
      version: version?.version ?? null,
      school: school ?? (made.every(({ isIsolated }) => isIsolated) ? 'isolated first boot' : 'template generalised'),
      itemId: item?.id ?? null,
      ownerId: ownerId ?? edit.context.personId ?? null,
      startedAt: edit.context.now,
      note,
    }
    const work = () => {
      const batch = edit.add('batch', record, '')
      addCopies(edit, batch, 1, made, (index) => (item ? 'itemId' : `copies.${index}`))
    }
    if (item) beginFollowed(edit, item, work)
    else work()
  },
  words: ({ name, copies }) => `Begin batch ${name}${copies?.length ? ` of ${counted(copies.length, 'copy', 'copies')}` : ''}`,
})

const beginCopy = defineVerb({
  doc: 'Records that a copy is being made.',
  fields: { copyId },
  /** @throws CommandError `changed-since` when it was begun or dropped already */
  does(edit, { copyId: id }) {
    const copy = requireOpen(edit, id)
    if (copy.state !== 'planned') throw changedSince(edit, copy)
    begin(edit, copy)
  },
  words: ({ copyId: id }, names) => `Begin copy ${names.nameOf('copy', id)}`,
})

const settleStep = defineVerb({
  doc: 'Records what became of a step of a copy; what follows for the guest is recorded with it.',
  fields: {
    copyId,
    step: text({ label: 'Step', doc: 'The key of the step, such as “first-boot”.', shape: 'name' }),
    state: choice(['done', 'skipped', 'failed', 'open'], { label: 'State', doc: 'What became of it; open: it is to be done again.' }),
    minutes: optional(real({ label: 'Minutes', doc: 'How long it took.', unit: 'minutes', max: 100_000 })),
    note: kinds.step.fields.note,
  },
  /** @throws CommandError `invalid`, `changed-since` when the copy was dropped, `wrong-state` when something has to be done before */
  does(edit, { copyId: id, step, state, minutes, note }) {
    const copy = requireOpen(edit, id)
    if (copy.guestId === null)
      throw new CommandError(
        'wrong-state',
        `The guest of ${nameOf(edit, copy)} was removed meanwhile; drop the copy, and begin another in its place.`,
        'copyId',
      )
    const batch = edit.require('batch', copy.batchId, 'copyId')
    const steps = copySteps(batch.school)
    if (!isCopyStep(step) || !steps.some(({ key }) => key === step))
      throw new CommandError('invalid', `There is no step “${step}” here; there are ${steps.map(({ key }) => key).join(', ')}.`, 'step')
    const { personId } = edit.context
    if (!personId) throw new CommandError('invalid', 'Say who you are: a step keeps who settled it.', 'copyId')
    if ((state === 'skipped' || state === 'failed') && !note)
      throw new CommandError('invalid', `A step that is ${state} has a note: ${state === 'failed' ? 'what happened' : 'why'}.`, 'note')
    if (copy.state === 'planned') begin(edit, copy)
    const sheet = sheetOfCopy(edit, copy.id)
    const record = edit.estate.referring('step', 'sheetId', sheet).find((one) => one.step === step)
    if (record?.state === 'done' && state === 'done') throw changedSince(edit, copy, step)
    const changes = { state, personId, at: edit.context.now, minutes: state === 'open' ? null : minutes, note }
    if (record)
      edit.update(
        'step',
        record.id,
        { ...changes, attempts: state === 'open' ? record.attempts : record.attempts + Number(record.state === 'open') },
        '',
      )
    else edit.add('step', { id: derivedId(sheet, step), sheetId: sheet, step, ...changes }, '')
    if (state === 'done') takeEffect(edit, batch, copy, step)
    followCopy(edit, batch, copy.id)
  },
  words: ({ copyId: id, step, state }, names) => `${names.nameOf('copy', id)}: ${titleOf(step).toLowerCase()} ${state}`,
})

const dropCopy = defineVerb({
  doc: 'Drops a copy, with the reason: its guest is removed, and its name, MACs and addresses are free again.',
  fields: { copyId, reason: reasonField },
  /** @throws CommandError `changed-since` when it was dropped or is in service already */
  does(edit, { copyId: id, reason }) {
    const copy = requireOpen(edit, id)
    const guest = edit.estate.find('guest', copy.guestId)
    edit.update(
      'copy',
      id,
      { state: 'dropped', reason, endedAt: edit.context.now, guestId: null, guestName: guest?.name ?? copy.guestName },
      '',
    )
    if (guest) removeWithReferring(edit, 'guest', guest.id)
    endBatch(edit, copy.batchId)
  },
  words: ({ copyId: id }, names) => `Drop copy ${names.nameOf('copy', id)}`,
})

const replaceCopy = defineVerb({
  doc: 'Begins another copy in place of one that was dropped: the same name, place, networks and addresses; new ids and MACs.',
  fields: { copyId, id: newIdField('copy') },
  /** @throws CommandError `wrong-state` when the copy was not dropped, and whatever the new one is refused for */
  does(edit, { copyId: of, id }) {
    const copy = edit.require('copy', of, 'copyId')
    const batch = edit.require('batch', copy.batchId, 'copyId')
    if (copy.state !== 'dropped')
      throw new CommandError('wrong-state', `${nameOf(edit, copy)} is ${copy.state}; only a copy that was dropped is replaced.`, 'copyId')
    const [made] = clonesIn(copy.made as unknown as readonly Command[], 'copyId')
    if (!made) throw new CommandError('invalid', 'Nothing is kept of how it was made.', 'copyId')
    const places = edit.estate.referring('copy', 'batchId', batch.id).map(({ position }) => position)
    const newCopy = id ?? edit.context.newId()
    addCopies(edit, batch, Math.max(...places) + 1, [{ ...made, id: derivedId(newCopy, 'guest') }], () => 'copyId', newCopy)
    if (batch.endedAt) edit.update('batch', batch.id, { endedAt: null }, '')
  },
  words: ({ copyId: id }, names) => `Copy ${names.nameOf('copy', id)} once more`,
})

/** What is done to batches and copies beside changing their fields. */
export const batchVerbs = {
  'batch.begin': beginBatch,
  'copy.begin': beginCopy,
  'copy.settle': settleStep,
  'copy.drop': dropCopy,
  'copy.replace': replaceCopy,
}

/** A copy that shares an identity stays off the network until its isolated first boot is over, in a batch or made alone. */
export const adapterChanged: Follow = (edit, record, changes) => {
  const { guestId, isConnected } = { ...(record as Partial<Adapter>), ...(changes as Partial<Adapter>) }
  const isPluggedIn = changes['isConnected'] === true || (isConnected === true && changes['guestId'] !== undefined)
  const guest = edit.estate.find('guest', guestId)
  if (!isPluggedIn) return
  if (guest?.identity !== 'copied') return
  const batch = isolatedCopyOf(edit, guest)
  if (!batch && !isKeptOff(edit, guest)) return
  throw new CommandError(
    'wrong-state',
    `${guest.name} still has the identity of what it was copied from and is on no network yet; generalise it first, ${batch ? `in batch ${batch.name}` : 'and record on its page that its identity is its own'}.`,
    'changes.isConnected',
  )
}

/** Whether a copy is off every network, and nobody has verified it since it was made: as on an isolated first boot. */
const isKeptOff = (edit: EstateEdit, guest: Guest): boolean =>
  guest.clonedFromId !== null &&
  guest.verifiedAt === null &&
  edit.estate.referring('adapter', 'guestId', guest.id).every(({ isConnected }) => !isConnected)

const isolatedCopyOf = (edit: EstateEdit, guest: Guest): Batch | undefined =>
  edit.estate
    .referring('copy', 'guestId', guest.id)
    .map(({ batchId }) => edit.estate.find('batch', batchId))
    .find((batch) => batch?.school === 'isolated first boot')

/** @throws CommandError `invalid` at what is no copy of the original that the first one is of */
function clonesIn(commands: readonly Command[], path: string): readonly CloneCommand[] {
  return commands.map((command, index) => {
    const [first] = commands
    if (command.type !== 'guest.clone' || (first?.type === 'guest.clone' && command.guestId !== first.guestId))
      throw new CommandError(
        'invalid',
        command.type === 'guest.clone'
          ? 'The copies of a batch are of one original.'
          : `A batch holds copies; “${command.type}” is not one.`,
        path === 'copies' ? `copies.${index}` : path,
      )
    return command
  })
}

/**
 * Records copies as planned, beside their batch, in one go.
 *
 * @param from the number of the first
 * @param pathOf where a problem with one of them is said to be
 * @param idOf the id of the copy with a number, where it is chosen
 */
function addCopies(
  edit: EstateEdit,
  batch: Batch,
  from: number,
  clones: readonly CloneCommand[],
  pathOf: (index: number) => string,
  idOf?: string,
): void {
  const isIsolated = batch.school === 'isolated first boot'
  const made = clones.map((clone) => ({ ...clone, id: clone.id ?? edit.context.newId(), isIsolated }))
  edit.take(
    attemptIn(edit, made, (path) => {
      const [, index = '0', ...field] = path.split('.')
      return [pathOf(Number(index)), ...field].join('.')
    }),
  )
  for (const [index, { id: guestId, ...clone }] of made.entries()) {
    const guest = edit.require('guest', guestId, pathOf(index))
    edit.take({ added: {}, updated: { [guestId]: { kind: 'guest', from: guest, to: { ...guest, state: 'planned' } } }, removed: {} })
    const { macs: _, ids: __, ...again } = clone
    edit.add(
      'copy',
      {
        id: idOf ?? derivedId(batch.id, guestId),
        batchId: batch.id,
        position: from + index,
        guestId,
        made: [again as unknown as Copy['made'][number]],
      },
      '',
    )
  }
}

function begin(edit: EstateEdit, copy: Copy): void {
  const at = edit.context.now
  edit.add('sheet', { id: derivedId(copy.id, 'sheet'), copyId: copy.id, work: 'copy', startedAt: at, resumedAt: at }, '')
  edit.update('copy', copy.id, { state: 'under way', begunAt: at }, '')
  const guest = edit.estate.find('guest', copy.guestId)
  if (guest?.state === 'planned') edit.update('guest', guest.id, { state: 'being copied' }, '')
}

/** What a step that is done means for the guest. @throws CommandError `wrong-state` where something has to be done before */
function takeEffect(edit: EstateEdit, batch: Batch, copy: Copy, step: string): void {
  const guest = edit.require('guest', copy.guestId ?? '', 'copyId')
  if (step === 'copied' && guest.state === 'being copied') edit.update('guest', guest.id, { state: 'stopped' }, '')
  if (step === 'first-boot') {
    if (guest.state === 'being copied')
      throw new CommandError('wrong-state', `${guest.name} is being copied; it boots once it is copied.`, 'step')
    if (guest.state === 'stopped') edit.update('guest', guest.id, { state: 'running' }, '')
    if (guest.identity === 'removed') giveIdentity(edit, guest, 'its own')
  }
  if (step === 'attached' && batch.school === 'isolated first boot' && guest.identity === 'copied')
    throw new CommandError(
      'wrong-state',
      `${guest.name} still has the identity of its template; generalise it before it is attached.`,
      'step',
    )
  if (step === 'generalised') giveIdentity(edit, guest, 'its own')
  if (step === 'attached')
    for (const adapter of edit.estate.referring('adapter', 'guestId', guest.id))
      if (!adapter.isConnected) edit.update('adapter', adapter.id, { isConnected: true }, '')
  if (step === 'in-service') {
    const states = stepStates(edit, copy.id)
    const open = copySteps(batch.school).filter(({ key }) => key !== step && !['done', 'skipped'].includes(states.get(key) ?? 'open'))
    if (open.length > 0)
      throw new CommandError(
        'wrong-state',
        `${guest.name} is not in service before ${open.map(({ title }) => title.toLowerCase()).join(', ')} ${open.length === 1 ? 'is' : 'are'} done or skipped.`,
        'step',
      )
    if (guest.identity === 'copied')
      throw new CommandError(
        'wrong-state',
        `${guest.name} has the identity of ${edit.estate.find('guest', guest.identityFromId)?.name ?? 'another machine'}; give it one of its own, and record that on its page.`,
        'step',
      )
    if (guest.state === 'stopped') edit.update('guest', guest.id, { state: 'running' }, '')
    edit.update('guest', guest.id, { verifiedAt: edit.context.now }, '')
  }
}

const stepStates = (edit: EstateEdit, id: string): ReadonlyMap<string, string> =>
  new Map(edit.estate.referring('step', 'sheetId', sheetOfCopy(edit, id)).map(({ step, state }) => [step, state]))

const sheetOfCopy = (edit: EstateEdit, id: string): string => edit.estate.referring('sheet', 'copyId', id)[0]?.id ?? derivedId(id, 'sheet')

/** How far a copy is follows from its steps; its batch is over with the last of them. */
function followCopy(edit: EstateEdit, batch: Batch, id: string): void {
  const steps = edit.estate.referring('step', 'sheetId', sheetOfCopy(edit, id))
  const failed = steps.find(({ state }) => state === 'failed')
  const isOver = steps.some(({ step, state }) => step === 'in-service' && state === 'done')
  const at = edit.context.now
  edit.update(
    'copy',
    id,
    failed
      ? { state: 'failed', reason: `${titleOf(failed.step)}: ${failed.note}`.slice(0, 400) }
      : { state: isOver ? 'in service' : 'under way', reason: null, endedAt: isOver ? at : null },
    '',
  )
  if (isOver) edit.update('sheet', sheetOfCopy(edit, id), { finishedAt: at, resumedAt: null }, '')
  endBatch(edit, batch.id)
}

function endBatch(edit: EstateEdit, batchId: string): void {
  const batch = edit.require('batch', batchId, 'copyId')
  const isOver = edit.estate.referring('copy', 'batchId', batchId).every(({ state }) => state === 'in service' || state === 'dropped')
  if (isOver === (batch.endedAt !== null)) return
  edit.update('batch', batchId, { endedAt: isOver ? edit.context.now : null }, '')
  const item: Item | undefined = edit.estate.find('item', batch.itemId)
  if (item) endFollowed(edit, item, isOver)
}

/** @throws CommandError `not-found`, `changed-since` where it is over */
function requireOpen(edit: EstateEdit, id: string): Copy {
  const copy = edit.require('copy', id, 'copyId')
  if (copy.state === 'dropped' || copy.state === 'in service') throw changedSince(edit, copy)
  return copy
}

const nameOf = (edit: EstateEdit, copy: Copy): string => edit.estate.find('guest', copy.guestId)?.name ?? copy.guestName ?? 'the copy'

/** Somebody was quicker. */
function changedSince(edit: EstateEdit, copy: Copy, step?: string): CommandError {
  const record = step ? edit.estate.referring('step', 'sheetId', sheetOfCopy(edit, copy.id)).find((one) => one.step === step) : undefined
  const by = edit.estate.find('person', record?.personId)?.name
  return new CommandError(
    'changed-since',
    record
      ? `${titleOf(record.step)} of ${nameOf(edit, copy)} is ${record.state} already${by ? `, by ${by}` : ''}; nothing was changed.`
      : `${nameOf(edit, copy)} is ${copy.state} already; nothing was changed.`,
    'copyId',
  )
}

const titleOf = (step: string): string => copySteps('isolated first boot').find(({ key }) => key === step)?.title ?? step
