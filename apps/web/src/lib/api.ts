import {
  PERSON_HEADER,
  PROBLEM_TYPE,
  SUBMISSION_HEADER,
  type CatalogueResponse,
  type Change,
  type ChangesPage,
  type CommandsResponse,
  type DifferenceResponse,
  type MacRegistryResponse,
  type Problem,
  type RecordsResponse,
  type ServerInfo,
  type Standing,
} from '@insel/contract'
import { WorkFailed } from './work-failed'
import type { Command, Item, PlanImport, StateOfNew, TableGiven } from '@insel/core'

/** What the server refused, with its problem document. */
export class ProblemResponse extends Error {
  readonly problem: Problem
  constructor(problem: Problem) {
    super(problem.detail)
    this.problem = problem
  }
}

/** What the page hears when the server could not be reached. */
export const AWAY = 'insel-away'

/** The server could not be reached, or something on the way to it answered instead. */
export class Unreachable extends Error {
  constructor(what = 'The server does not answer.') {
    super(`${what} What you entered is still here; try again when it is back.`)
    dispatchEvent(new Event(AWAY))
  }
}

/** Asks the server. Used by the parts of the page that are fetched with what they ask for. */
export async function call<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response
  try {
    response = await fetch(`/api/v1${path}`, init)
  } catch (error) {
    if (error instanceof TypeError) throw new Unreachable()
    throw error
  }
  const type = response.headers.get('content-type') ?? ''
  if (!type.startsWith(response.ok ? 'application/json' : PROBLEM_TYPE))
    throw new Unreachable(`The server does not answer: the response (${response.status}) is not from it.`)
  const answer = await readJson(response)
  if (response.ok) return answer as T
  throw new ProblemResponse(answer as Problem)
}

/** An answer's body; one that breaks off on the way is as good as none. */
async function readJson(response: Response): Promise<unknown> {
  try {
    return await response.json()
  } catch (error) {
    if (error instanceof TypeError || error instanceof SyntaxError) throw new Unreachable('The server’s answer was cut off.')
    throw error
  }
}

export const post = <T>(path: string, body: unknown) =>
  call<T>(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })

/** Who records, and the id of what is sent: sent again, it is answered with the change it made. */
export interface Sending {
  readonly personId: string
  readonly submissionId: string
}

/** Pauses before what is sent is sent again, milliseconds, where nobody knows whether it was done. */
const AGAIN_MS = [1000, 3000]

/** Records something. Where the server cannot say whether it was done, it is asked again: the id sees to it that it is done once. */
async function record<T>(path: string, body: unknown, { personId, submissionId }: Sending): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await call<T>(path, {
        method: 'POST',
        headers: { 'content-type': 'application/json', [PERSON_HEADER]: personId, [SUBMISSION_HEADER]: submissionId },
        body: JSON.stringify(body),
      })
    } catch (error) {
      const pause = AGAIN_MS[tries]
      if (pause === undefined || !(error instanceof ProblemResponse && error.problem.code === 'outcome-unknown')) throw error
      await new Promise((resolve) => setTimeout(resolve, pause))
    }
  }
}

/** A text that the server reads again and records as one change: see `POST imports/apply`. */
export type ImportGiven =
  | { readonly kind: 'names'; readonly text: string }
  | { readonly kind: 'tables'; readonly tables: readonly TableGiven[]; readonly stateOfNew: StateOfNew }
  | { readonly kind: 'plan'; readonly text: string; readonly records: Readonly<Record<string, string>> }

/** What a change is answered with where nothing is said of findings. */
export type ChangeMade = Omit<CommandsResponse, 'findings'>
/** The page works out findings itself, from the records it has: the server need not, and answers sooner. */
const QUICK = 'findings=false'

/** The server's API, as the interface uses it. */
export const api = {
  server: () => call<ServerInfo>('/server'),
  records: (estateId: string) => call<RecordsResponse>(`/estates/${estateId}/records`),
  /** What changed since a page's standing; all records when that is of another epoch. */
  since: (estateId: string, { revision, epoch }: Standing) =>
    call<RecordsResponse | DifferenceResponse>(`/estates/${estateId}/records?since=${revision}&epoch=${epoch}`),
  submit: (estateId: string, sending: Sending, commands: readonly Command[], { revision, epoch }: Standing) =>
    record<ChangeMade>(`/estates/${estateId}/commands?${QUICK}`, { commands, expectedRevision: revision, expectedEpoch: epoch }, sending),
  applyImport: (estateId: string, sending: Sending, given: ImportGiven, revision: number) =>
    record<ChangeMade>(`/estates/${estateId}/imports/apply?${QUICK}`, { ...given, expectedRevision: revision }, sending),
  previewPlan: (estateId: string, text: string, records: Readonly<Record<string, string>>) =>
    post<PlanImport>(`/estates/${estateId}/imports`, { kind: 'plan', text, records }),
  revertItem: (estateId: string, sending: Sending, { planId, id }: Item) =>
    record<ChangeMade>(`/estates/${estateId}/plans/${planId}/items/${id}/revert?${QUICK}`, {}, sending),
  revert: (estateId: string, sending: Sending, revision: number) =>
    record<ChangeMade>(`/estates/${estateId}/changes/${revision}/revert?${QUICK}`, {}, sending),
  catalogue: (search: string) => call<CatalogueResponse>(`/catalogue/systems?q=${encodeURIComponent(search)}&limit=30`),
  macRegistry: (prefixes: readonly string[]) => call<MacRegistryResponse>(`/mac-registry?prefixes=${prefixes.join(',')}`),
  changes: (estateId: string, query: Readonly<Record<string, string | undefined>>) => {
    const params = new URLSearchParams(Object.entries(query).flatMap(([name, value]) => (value ? [[name, value]] : [])))
    return call<ChangesPage>(`/estates/${estateId}/changes?${params}`)
  },
  change: (estateId: string, revision: number) => call<Change>(`/estates/${estateId}/changes/${revision}`),
}

/** What the server or the way to it said, to be shown where one asked. @throws what is neither */
export const sentenceOf = (error: unknown): string => {
  if (error instanceof ProblemResponse || error instanceof Unreachable || error instanceof WorkFailed) return error.message
  throw error
}
