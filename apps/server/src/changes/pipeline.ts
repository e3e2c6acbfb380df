import type { CommandsResponse, LoggedCommand } from '@insel/contract'
import {
  applyAll,
  backOf,
  checkDifference,
  compareFindings,
  compose,
  CommandError,
  emptyDifference,
  invert,
  isEmpty,
  requireDone,
  revertItem,
  sameRecord,
  openErrors,
  seenFinding,
  aboutOf,
  touchedIds,
  withIds,
  type Command,
  type CommandContext,
  type Difference,
  type Estate,
  type FindingsChange,
  type Person,
} from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { setImmediate } from 'node:timers/promises'
import { changeEntity, differenceOf, estateHeadEntity, type ChangeRow, type EstateHead } from '../database/entities.js'
import { writeChanges, type NewChange } from '../database/change-table.js'
import { isMany } from '../database/records-table.js'
import { inTurn, type Turn } from '../database/turn.js'
import type { Recorder } from '../access/access.js'
import { DatabaseRoom } from '../database/database-room.js'
import { EstateCache, type EstateVersion } from '../cache/estate-cache.js'
import { bytesGrown } from '../cache/weight.js'
import { FindingsOnDemand } from '../cache/findings-on-demand.js'
import { notFound, personMissing, ProblemError, noEstate } from '../problems/problem.js'
import type { Answer } from './answer.js'
import { ChangeLog, meanwhileOf, type LogInTurn } from './change-log.js'
import { saidTime } from './story-clock.js'
import { newId } from './new-id.js'
import { Turns } from './turns.js'

/** A list of commands as a person sends it. */
export interface Submission {
  readonly commands: readonly Command[]
  readonly by: Recorder
  readonly expectedRevision?: number | undefined
  /** The history that the expected revision is of. */
  readonly expectedEpoch?: string | undefined
  readonly dryRun?: boolean | undefined
  /** Leaves out what became of the findings, which takes time. */
  readonly withoutFindings?: boolean | undefined
}

/** What a submission comes to before it is written. */
interface Outcome {
  readonly logged: readonly LoggedCommand[]
  readonly estate: Estate
  readonly difference: Difference
  readonly reverts: number | null
}

/** For whom, and how, a change is made. */
interface Wish extends Recorder {
  /** What is asked for, as it is logged but for ids that are made here. */
  readonly asked: readonly object[]
  readonly dryRun: boolean
  readonly withoutFindings: boolean
  readonly work: (log: LogInTurn, before: EstateVersion, context: CommandContext) => Promise<Outcome>
}

/** A wish that waits, with the time at which it was done where its request says so. */
type Timed = Wish & { readonly said: Date | undefined }

/** A change, and the estate before and after it. */
interface Done {
  readonly before: EstateVersion
  readonly after: EstateVersion
  readonly difference: Difference
}

/** How long a change waits for those before it on the same estate: longer than a database may be silent, which is told for what it is. */
const TURN_WITHIN_MS = 12_000
/** So many changes of an estate are written together, and so many estates are changed at the same time: each holds a connection of ten. */
const TOGETHER = 16
const ESTATES = 5
/** A turn in which so much was worked out leaves the rest to the next, so that other servers have theirs: milliseconds. */
const TURN_MS = 100
/** How often a turn begins again when the estate is removed, or restored, while it is on. */
const TRIES = 3

const NO_FINDINGS: FindingsChange = { raised: [], changed: [], settled: [], pending: [] }

/** A preview answers with everything; a change is not kept waiting for what takes long, and its answer names what is missing. */
function changedFindings(before: EstateVersion, after: EstateVersion, isWhole: boolean): FindingsChange {
  return isWhole
    ? compareFindings(before.findings.settled(), after.findings.settled())
    : compareFindings(before.findings.now(), after.findings.now())
}

const contextAt = ({ revision }: EstateVersion, now: Date, personId: string | undefined): CommandContext => ({
  newId,
  now: now.toISOString(),
  revision: revision + 1,
  personId,
  findingOf: seenFinding,
  openChecks: openErrors,
})

/** Who does it: somebody whom the estate knows after the change, or knew before. */
const actorOf = (before: EstateVersion, { estate }: Outcome, personId: string | undefined): Person | undefined =>
  estate.find('person', personId) ?? before.estate.find('person', personId)

const changeOf = (
  before: EstateVersion,
  { estate, logged, difference, reverts }: Outcome,
  actor: Person,
  { at, submissionId }: { readonly at: Date; readonly submissionId: string | undefined },
): Omit<NewChange, 'estateId'> => ({
  revision: before.revision + 1,
  at,
  actorId: actor.id,
  actorName: actor.name,
  commands: logged,
  difference,
  touched: [...touchedIds(difference)],
  about: [...aboutOf(difference, before.estate, estate)],
  reverts,
  submissionId: submissionId ?? null,
})

