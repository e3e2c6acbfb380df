import { applyAll, isEmpty, sayCommand, withIds, type Command, type Estate, type Item, type Person } from '@insel/core'
import { useQueryClient } from '@tanstack/react-query'
import { useCallback, useMemo, useRef, useState } from 'react'
import { api, ProblemResponse, Unreachable, type ChangeMade, type ImportGiven, type Sending } from '../lib/api'
import { withAhead } from './ahead'
import { browserContext, newId } from '../lib/context'
import { say } from '../lib/messages'
import { catchUp, recordedIn, recordedKey, type Recorded } from './recorded'
import { refusal, refusalOf, type Refusal } from './refusal'

const nameMissing = refusal('Say who you are first, at the top right: the logbook shows your name.')
const NONE_AHEAD: readonly (readonly Command[])[] = []

/** Submits commands, and undoes changes. */
export interface Submitting {
  /**
   * Applies commands to the record, after those submitted before. @returns why not, or undefined when done
   * @param done what is said when it is done, instead of what the first command says
   * @param isShownAtOnce shows the change before the server has answered, where a refusal is rare; a refusal undoes it. The ids
   * of what is added are in the commands then.
   * @param submissionId of commands that were kept with their id, as they may have been sent before
   */
  submit(commands: readonly Command[], done?: string, isShownAtOnce?: boolean, submissionId?: string): Promise<Refusal | undefined>
  /**
   * Records a text that was read here, by having the server read it, too: however many commands it comes to.
   *
   * @param commands what it comes to, on the record as it is shown
   */
  submitImport(given: ImportGiven, commands: readonly Command[], done: string): Promise<Refusal | undefined>
  /** Undoes a change, by a new one. @returns why not, or undefined when done */
  revert(revision: number): Promise<Refusal | undefined>
  /** Takes back what an item of a plan did. @returns why not, or undefined when done */
  revertItem(item: Item): Promise<Refusal | undefined>
}

/** Submits nothing, and says why each time. */
export function submittingNothing(why: string): Submitting {
  const refuse = () => Promise.resolve(refusal(why))
  return { submit: refuse, submitImport: refuse, revert: refuse, revertItem: refuse }
}

/** How a submission is sent: by whom, as what, on which standing. */
type Post = (sending: Sending, on: Recorded) => Promise<ChangeMade>

/** What was sent and not answered: who asks for the same again means that. */
interface Unanswered {
  readonly submissionId: string
  /** With the ids that were made for what they add. */
  readonly commands: readonly Command[]
}

/** Who records: the person of this browser, or the one that a list of commands introduces. */
function actorOf(commands: readonly Command[], person: Person | undefined): { id: string | undefined; isIntroduction: boolean } {
  const [first, ...more] = commands
  const isIntroduction = more.length === 0 && first?.type === 'person.add'
  return { id: person?.id ?? (isIntroduction ? first.record.id : undefined), isIntroduction }
}

/** What a submission is called when it is done. @example 'Power off playout-1 and 2 more' */
const sayDone = (estate: Estate, [first, ...more]: readonly Command[]): string =>
  first ? sayCommand(estate, first) + (more.length > 0 ? ` and ${more.length} more` : '') : ''

/**
 * How what is done on this page gets into the record.
 *
 * @param answered the record as the server last said it is
 * @param person who records, if anybody said so
 * @returns `recorded`, with what is shown ahead of the answer
 */
