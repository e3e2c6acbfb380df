import type { NestExpressApplication } from '@nestjs/platform-express'
import type { Command } from '@insel/core'
import { PERSON_HEADER } from '@insel/contract'
import pg from 'pg'
import request from 'supertest'
import { inject } from 'vitest'
import { fileURLToPath } from 'node:url'
import { newDatabaseOn } from '../../../../workbench/workbench.js'
import type { ServerOptions } from '../app.module.js'
import { createApp } from '../create-app.js'
import { TEMPLATE } from './cluster.js'

/** The built page: servers are tested as people run them, with it. */
const webRoot = fileURLToPath(new URL('../../../web/dist', import.meta.url))

let databases = 0

/** A new database on the tests' cluster, with its schema and nothing recorded. */
export const newDatabase = (): Promise<string> =>
  newDatabaseOn({ url: inject('clusterUrl'), adminUrl: inject('adminUrl') }, `test_${process.pid}_${++databases}`, TEMPLATE)

/** A server on its own database, listening on a free port. */
export interface TestServer {
  readonly app: NestExpressApplication
  readonly url: string
  readonly databaseUrl: string
  readonly estateId: string
  readonly personId: string
  send(commands: readonly unknown[], more?: object): request.Test
  get(path: string): request.Test
  sql<T>(text: string, values?: readonly unknown[]): Promise<T[]>
  stop(): Promise<void>
}

export async function startServer(databaseUrl?: string, options: Partial<ServerOptions> = {}): Promise<TestServer> {
  const database = databaseUrl ?? (await newDatabase())
  const app = await createApp({ databaseUrl: database, logLevel: 'silent', webRoot, ...options })
  await app.listen(0, '127.0.0.1')
  const url = (await app.getUrl()).replace('[::1]', '127.0.0.1')
  const made = await request(url).post('/api/v1/estates').send({ name: 'Skerry Sound', domain: 'skerry.example', recordedAs: 'Ola Berg' })
  const { id: estateId, personId } = made.body as { id: string; personId: string }
  const base = `/api/v1/estates/${estateId}`
  return {
    app,
    url,
    databaseUrl: database,
    estateId,
    personId,
    send: (commands, more = {}) =>
      request(url)
        .post(`${base}/commands`)
        .set(PERSON_HEADER, personId)
        .send({ commands, ...more }),
    get: (path) => request(url).get(`${base}${path}`),
    async sql<T>(text: string, values: readonly unknown[] = []) {
      const client = new pg.Client({ connectionString: database })
      await client.connect()
      try {
        return (await client.query(text, [...values])).rows as T[]
      } finally {
        await client.end()
      }
    },
    stop: () => app.close(),
  }
}

const ID = (n: number) => `01890000-0000-7000-8000-${n.toString(16).padStart(12, '0')}`
export const known = {
  platform: ID(1),
  host: ID(2),
  second: ID(3),
  store: ID(4),
  secondStore: ID(5),
  network: ID(6),
  subnet: ID(7),
  guest: ID(8),
  disk: ID(9),
  adapter: ID(10),
}

/** Two hosts, a network and a guest with an address, as a first list of commands. */
export const firstCommands: readonly Command[] = [
  { type: 'platform.add', record: { id: known.platform, name: 'Brackwater 5' } },
  { type: 'host.add', record: { id: known.host, name: 'gannet', platformId: known.platform, coresPerSocket: 8, memoryMiB: 32768 } },
  { type: 'host.add', record: { id: known.second, name: 'fulmar', platformId: known.platform, coresPerSocket: 8, memoryMiB: 32768 } },
  { type: 'store.add', record: { id: known.store, name: 'nvme-1', hostId: known.host, capacityBytes: 4e12 } },
  { type: 'store.add', record: { id: known.secondStore, name: 'nvme-2', hostId: known.second, capacityBytes: 4e12 } },
  { type: 'network.add', record: { id: known.network, name: 'office' } },
  { type: 'attachment.add', record: { hostId: known.host, networkId: known.network } },
  { type: 'attachment.add', record: { hostId: known.second, networkId: known.network } },
  { type: 'subnet.add', record: { id: known.subnet, networkId: known.network, prefix: '10.61.30.0/24', gateway: '10.61.30.1' } },
  {
    type: 'guest.add',
    record: { id: known.guest, name: 'playout-1', hostId: known.host, state: 'running', vcpu: 4, memoryMiB: 8192, tags: ['air'] },
  },
  { type: 'disk.add', record: { id: known.disk, guestId: known.guest, storeId: known.store, sizeBytes: 64424509440 } },
  { type: 'adapter.add', record: { id: known.adapter, guestId: known.guest, networkId: known.network, mac: '02:1a:4b:00:00:01' } },
  { type: 'address.assign', adapterId: known.adapter, kind: 'fixed' },
]