/** What is answered to a change, with what became of the findings. What takes long in it lets others have their turn between. */
async function answerTo({ before, after, difference }: Done, { dryRun, withoutFindings }: Wish): Promise<Answer> {
  const findings = withoutFindings ? NO_FINDINGS : changedFindings(before, after, dryRun)
  if (isMany(difference)) await setImmediate()
  const response: CommandsResponse = { revision: after.revision, epoch: after.epoch, difference, findings }
  return { revision: after.revision, text: JSON.stringify(response) }
}

const done = (before: EstateVersion, { estate, difference }: Outcome): Done => ({
  before,
  after: {
    revision: before.revision + 1,
    epoch: before.epoch,
    estate,
    bytes: before.bytes + bytesGrown(difference),
    findings: new FindingsOnDemand(estate, { before: before.findings, difference }),
  },
  difference,
})

/** What is said of a change that is not made, or makes no difference: the estate stays at its revision. */
const unwritten = (change: Done): Done => ({ ...change, after: { ...change.after, revision: change.before.revision } })

const restored = () =>
  new ProblemError(
    409,
    'database-restored',
    'The database was restored',
    'The database was restored from a backup since this page was loaded; nothing was changed. Look at the record as it is now, then do it again.',
  )

/**
 * The one way in which an estate changes. Whoever wants to change it waits for a turn; the database settles whose turn it is, whichever
 * server that is. In a turn, what waits is applied with the core, one wish after the other, and one statement writes the differences to
 * the tables, appends the changes, raises the revision and notifies. All of it happens, or nothing.
 */
