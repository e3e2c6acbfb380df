import { OBSERVATIONS_MAX, PERSON_HEADER, STORY_HEADER, type CommandsResponse, type EstateSummary, type ListPage } from '@insel/contract'
import type { Command, Guest, Migration, Store } from '@insel/core'
import { bytesAfter } from '../stand-ins/transfer.js'
import { skerryObserved } from './skerry-observed.js'
import { demoPeople, skerrySound, STORY_DAYS, type StoryTime } from './skerry-sound.js'

async function call<T>(url: string, body: unknown, person?: string, at?: number): Promise<T> {
  const response = await fetch(url, {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      ...(person ? { [PERSON_HEADER]: person } : {}),
      ...(at ? { [STORY_HEADER]: new Date(at).toISOString() } : {}),
    },
    body: JSON.stringify(body),
  })
  const answer = (await response.json()) as T & { detail?: string }
  if (!response.ok) throw new Error(`${url}: ${response.status} ${answer.detail ?? ''}`)
  return answer
}

/** A new estate on a running server. */
export const createEstate = (server: string, request: object, at?: number): Promise<EstateSummary & { personId: string }> =>
  call(`${server}/api/v1/estates`, request, undefined, at)

/** Sends commands to an estate on a running server as a page does, which works out findings itself. */
export const sendCommands = (
  server: string,
  estateId: string,
  personId: string,
  commands: readonly Command[],
  at?: number,
): Promise<Omit<CommandsResponse, 'findings'>> =>
  call(`${server}/api/v1/estates/${estateId}/commands?findings=false`, { commands }, personId, at)

/**
 * Loads the demo estate through the same pipeline as everything else.
 *
 * @param begun what to do once the estate is there and still empty
 * @returns its id
 */
export async function loadDemo(server: string, begun?: (estateId: string) => Promise<unknown>): Promise<string> {
  const now = Date.now()
  const { id: estateId, personId } = await createEstate(
    server,
    { name: 'Skerry Sound', domain: 'skerry.example', timeZone: 'Europe/London', recordedAs: demoPeople[0] },
    toldAt(now, { daysAgo: STORY_DAYS, minute: 8 * 60 }),
  )
  await begun?.(estateId)
  const people = new Map<string, string>([[demoPeople[0], personId]])
  let last = 0
  for (const { by, commands, at } of skerrySound(estateId, personId)) {
    // What is told comes after what was told before, and is over.
    last = Math.min(Math.max(last + 60_000, toldAt(now, at)), now - 1000)
    await sendCommands(server, estateId, people.get(by) ?? personId, settledAt(commands, last), last)
    for (const command of commands)
      if (command.type === 'person.add' && command.record.id) people.set(command.record.name, command.record.id)
  }
  return estateId
}

/** Work on sheets, as long apart as it is told, and over when it is recorded. */
function settledAt(commands: readonly Command[], at: number): readonly Command[] {
  const INSTANTS = ['at', 'startedAt', 'resumedAt', 'finishedAt'] as const
  const told = commands.flatMap((command) =>
    command.type === 'step.add' || command.type === 'sheet.add'
      ? INSTANTS.flatMap((field) => (command.record as Partial<Record<string, string | null>>)[field] ?? [])
      : [],
  )
  const later = at - Math.max(...told.map((instant) => Date.parse(instant)))
  return commands.map((command) => {
    if (command.type !== 'step.add' && command.type !== 'sheet.add') return command
    const record = command.record as Readonly<Record<string, unknown>>
    const moved = INSTANTS.flatMap((field) => {
      const instant = record[field]
      return typeof instant === 'string' ? [[field, new Date(Date.parse(instant) + later).toISOString()] as const] : []
    })
    return { ...command, record: { ...record, ...Object.fromEntries(moved) } } as Command
  })
}

/** When something of the story was done, milliseconds since 1970: so many days before, at a minute of the day. */
const toldAt = (now: number, { daysAgo, minute }: StoryTime): number => now - (now % DAY_MS) - daysAgo * DAY_MS + minute * 60_000
const DAY_MS = 86_400_000

/** Readings of the copy that runs in the demo: begun 40 minutes before, with set-up, a stall and some wandering, up to now. */
export async function loadReadings(server: string, estateId: string): Promise<void> {
  const base = `${server}/api/v1/estates/${estateId}`
  const { items } = (await (await fetch(`${base}/migrations?limit=100`)).json()) as ListPage<Migration>
  const move = items.find(({ state }) => state === 'copying')
  if (!move?.ownerId || !move.totalBytes) throw new Error('no move of the demo is being copied')
  const wish = { bytes: move.totalBytes, rate: 24e6, setup: 180, noise: 25, sparse: 0, stallEvery: 900, stallFor: 120, failAt: 0, speed: 1 }
  const now = Date.now()
  const begun = now - MINUTES_COPIED * 60_000
  const at = new Date(begun).toISOString()
  await sendCommands(server, estateId, move.ownerId, [{ type: 'migration.update', id: move.id, changes: { copyingAt: at } }])
  const times = Array.from({ length: MINUTES_COPIED * 2 + 1 }, (_, index) => index * 30)
  const bytes = bytesAfter(wish, times)
  await call(`${base}/migrations/${move.id}/samples`, {
    samples: times.map((seconds, index) => ({ at: new Date(begun + seconds * 1000).toISOString(), bytes: bytes[index] ?? 0 })),
  })
}
const MINUTES_COPIED = 40

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
