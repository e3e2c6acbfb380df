import { OBSERVATIONS_MAX, PERSON_HEADER, type CommandsResponse, type EstateSummary, type ListPage } from '@insel/contract'
import type { Command, Guest, Store } from '@insel/core'
import { skerryObserved } from './skerry-observed.js'
import { demoPeople, skerrySound } from './skerry-sound.js'

async function call<T>(url: string, body: unknown, person?: string): Promise<T> {
  const response = await fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...(person ? { [PERSON_HEADER]: person } : {}) },
    body: JSON.stringify(body),
  })
  const answer = (await response.json()) as T & { detail?: string }
  if (!response.ok) throw new Error(`${url}: ${response.status} ${answer.detail ?? ''}`)
  return answer
}

/** A new estate on a running server. */
export const createEstate = (server: string, request: object): Promise<EstateSummary & { personId: string }> =>
  call(`${server}/api/v1/estates`, request)

/** Sends commands to an estate on a running server. */
export const sendCommands = (server: string, estateId: string, personId: string, commands: readonly Command[]): Promise<CommandsResponse> =>
  call(`${server}/api/v1/estates/${estateId}/commands`, { commands }, personId)

/**
 * Loads the demo estate through the same pipeline as everything else.
 *
 * @param begun what to do once the estate is there and still empty
 * @returns its id
 */
export async function loadDemo(server: string, begun?: (estateId: string) => Promise<unknown>): Promise<string> {
  const { id: estateId, personId } = await createEstate(server, {
    name: 'Skerry Sound',
    domain: 'skerry.example',
    timeZone: 'Europe/London',
    recordedAs: demoPeople[0],
  })
  await begun?.(estateId)
  const people = new Map<string, string>([[demoPeople[0], personId]])
  for (const { by, commands } of skerrySound(estateId, personId)) {
    await sendCommands(server, estateId, people.get(by) ?? personId, commands)
    for (const command of commands)
      if (command.type === 'person.add' && command.record.id) people.set(command.record.name, command.record.id)
  }
  return estateId
}

/** Ninety days of observations of the demo's guests and stores, up to now. */
export async function loadObservations(server: string, estateId: string): Promise<void> {
  const base = `${server}/api/v1/estates/${estateId}`
  const list = async (kind: 'guests' | 'stores') =>
    ((await (await fetch(`${base}/${kind}?limit=200`)).json()) as ListPage<Guest | Store>).items
  const subjects = [...(await list('guests')), ...(await list('stores'))]
  const samples = skerryObserved((name) => subjects.find((subject) => subject.name === name)?.id, Date.now())
  for (let at = 0; at < samples.length; at += OBSERVATIONS_MAX)
    await call(`${base}/observations`, { samples: samples.slice(at, at + OBSERVATIONS_MAX) })
}