@Injectable()
export class Pipeline {
  readonly #turns = new Turns<Timed, Done>((estateId, take) => this.#serve(estateId, take), {
    together: TOGETHER,
    names: ESTATES,
    withinMs: TURN_WITHIN_MS,
  })

  constructor(
    private readonly em: EntityManager,
    private readonly cache: EstateCache,
    private readonly log: ChangeLog,
    private readonly room: DatabaseRoom,
  ) {}

  /** Applies commands. @throws CommandError, ProblemError */
  async submit(estateId: string, submission: Submission): Promise<Answer> {
    const { by, expectedRevision, expectedEpoch, dryRun = false, withoutFindings = false } = submission
    // What is logged says which records it made, so that it is the same list wherever it is applied again.
    const commands = withIds(submission.commands, newId)
    const work: Wish['work'] = async (log, before, context) => {
      if (expectedEpoch !== undefined && expectedEpoch !== before.epoch) throw restored()
      const { estate, difference } = applyAll(before.estate, commands, context)
      if (expectedRevision !== undefined) await checkExpected(log, before.revision, expectedRevision, difference)
      return { logged: commands, estate, difference, reverts: null }
    }
    return this.#run(estateId, { ...by, asked: submission.commands, dryRun, withoutFindings, work })
  }

  /** Takes a change back. @throws ProblemError 409 when later changes depend on it */
  async revert(estateId: string, revision: number, by: Recorder, withoutFindings = false): Promise<Answer> {
    const logged: readonly LoggedCommand[] = [{ type: 'change.revert', revision }]
    const work: Wish['work'] = async (log, before) => {
      const row = await log.change(revision)
      if (!row) throw notFound(`There is no change ${revision} in this estate.`)
      const difference = invert(differenceOf(row))
      await checkUnchangedSince(log, before.estate, revision, difference)
      const estate = before.estate.with(difference)
      try {
        checkDifference(
          () => before.estate,
          estate,
          difference,
          () => 'revision',
        )
      } catch (error) {
        if (!(error instanceof CommandError)) throw error
        throw new ProblemError(
          409,
          'changed-since',
          'Later changes depend on it',
          `Change ${revision} cannot be reverted: ${error.message}`,
          { errors: error.problems },
        )
      }
      return { logged, estate, difference, reverts: revision }
    }
    return this.#run(estateId, { ...by, asked: logged, dryRun: false, withoutFindings, work })
  }

  /** Takes back what an item of a plan did. @throws CommandError, ProblemError 409 when later changes depend on it */
  async revertItem(estateId: string, itemId: string, by: Recorder, withoutFindings = false): Promise<Answer> {
    const logged: readonly LoggedCommand[] = [{ type: 'item.revert', itemId }]
    const work: Wish['work'] = async (log, before, context) => {
      const { doneRevision } = requireDone(before.estate, itemId)
      const row = await log.change(doneRevision)
      if (!row) throw notFound(`There is no change ${doneRevision} in this estate.`)
      const change = differenceOf(row)
      await checkUnchangedSince(log, before.estate, doneRevision, backOf(change))
      const { estate, difference } = revertItem(before.estate, itemId, change, context)
      return { logged, estate, difference, reverts: null }
    }
    return this.#run(estateId, { ...by, asked: logged, dryRun: false, withoutFindings, work })
  }

  /** The answer to a submission that was done already; undefined where none of its id was. */
  async answered(estateId: string, { submissionId }: Recorder): Promise<Answer | undefined> {
    const found = await this.#changeOf(estateId, submissionId)
    return found && answerOf(found.row, found.head)
  }

  /** The change that a submission made, if it made one. */
  async #changeOf(estateId: string, submissionId: string | undefined): Promise<{ head: EstateHead; row: ChangeRow } | undefined> {
    if (submissionId === undefined) return undefined
    const em = this.em.fork()
    const row = await em.findOne(changeEntity, { estateId, submissionId })
    const head = row && (await em.findOne(estateHeadEntity, { estateId }))
    return head ? { head, row } : undefined
  }

  async #run(estateId: string, wish: Wish): Promise<Answer> {
    if (wish.dryRun) return answerTo(await this.#preview(estateId, wish), wish)
    let change: Done
    try {
      change = await this.#turns.take(estateId, { ...wish, said: saidTime() })
      if (isEmpty(change.difference)) return (await this.#doneBefore(estateId, wish)) ?? (await answerTo(change, wish))
    } catch (error) {
      // What was done already, and its answer lost, is refused by the core, by what was expected, or by the key of submissions.
      const mayBeDone = error instanceof CommandError || error instanceof ProblemError || isConstraint(error)
      const repeated = mayBeDone ? await this.#doneBefore(estateId, wish) : undefined
      if (repeated) return repeated
      throw error
    }
    // Nobody waits for their turn while it is worked out what became of the findings.
    return answerTo(change, wish)
  }

  /** What would become of an estate. */
  async #preview(estateId: string, wish: Wish): Promise<Done> {
    const em = this.em.fork()
    const before = await this.cache.now(em, estateId)
    return unwritten((await this.#workOut(this.log.inTurn(em, estateId, []), before, wish, new Date())).done)
  }

  /** What a wish comes to on an estate. @throws CommandError, ProblemError */
  async #workOut(log: LogInTurn, before: EstateVersion, { personId, submissionId, work }: Wish, at: Date) {
    const outcome = await work(log, before, contextAt(before, at, personId))
    const actor = actorOf(before, outcome, personId)
    if (!actor) throw personMissing()
    return { done: done(before, outcome), change: changeOf(before, outcome, actor, { at, submissionId }) }
  }

  /** Changes an estate while nobody else can: as is wished by those who wait by then, one after the other, and written together. */
  async #serve(estateId: string, take: () => readonly Timed[]): Promise<readonly PromiseSettledResult<Done>[]> {
    let wishes: readonly Timed[] | undefined
    for (let tries = 0; ; tries++)
      try {
        const results = await inTurn(this.em.fork(), estateId, this.cache.known(estateId), (turn) =>
          this.#together(estateId, turn, (wishes ??= take())),
        )
        if (results) return results
        if (tries === TRIES) throw new Error(`Estate ${estateId} does not stay where it is.`)
      } catch (error) {
        // What the database refuses of several is asked for one by one: it says which it is.
        if (!isConstraint(error) || !wishes || wishes.length === 1) throw error
        wishes = wishes.slice(0, 1)
      }
  }

  /** @returns what became of the first of some wishes; undefined where the estate was elsewhere when it was to be written */
  async #together(estateId: string, turn: Turn, wishes: readonly Timed[]): Promise<readonly PromiseSettledResult<Done>[] | undefined> {
    if (wishes.length === 0) return []
    if (!turn.head) throw noEstate(estateId)
    const em = this.em.fork()
    const begun = performance.now()
    const results: PromiseSettledResult<Done>[] = []
    const changes: NewChange[] = []
    const log = this.log.inTurn(em, estateId, changes)
    let [at, all] = [await this.cache.at(em, turn.head, turn.since), emptyDifference]
    for (const wish of wishes) {
      if (results.length > 0 && performance.now() - begun > TURN_MS) break
      try {
        const worked = await this.#workOut(log, at, wish, wish.said ?? new Date())
        const { difference } = worked.done
        if (isEmpty(difference)) results.push({ status: 'fulfilled', value: unwritten(worked.done) })
        else {
          // What makes tables grow by much is written by itself.
          if (changes.length > 0 && isMany(difference)) break
          results.push({ status: 'fulfilled', value: worked.done })
          changes.push({ estateId, ...worked.change })
          at = worked.done.after
          all = changes.length === 1 ? difference : compose(all, difference)
          if (isMany(difference)) break
        }
      } catch (reason) {
        if (!(reason instanceof CommandError || reason instanceof ProblemError)) throw reason
        results.push({ status: 'rejected', reason })
      }
    }
    if (changes.length === 0) return results
    if (!(await writeChanges(em, turn, changes, all))) return undefined
    this.room.wrote()
    this.cache.keep(estateId, at)
    return results
  }

  /** The answer to a submission that was done already. @throws ProblemError 422 when its id was another's */
  async #doneBefore(estateId: string, { submissionId, asked }: Wish): Promise<Answer | undefined> {
    const { head, row } = (await this.#changeOf(estateId, submissionId)) ?? {}
    if (!head || !row) return undefined
    if (!holds(row.commands, asked))
      throw new ProblemError(
        422,
        'submission-used',
        'The submission id was used before',
        `The id in Insel-Submission belongs to change ${row.revision}, which did something else; nothing was changed. Make up a new id for what is new.`,
      )
    return answerOf(row, head)
  }
}

