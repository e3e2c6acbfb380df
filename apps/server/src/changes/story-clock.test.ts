import { STORY_HEADER, type ChangesPage, type EstateSummary } from '@insel/contract'
import request from 'supertest'
import { afterEach, expect, it } from 'vitest'
import { createApp } from '../create-app.js'
import { newDatabase } from '../testing/test-server.js'

let app: Awaited<ReturnType<typeof createApp>>
afterEach(() => app.close())

/** When the changes of an estate were recorded that say they are of 2026. */
async function recordedAt(takesStory: boolean): Promise<readonly string[]> {
  app = await createApp({ databaseUrl: await newDatabase(), logLevel: 'silent', takesStory })
  await app.listen(0, '127.0.0.1')
  const url = await app.getUrl()
  const told = (at: string) => [STORY_HEADER, at] as const
  const made = await request(url)
    .post('/api/v1/estates')
    .set(...told('2026-09-01T08:10:00.000Z'))
    .send({ name: 'Skerry Sound', recordedAs: 'Ola' })
  const { id, personId } = made.body as EstateSummary & { personId: string }
  for (const [at, name] of [
    ['2026-09-03T09:00:00.000Z', 'office'],
    ['nonsense', 'studio'],
  ] as const)
    await request(url)
      .post(`/api/v1/estates/${id}/commands`)
      .set('insel-person', personId)
      .set(...told(at))
      .send({ commands: [{ type: 'network.add', record: { name } }] })
      .expect(200)
  const { changes } = (await request(url).get(`/api/v1/estates/${id}/changes`)).body as ChangesPage
  return changes.map(({ at }) => at).toReversed()
}

it('a server that takes a story in records things when they were done; what is no time is now', async () => {
  const [made, first, last = ''] = await recordedAt(true)
  expect([made, first]).toEqual(['2026-09-01T08:10:00.000Z', '2026-09-03T09:00:00.000Z'])
  expect(Math.abs(Date.parse(last) - Date.now())).toBeLessThan(60_000)
})

it('any other server does not listen to it: what is recorded is recorded now', async () => {
  for (const at of await recordedAt(false)) expect(Math.abs(Date.parse(at) - Date.now())).toBeLessThan(60_000)
})
