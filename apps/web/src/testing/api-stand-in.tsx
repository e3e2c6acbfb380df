import { PERSON_HEADER, SUBMISSION_HEADER, PROBLEM_TYPE, type Change, type RevisionEvent } from '@insel/contract'
import {
  applyAll,
  changedFields,
  CommandError,
  compose,
  emptyDifference,
  importTables,
  mappedTable,
  importNames,
  invert,
  isEmpty,
  readPlanFile,
  aboutOf,
  type Command,
  type Difference,
  type Estate,
  type StateOfNew,
  type TableGiven,
  revertItem,
  ESTIMATED_MAX,
  progressView,
  readProgressText,
  type NumberStyle,
  type TransferSample,
} from '@insel/core'
import { QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import type { ReactNode } from 'react'
import { MemoryRouter, Route, Routes } from 'react-router'
import { vi } from 'vitest'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import { answerChecksBy } from '../checks/checks-remote'
import { EstateProvider, type EstateView, useEstate } from '../estate'
import { makeQueryClient } from '../lib/query-client'
import { checksHere } from './checks-stand-in'

export const ESTATE_ID = '01890000-0000-7000-8000-00000000e000'

/** What made the estate, long before anything that is recorded meanwhile; it is listed where older changes are asked for. */
const FIRST: Change = {
  revision: 1,
  at: '2026-03-02T08:00:00.000Z',
  actor: { id: idOf('ola'), name: 'Ola Berg' },
  commands: [],
  difference: emptyDifference,
  revertedBy: null,
  leftOut: { commands: 0, records: 0 },
}

/** One request as it reached the stand-in. */
export interface Asked {
  readonly method: string
  /** What was asked for, and the same with its question. */
  readonly route: string
  readonly path: string
  readonly body: Record<string, unknown>
}

/**
 * The server's API in memory, on the core itself: enough for what is between a page and the server. Its streams of events
 * are told by `tell`.
 */
export class ApiStandIn {
  estate: Estate
  revision = 1
  epoch = 'epoch-one'
  readonly asked: Asked[] = []
  readonly changes: (Change & { readonly back: Difference })[] = []
  /** Answers the next requests with a path that begins so otherwise than they would be. */
  readonly instead = new Map<string, () => Response | Promise<Response>>()
  readonly streams: EventSourceStandIn[] = []
  /** Nothing reaches the server. */
  isDown = false
  /** Lists of changes have nothing of what these did, as of large ones. */
  isBrief = false
  /** Commands are recorded, and their answer does not arrive. */
  isAnswerLost = false
  #seed = 900

  constructor(estate: Estate = smallEstate()) {
    this.estate = estate
  }

  /** A change by somebody else, told to nobody yet. */
  change(commands: readonly Command[], actor = 'Tove Lind', id = idOf('ola')): void {
    const { estate, difference } = applyAll(this.estate, commands, { ...testContext(this.#seed++), personId: id })
    this.#take(estate, difference, commands, { id, name: actor })
  }

  /** Tells every open stream where the estate stands. */
  tell(): void {
    const event: RevisionEvent = { estateId: ESTATE_ID, revision: this.revision, epoch: this.epoch }
    for (const stream of this.streams) if (stream.readyState === 1) stream.emit('revision', event)
  }

  /** Another record under another epoch, as after a restore. */
  restore(estate: Estate): void {
    this.estate = estate
    this.epoch = 'epoch-two'
  }

  #take(estate: Estate, difference: Difference, commands: readonly Command[], actor: Change['actor']): void {
    this.estate = estate
    this.revision++
    this.changes.unshift({
      revision: this.revision,
      at: '2027-01-18T08:00:00.000Z',
      actor,
      commands,
      difference,
      revertedBy: null,
      leftOut: { commands: 0, records: 0 },
      back: invert(difference),
    })
  }

  async fetch(path: string, init?: RequestInit): Promise<Response> {
    const method = init?.method ?? 'GET'
    const body = typeof init?.body === 'string' ? (JSON.parse(init.body) as Record<string, unknown>) : {}
    if (this.isDown) throw new TypeError('Failed to fetch')
    if (path === '/readyz') return json({ status: 'ok' })
    this.asked.push({ method, route: path.replace(/\?.*/, ''), path, body })
    for (const [begin, answer] of this.instead)
      if (path.startsWith(begin)) {
        this.instead.delete(begin)
        return answer()
      }
    const url = new URL(path, 'http://insel.test')
    const route = url.pathname.replace(`/api/v1/estates/${ESTATE_ID}`, '')
    const person = new Headers(init?.headers).get(PERSON_HEADER) ?? ''
    if (route === '/records') return this.#records(url.searchParams)
    if (route === '/commands') {
      const answer = await this.#once(new Headers(init?.headers).get(SUBMISSION_HEADER), () => this.#commands(body, person))
      if (this.isAnswerLost) throw new TypeError('Failed to fetch')
      return answer
    }
    if (route === '/changes') return json({ changes: this.#changesOf(url.searchParams), nextBefore: null })
    if (route === '/imports') return this.#previewPlan(body)
    if (route === '/imports/apply') return this.#import(body, person)
    if (url.pathname === '/api/v1/estates') return json([{ id: ESTATE_ID, name: this.estate.all('estate')[0]?.name ?? 'Estate' }])
    if (route === '/collections') return json([])
    const [, counted] = /^\/migrations\/([^/]+)\/samples\/count$/.exec(route) ?? []
    if (counted) return json({ count: this.readings.get(counted)?.length ?? 0 })
    const [, move, what] = /^\/migrations\/([^/]+)\/(progress|samples)$/.exec(route) ?? []
    if (move) return what === 'progress' ? this.#progress(move) : this.#takeReadings(move, body)
    if (route === '/observations/summaries') return json({ days: 30, lastSeen: null, summaries: {} })
    const one = /^\/changes\/(\d+)$/.exec(route)
    if (one) return json(this.changes.find(({ revision }) => revision === Number(one[1])))
    const revert = /^\/changes\/(\d+)\/revert$/.exec(route)
    if (revert) return this.#revert(Number(revert[1]), person)
    const item = /^\/plans\/[^/]+\/items\/([^/]+)\/revert$/.exec(route)
    if (item) return this.#revertItem(item[1] ?? '', person)
    return problem(404, 'not-found', `There is nothing at ${method} ${path}.`)
  }

  #changesOf(query: URLSearchParams): readonly Change[] {
    const [subject, before] = [query.get('subject'), query.get('before')]
    if (before !== null) return [...this.changes, FIRST].filter(({ revision }) => revision < Number(before))
    const about = this.changes.filter(
      ({ difference }) => subject === null || aboutOf(difference, this.estate, this.estate).includes(subject),
    )
    return this.isBrief
      ? about.map((change) => ({ ...change, difference: emptyDifference, leftOut: { commands: 41, records: 99 } }))
      : about
  }

  /** Readings of moves, as they were sent. */
  readonly readings = new Map<string, readonly TransferSample[]>()

  #progress(move: string): Response {
    const samples = this.readings.get(move) ?? []
    const totalBytes = this.estate.find('migration', move)?.totalBytes ?? 1e9
    return json({ ...progressView(totalBytes, samples), count: samples.length > ESTIMATED_MAX ? null : samples.length, totalBytes })
  }

  #takeReadings(move: string, { samples, text, style }: Record<string, unknown>): Response {
    const totalBytes = this.estate.find('migration', move)?.totalBytes ?? 1e9
    const read = typeof text === 'string' ? readProgressText(text, totalBytes, Date.now(), style as NumberStyle | undefined) : undefined
    if (read?.doubt) return json({ taken: 0, rejected: [], unread: 0, doubt: read.doubt, remarks: [] })
    const taken =
      read?.samples ?? (samples as readonly { at: string; bytes: number }[]).map(({ at, bytes }) => ({ at: Date.parse(at), bytes }))
    this.readings.set(move, [...(this.readings.get(move) ?? []), ...taken])
    return json({ taken: taken.length, rejected: [], unread: read?.unread ?? 0, remarks: [] })
  }

  #records(query: URLSearchParams): Response {
    const standing = { revision: this.revision, epoch: this.epoch }
    const since = query.get('since')
    if (since === null || query.get('epoch') !== this.epoch) return json({ ...standing, records: this.estate.toRecords() })
    const difference = [...this.changes]
      .reverse()
      .filter(({ revision }) => revision > Number(since))
      .reduce((all, change) => compose(all, change.difference), emptyDifference)
    return json({ ...standing, difference })
  }

  /** What was recorded under an id is answered again, and not recorded again. */
  readonly #submissions = new Map<string, string>()
  async #once(id: string | null, work: () => Response): Promise<Response> {
    const before = this.#submissions.get(id ?? '')
    if (before !== undefined) return json(JSON.parse(before))
    const answer = work()
    if (id && answer.ok) this.#submissions.set(id, await answer.clone().text())
    return answer
  }

  #commands(body: Record<string, unknown>, person: string): Response {
    if (body['expectedEpoch'] !== this.epoch)
      return problem(409, 'database-restored', 'The database was restored from a backup since this page was loaded; nothing was changed.')
    return this.#record(body['commands'] as readonly Command[], person)
  }

  #record(commands: readonly Command[], person: string): Response {
    try {
      const { estate, difference } = applyAll(this.estate, commands, this.#context(person))
      if (!isEmpty(difference))
        this.#take(estate, difference, commands, { id: person, name: this.estate.find('person', person)?.name ?? '?' })
      return json({
        revision: this.revision,
        epoch: this.epoch,
        difference,
        findings: { raised: [], changed: [], settled: [], pending: [] },
      })
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
      return problem(422, error.code, error.message, error.problems)
    }
  }

  #context(personId: string) {
    return { ...testContext(this.#seed++), revision: this.revision + 1, personId }
  }

  /** What an item did is taken back by what the log says of it. */
  #revertItem(itemId: string, person: string): Response {
    const change = this.changes.find(({ revision }) => revision === this.estate.find('item', itemId)?.doneRevision)
    if (!change) return problem(404, 'not-found', 'There is no such change.')
    const { estate, difference } = revertItem(this.estate, itemId, change.difference, this.#context(person))
    this.#take(estate, difference, [], { id: person, name: '' })
    return json({ revision: this.revision, epoch: this.epoch, difference, findings: { raised: [], changed: [], settled: [], pending: [] } })
  }

  /** What the server does with a text: it reads it itself, upon the revision that was shown. */
  #readPlan({ text, records }: Record<string, unknown>) {
    return readPlanFile(this.estate, String(text), testContext(this.#seed++), records as Readonly<Record<string, string>>)
  }

  #previewPlan(body: Record<string, unknown>): Response {
    const reading = this.#readPlan(body)
    return 'problems' in reading ? problem(400, 'malformed', reading.problems.join(' ')) : json(reading)
  }

  #import(body: Record<string, unknown>, person: string): Response {
    const { kind, text, tables, stateOfNew, expectedRevision } = body
    if (expectedRevision !== this.revision) return problem(409, 'changed-since', 'The estate changed since the preview.')
    const context = testContext(this.#seed++)
    if (kind === 'plan') {
      const reading = this.#readPlan(body)
      return 'problems' in reading ? this.#previewPlan(body) : this.#record(reading.commands, person)
    }
    if (kind === 'names') return this.#record(importNames(this.estate, String(text), context.newId).commands, person)
    const given = (tables as readonly TableGiven[]).map(mappedTable)
    return this.#record(importTables(this.estate, given, context, stateOfNew as StateOfNew).commands, person)
  }

  #revert(revision: number, person: string): Response {
    const change = this.changes.find((one) => one.revision === revision)
    if (!change) return problem(404, 'not-found', `There is no change ${revision}.`)
    const stray = Object.values(change.back.updated).some(({ kind, from }) => {
      const now = this.estate.find(kind, from.id)
      return !now || changedFields(from, now).length > 0
    })
    if (stray) return problem(409, 'changed-since', `Change ${revision} cannot be reverted: what it did was changed since.`)
    this.#take(this.estate.with(change.back), change.back, [], { id: person, name: '' })
    return json({
      revision: this.revision,
      epoch: this.epoch,
      difference: change.back,
      findings: { raised: [], changed: [], settled: [], pending: [] },
    })
  }
}