/** A submission made on an older revision is refused when what it touches changed meanwhile; otherwise it is applied. */
async function checkExpected(log: LogInTurn, revision: number, expected: number, difference: Difference): Promise<void> {
  if (expected === revision) return
  if (expected > revision)
    throw new ProblemError(
      409,
      'revision-unknown',
      'The revision is not known',
      `Revision ${expected} was expected, but the estate is at ${revision}. Load it again.`,
    )
  const ids = [...Object.keys(difference.updated), ...Object.keys(difference.removed)]
  const rows = await log.touching(expected, ids)
  if (rows.length === 0) return
  const names = [...new Set(rows.map((row) => row.actorName))].join(' and ')
  throw new ProblemError(
    409,
    'changed-meanwhile',
    'The records changed meanwhile',
    `${names} changed what this touches after revision ${expected}. Look at the record as it is now, then do it again.`,
    {
      meanwhile: meanwhileOf(rows, ids),
    },
  )
}

async function checkUnchangedSince(log: LogInTurn, estate: Estate, revision: number, back: Difference): Promise<void> {
  const stray = [
    ...Object.entries(back.removed).filter(([id, { kind, record }]) => !isAs(estate, kind, id, record)),
    ...Object.entries(back.updated).filter(([id, { kind, from }]) => !isAs(estate, kind, id, from)),
    ...Object.entries(back.added).filter(([id]) => estate.kindOf(id) !== undefined),
  ].map(([id]) => id)
  if (stray.length === 0) return
  const rows = await log.touching(revision, stray)
  const later = rows.map((row) => `change ${row.revision} by ${row.actorName}`).join(', ')
  throw new ProblemError(
    409,
    'changed-since',
    'Later changes depend on it',
    `Change ${revision} cannot be reverted: what it did was changed since, in ${later}. Revert those first.`,
    {
      meanwhile: meanwhileOf(rows, stray),
    },
  )
}

function isAs(estate: Estate, kind: Parameters<Estate['find']>[0], id: string, record: Parameters<typeof sameRecord>[0]): boolean {
  const now = estate.find(kind, id)
  return now !== undefined && sameRecord(now, record)
}

/** What a change was answered with, but for what became of the findings: they are as they are now. */
function answerOf(row: ChangeRow, { epoch }: EstateHead): Answer {
  const response: CommandsResponse = { revision: row.revision, epoch, difference: differenceOf(row), findings: NO_FINDINGS }
  return { revision: row.revision, text: JSON.stringify(response) }
}

/** Whether the database refused something for a constraint: the change of a submission that is there already, or what the core should have seen. */
const isConstraint = (error: unknown): boolean => (error as { constraint?: unknown } | undefined)?.constraint !== undefined

/**
 * Whether a value holds all of another: what was asked is logged with the ids that were made for it.
 *
 * @example holds([{ type: 'guest.clone', name: 'a', id: '…' }], [{ type: 'guest.clone', name: 'a' }]) // true
 */
function holds(whole: unknown, part: unknown): boolean {
  if (Array.isArray(part)) return Array.isArray(whole) && whole.length === part.length && part.every((one, at) => holds(whole[at], one))
  if (typeof part !== 'object' || part === null) return whole === part
  if (typeof whole !== 'object' || whole === null) return false
  return Object.entries(part).every(
    ([name, value]) => value === undefined || holds((whole as Readonly<Record<string, unknown>>)[name], value),
  )
}