export function useSubmitting(
  estateId: string,
  answered: Recorded,
  personIn: (recorded: Estate) => Person | undefined,
): { readonly recorded: Recorded; readonly submitting: Submitting } {
  const client = useQueryClient()
  const [ahead, setAhead] = useState(NONE_AHEAD)
  const recorded = useMemo(() => {
    const estate = withAhead(answered.estate, ahead, answered.revision)
    return estate === answered.estate ? answered : { ...answered, estate }
  }, [answered, ahead])
  const person = personIn(recorded.estate)
  const turn = useRef<Promise<unknown>>(Promise.resolve())
  const unanswered = useRef(new Map<string, Unanswered>())
  const settled = useCallback((key: string, sent: Unanswered, why: Refusal | undefined) => {
    if (why?.isUnreachable) unanswered.current.set(key, sent)
    else unanswered.current.delete(key)
    return why
  }, [])

  const settle = useCallback(
    async (after: ChangeMade) => {
      try {
        await catchUp(client, estateId, after)
      } catch (error) {
        // It is recorded, whatever becomes of reading on; the stream says again where the estate stands.
        if (!(error instanceof Unreachable || error instanceof ProblemResponse)) throw error
      }
    },
    [client, estateId],
  )

  const takeBack = useCallback(
    async (key: string, ask: (sending: Sending) => Promise<ChangeMade>, done: string) => {
      if (!person) return nameMissing
      const sent = unanswered.current.get(key) ?? { submissionId: newId(), commands: [] }
      try {
        await settle(await ask({ personId: person.id, submissionId: sent.submissionId }))
        say({ sentence: done, isTrouble: false })
        return settled(key, sent, undefined)
      } catch (error) {
        return settled(key, sent, refusalOf(error))
      }
    },
    [person, settle, settled],
  )
  const revert = useCallback(
    (target: number) => takeBack(`change ${target}`, (sending) => api.revert(estateId, sending, target), `Change ${target} is undone.`),
    [estateId, takeBack],
  )
  const revertItem = useCallback(
    (item: Item) => takeBack(`item ${item.id}`, (sending) => api.revertItem(estateId, sending, item), `“${item.title}” is reverted.`),
    [estateId, takeBack],
  )

  const submitBy = useCallback(
    async ({ commands, submissionId }: Unanswered, post: Post, done?: string, isShownAtOnce = false) => {
      const { id: actor, isIntroduction } = actorOf(commands, person)
      if (!actor) return nameMissing
      if (isShownAtOnce) setAhead((before) => [...before, commands])
      // One at a time: who is quicker than the server's answer builds upon it, and does not come up against it.
      const send = turn.current.then(async () => {
        const current = recordedIn(client, estateId) ?? answered
        const answer = await post({ personId: actor, submissionId }, current)
        await settle(answer)
        return { ...answer, estate: (recordedIn(client, estateId) ?? current).estate }
      })
      turn.current = send.catch(() => undefined)
      try {
        const { estate, revision, difference } = await send
        if (isIntroduction) return undefined
        const undo = () =>
          void revert(revision).then((why) => {
            if (why) say({ sentence: why.sentence, isTrouble: true })
          })
        say({
          isTrouble: false,
          ...(isEmpty(difference)
            ? { sentence: 'This is already recorded; nothing changed.' }
            : { sentence: `${done ?? sayDone(estate, commands)}: recorded as change ${revision}.`, undo }),
        })
        return undefined
      } catch (error) {
        if (error instanceof ProblemResponse && error.problem.code === 'database-restored')
          await client.refetchQueries({ queryKey: recordedKey(estateId) })
        return refusalOf(error)
      } finally {
        if (isShownAtOnce) setAhead((before) => before.filter((others) => others !== commands))
      }
    },
    [estateId, client, answered, person, revert, settle],
  )
  const submit = useCallback<Submitting['submit']>(
    async (wanted, done, isShownAtOnce, kept) => {
      const key = kept ?? JSON.stringify(wanted)
      const before = unanswered.current.get(key)
      const sent = before ?? { submissionId: kept ?? newId(), commands: withIds(wanted, newId) }
      const post: Post = (sending, current) => {
        // The core refuses here what the server would refuse, without the way there and back. What may be done already only the server knows.
        if (!before && !kept) applyAll(current.estate, sent.commands, { ...browserContext(current.revision), personId: sending.personId })
        return api.submit(estateId, sending, sent.commands, current)
      }
      return settled(key, sent, await submitBy(sent, post, done, isShownAtOnce))
    },
    [estateId, submitBy, settled],
  )
  const submitImport = useCallback<Submitting['submitImport']>(
    async (given, commands, done) => {
      const key = JSON.stringify(given)
      const sent = { submissionId: unanswered.current.get(key)?.submissionId ?? newId(), commands }
      const post: Post = (sending, { revision }) => api.applyImport(estateId, sending, given, revision)
      return settled(key, sent, await submitBy(sent, post, done))
    },
    [estateId, submitBy, settled],
  )
  const submitting = useMemo((): Submitting => ({ submit, submitImport, revert, revertItem }), [submit, submitImport, revert, revertItem])
  return { recorded, submitting }
}