const json = (value: unknown) => new Response(JSON.stringify(value), { headers: { 'content-type': 'application/json' } })
export const problem = (status: number, code: string, detail: string, errors: readonly unknown[] = []) =>
  new Response(JSON.stringify({ type: `urn:insel:problem:${code}`, title: code, status, code, detail, errors }), {
    status,
    headers: { 'content-type': PROBLEM_TYPE },
  })

/** A stream of events that a test opens, tells and breaks. */
export class EventSourceStandIn extends EventTarget {
  static readonly CONNECTING = 0
  static readonly OPEN = 1
  static readonly CLOSED = 2
  static all: EventSourceStandIn[] = []
  readyState = 1
  readonly url: string

  constructor(url: string) {
    super()
    this.url = url
    EventSourceStandIn.all.push(this)
  }
  emit(type: string, data: unknown): void {
    this.dispatchEvent(new MessageEvent(type, { data: JSON.stringify(data) }))
  }
  /** The server ends it for good, as it does with an answer that is no stream. */
  end(): void {
    this.readyState = EventSourceStandIn.CLOSED
    this.dispatchEvent(new Event('error'))
  }
  close(): void {
    this.readyState = EventSourceStandIn.CLOSED
  }
}

/** Puts the stand-ins in the place of the browser's own, and of the worker. */
export function stubServer(estate?: Estate): ApiStandIn {
  const api = new ApiStandIn(estate)
  answerChecksBy(checksHere(), checksHere())
  EventSourceStandIn.all = api.streams
  vi.stubGlobal('EventSource', EventSourceStandIn)
  vi.stubGlobal('fetch', (path: string, init?: RequestInit) => api.fetch(path, init))
  return api
}

/** Renders something within an estate of the stand-in, as Ola Berg; `view` is what pages get of it. */
export function renderInEstate(
  children: ReactNode,
  { person = idOf('ola'), at = '', before }: { person?: string | null; at?: string; before?: string } = {},
) {
  if (person) localStorage.setItem(`insel.person.${ESTATE_ID}`, JSON.stringify(person))
  const seen: { view?: EstateView } = {}
  function Look() {
    seen.view = useEstate()
    return null
  }
  const client = makeQueryClient({ retry: false })
  const rendered = render(
    <QueryClientProvider client={client}>
      <MemoryRouter initialEntries={[...(before === undefined ? [] : [before]), at].map((path) => `/estates/${ESTATE_ID}/${path}`)}>
        <Routes>
          <Route
            path="/estates/:estateId/*"
            element={
              <EstateProvider waiting={<p>waiting</p>} failed={(error) => <p>failed: {error.message}</p>}>
                <Look />
                {children}
              </EstateProvider>
            }
          />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  )
  return {
    ...rendered,
    client,
    view: () => {
      if (!seen.view) throw new Error('the estate is not shown yet')
      return seen.view
    },
  }
}
