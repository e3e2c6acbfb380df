import type { Problem } from '@insel/contract'
import pg from 'pg'
import request from 'supertest'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { createApp } from '../create-app.js'
import { newDatabase } from '../testing/test-server.js'

let app: Awaited<ReturnType<typeof createApp>>
let url: string
let client: pg.Client
beforeAll(async () => {
  const databaseUrl = await newDatabase()
  app = await createApp({ databaseUrl, logLevel: 'silent', awaitsDemo: true })
  await app.listen(0, '127.0.0.1')
  url = await app.getUrl()
  client = new pg.Client({ connectionString: databaseUrl })
  await client.connect()
})
afterAll(async () => {
  await client.end()
  await app.close()
})

it('a server that awaits the demo is ready when it is there, and says until then what it waits for', async () => {
  const ready = async () => {
    const { status, body } = await request(url).get('/readyz')
    return [status, (body as Partial<Problem>).detail]
  }
  expect(await ready()).toEqual([503, 'The demo estate is about to be loaded. Ask again in a moment.'])
  expect((await request(url).get('/healthz')).status).toBe(200)
  await request(url).post('/api/v1/estates').send({ name: 'Skerry Sound' })
  await client.query(`update estate_head set demo = 'being loaded'`)
  expect(await ready()).toEqual([503, 'The demo estate is being loaded. Ask again in a moment.'])
  await client.query(`update estate_head set demo = 'loaded'`)
  expect(await ready()).toEqual([200, undefined])
})
