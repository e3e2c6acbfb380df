import type { CommandsResponse, LoggedCommand } from '@insel/contract'
import {
  applyAll,
  backOf,
  checkDifference,
  compareFindings,
  CommandError,
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
import { LockMode } from '@mikro-orm/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { Injectable } from '@nestjs/common'
import { setImmediate } from 'node:timers/promises'
import { changeEntity, differenceOf, estateHeadEntity, SUBMISSION_KEY, type ChangeRow, type EstateHead } from '../database/entities.js'
import { writeChange, type NewChange } from '../database/change-table.js'
import { isMany } from '../database/records-table.js'
import type { Recorder } from '../access/access.js'
import { DatabaseRoom } from '../health/database-room.js'
import { EstateCache, type EstateVersion } from '../estates/estate-cache.js'
import { FindingsOnDemand } from '../findings/findings-on-demand.js'
import { notFound, personMissing, ProblemError, noEstate } from '../problems/problem.js'
import type { Answer } from './answer.js'
import { Meanwhile } from './meanwhile.js'
import { ChangeLog, meanwhileOf } from './change-log.js'
import { recordedNow } from './story-clock.js'
import { newId } from './new-id.js'
import { KeyedQueue } from './keyed-queue.js'

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
}

/** A change, and the estate before and after it. */
interface Done {
  readonly before: EstateVersion
  readonly after: EstateVersion
  readonly difference: Difference
}
/** @param em what reads more of the database, where that is needed */
type Work = (em: () => EntityManager, before: EstateVersion, context: CommandContext) => Promise<Outcome>

/** How long a change waits for those before it on the same estate. */
const TURN_WITHIN_MS = 10_000

const NO_FINDINGS: FindingsChange = { raised: [], settled: [], pending: [] }

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
  estateId: string,
  before: EstateVersion,
  { estate, logged, difference, reverts }: Outcome,
  actor: Person,
  { at, submissionId }: { readonly at: Date; readonly submissionId: string | undefined },
): NewChange => ({
  estateId,
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
    findings: new FindingsOnDemand(estate, { before: before.findings, difference }),
  },
  difference,
})

const restored = () =>
  new ProblemError(
    409,
    'database-restored',
    'The database was restored',
    'The database was restored from a backup since this page was loaded; nothing was changed. Look at the record as it is now, then do it again.',
  )

/**
 * The one way in which an estate changes: apply the commands with the core, and in one statement write the difference to the tables,
 * append the change, raise the revision, notify. All of it happens, or nothing. First on the estate as it was last seen, which
 * the statement makes sure of; then, when it has moved on, on the estate as it is, under the lock of its head.
 */
@Injectable()
export class Pipeline {
  readonly #turns = new KeyedQueue()

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
    return this.#run(estateId, { ...by, asked: submission.commands, dryRun, withoutFindings }, async (em, before, context) => {
      if (expectedEpoch !== undefined && expectedEpoch !== before.epoch) throw restored()
      const { estate, difference } = applyAll(before.estate, commands, context)
      if (expectedRevision !== undefined) await this.#checkExpected(em(), estateId, before.revision, expectedRevision, difference)
      return { logged: commands, estate, difference, reverts: null }
    })
  }

  /** Takes a change back. @throws ProblemError 409 when later changes depend on it */
  async revert(estateId: string, revision: number, by: Recorder, withoutFindings = false): Promise<Answer> {
    const logged: readonly LoggedCommand[] = [{ type: 'change.revert', revision }]
    return this.#run(estateId, { ...by, asked: logged, dryRun: false, withoutFindings }, async (em, before) => {
      const row = await em().findOne(changeEntity, { estateId, revision })
      if (!row) throw notFound(`There is no change ${revision} in this estate.`)
      const difference = invert(differenceOf(row))
      await this.#checkUnchangedSince(em(), estateId, before.estate, revision, difference)
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
    })
  }

  /** Takes back what an item of a plan did. @throws CommandError, ProblemError 409 when later changes depend on it */
  async revertItem(estateId: string, itemId: string, by: Recorder, withoutFindings = false): Promise<Answer> {
    const logged: readonly LoggedCommand[] = [{ type: 'item.revert', itemId }]
    return this.#run(estateId, { ...by, asked: logged, dryRun: false, withoutFindings }, async (em, before, context) => {
      const { doneRevision } = requireDone(before.estate, itemId)
      const row = await em().findOne(changeEntity, { estateId, revision: doneRevision })
      if (!row) throw notFound(`There is no change ${doneRevision} in this estate.`)
      const change = differenceOf(row)
      await this.#checkUnchangedSince(em(), estateId, before.estate, doneRevision, backOf(change))
      const { estate, difference } = revertItem(before.estate, itemId, change, context)
      return { logged, estate, difference, reverts: null }
    })
  }

  /** The answer to a submission that was done already; undefined where none of its id was. */
  async answered(estateId: string, { submissionId }: Recorder): Promise<Answer | undefined> {
    if (submissionId === undefined) return undefined
    const em = this.em.fork()
    const [head, row] = [await em.findOne(estateHeadEntity, { estateId }), await em.findOne(changeEntity, { estateId, submissionId })]
    return head && row ? answerOf(row, head) : undefined
  }

  #run(estateId: string, wish: Wish, work: Work): Promise<Answer> {
    const run = () => this.#transact(estateId, wish, work)
    return wish.dryRun ? run() : this.#turns.take(estateId, run, TURN_WITHIN_MS)
  }

  async #transact(estateId: string, wish: Wish, work: Work): Promise<Answer> {
    const atOnce = wish.dryRun ? undefined : await this.#atOnce(estateId, wish, work)
    if (atOnce) return atOnce
    const locked = await this.#underLock(estateId, wish, work)
    if ('repeated' in locked) return locked.repeated
    this.room.wrote()
    if (locked.after.revision !== locked.before.revision) this.cache.keep(estateId, locked.after)
    // Nobody waits at the lock for what became of the findings.
    return answerTo(locked, wish)
  }

  /**
   * On the estate as it was last seen, in one statement that is void when the estate is elsewhere by now.
   *
   * @returns undefined when it was void, or came to nothing or to a refusal: whether that holds follows from the estate as it is
   */
  async #atOnce(estateId: string, wish: Wish, work: Work): Promise<Answer | undefined> {
    const { personId, submissionId } = wish
    const before = this.cache.lastSeen(estateId)
    if (!before) return undefined
    const now = recordedNow()
    let outcome: Outcome
    try {
      outcome = await work(() => this.em.fork(), before, contextAt(before, now, personId))
    } catch (error) {
      if (error instanceof CommandError || error instanceof ProblemError) return undefined
      throw error
    }
    const actor = actorOf(before, outcome, personId)
    if (!actor || isEmpty(outcome.difference)) return undefined
    const change = changeOf(estateId, before, outcome, actor, { at: now, submissionId })
    const then = done(before, outcome)
    const answer = new Meanwhile(() => answerTo(then, wish))
    // What makes tables grow by much takes more than the one statement.
    let isWritten: boolean
    try {
      isWritten = isMany(outcome.difference)
        ? await this.em.fork().transactional((tx) => writeChange(tx, before, change, answer.begin))
        : await writeChange(this.em, before, change, answer.begin)
    } catch (error) {
      // It was done before, and its answer was lost.
      if (isDoneBefore(error)) return undefined
      throw error
    }
    if (!isWritten) return undefined
    this.room.wrote()
    this.cache.keep(estateId, then.after)
    return answer.result()
  }

  /** On the estate as it is, while nobody else can change it. */
  #underLock(estateId: string, wish: Wish, work: Work): Promise<Done | { readonly repeated: Answer }> {
    const { personId, submissionId, dryRun } = wish
    const now = recordedNow()
    return this.em.fork().transactional(async (em) => {
      const head = await em.findOne(estateHeadEntity, { estateId }, dryRun ? {} : { lockMode: LockMode.PESSIMISTIC_WRITE })
      if (!head) throw noEstate(estateId)
      const repeated = dryRun ? undefined : await this.#doneBefore(em, head, wish)
      if (repeated) return { repeated }
      const before = await this.cache.at(em, head)
      const outcome = await work(() => em, before, contextAt(before, now, personId))
      const actor = actorOf(before, outcome, personId)
      if (!actor) throw personMissing()
      const change = done(before, outcome)
      if (dryRun || isEmpty(outcome.difference)) return { ...change, after: { ...change.after, revision: before.revision } }
      if (!(await writeChange(em, before, changeOf(estateId, before, outcome, actor, { at: now, submissionId }))))
        throw new Error(`Estate ${estateId} left revision ${before.revision} under its lock.`)
      return change
    })
  }

  /** The answer to a submission that was done already. @throws ProblemError 422 when its id was another's */
  async #doneBefore(em: EntityManager, head: EstateHead, { submissionId, asked }: Wish): Promise<Answer | undefined> {
    if (submissionId === undefined) return undefined
    const row = await em.findOne(changeEntity, { estateId: head.estateId, submissionId })
    if (!row) return undefined
    if (!holds(row.commands, asked))
      throw new ProblemError(
        422,
        'submission-used',
        'The submission id was used before',
        `The id in Insel-Submission belongs to change ${row.revision}, which did something else; nothing was changed. Make up a new id for what is new.`,
      )
    return answerOf(row, head)
  }

  /** A submission made on an older revision is refused when what it touches changed meanwhile; otherwise it is applied. */
  async #checkExpected(em: EntityManager, estateId: string, revision: number, expected: number, difference: Difference): Promise<void> {
    if (expected === revision) return
    if (expected > revision)
      throw new ProblemError(
        409,
        'revision-unknown',
        'The revision is not known',
        `Revision ${expected} was expected, but the estate is at ${revision}. Load it again.`,
      )
    const ids = [...Object.keys(difference.updated), ...Object.keys(difference.removed)]
    const rows = await this.log.touching(em, estateId, expected, ids)
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

  async #checkUnchangedSince(em: EntityManager, estateId: string, estate: Estate, revision: number, back: Difference): Promise<void> {
    const stray = [
      ...Object.entries(back.removed).filter(([id, { kind, record }]) => !isAs(estate, kind, id, record)),
      ...Object.entries(back.updated).filter(([id, { kind, from }]) => !isAs(estate, kind, id, from)),
      ...Object.entries(back.added).filter(([id]) => estate.kindOf(id) !== undefined),
    ].map(([id]) => id)
    if (stray.length === 0) return
    const rows = await this.log.touching(em, estateId, revision, stray)
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

/** Whether the database refused a change since one of the same submission is there. */
const isDoneBefore = (error: unknown): boolean => (error as { constraint?: unknown } | undefined)?.constraint === SUBMISSION_KEY

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
