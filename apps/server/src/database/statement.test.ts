import type { Network } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startServer, type TestServer } from '../testing/test-server.js'
import { differenceStatements } from './records-table.js'
import { runIn } from './statement.js'

let server: TestServer
let em: EntityManager
beforeAll(async () => {
  server = await startServer()
  em = server.app.get(EntityManager)
})
afterAll(() => server.stop())

describe('a statement', () => {
  it('is given its values by number', async () =>
    expect(await runIn(em)({ sql: 'select ?::text as "a", ?::integer as "b"', values: ['?', 2] })).toEqual([{ a: '?', b: 2 }]))

  it('gives its connection back when it fails', async () => {
    for (let run = 0; run < 25; run++)
      await expect(runIn(em)({ sql: 'select 1 / ?::integer', values: [0] })).rejects.toThrow('division by zero')
    expect(await runIn(em)({ sql: 'select 1 as "one"', values: [] })).toEqual([{ one: 1 }])
  })

  it('that is prepared is kept once by a connection, and runs in a transaction where there is one', async () => {
    const prepared = { sql: 'select ?::integer as "number", txid_current() as "transaction"', isPrepared: true }
    await em.fork().transactional(async (tx) => {
      const [first] = await runIn(tx)({ ...prepared, values: [1] })
      const [second] = await runIn(tx)({ ...prepared, values: [2] })
      expect([first?.['number'], second?.['number']]).toEqual([1, 2])
      expect(second?.['transaction']).toBe(first?.['transaction'])
      const kept = await runIn(tx)({
        sql: 'select name from pg_prepared_statements where statement like ?',
        values: ['%txid_current%as "transaction"'],
      })
      expect(kept).toHaveLength(1)
    })
  })
})

describe('what writes a difference', () => {
  it('finds few records by their key, however many there are: PostgreSQL says so', async () => {
    await server.send([{ type: 'network.add', record: { name: 'first' } }])
    const columns = await server.sql<{ name: string }>(
      `select column_name as name from information_schema.columns where table_name = 'network' and is_generated = 'NEVER'`,
    )
    const own: Readonly<Record<string, string>> = { id: 'gen_random_uuid()', name: `'net-' || i` }
    await server.sql(
      `insert into network (${columns.map(({ name }) => `"${name}"`).join(', ')})
       select ${columns.map(({ name }) => own[name] ?? `n."${name}"`).join(', ')} from network n, generate_series(1, 20000) i`,
    )
    await server.sql('analyze network')
    const networks = await server.sql<Network>('select id, name from network limit 10')
    const head = { sql: '(select ?::uuid as "estate_id") as h', values: [server.estateId] }
    const planOf = async (count: number) => {
      const updated = Object.fromEntries(
        networks.slice(0, count).map((record) => [record.id, { kind: 'network', from: record, to: record } as const]),
      )
      const [statement] = differenceStatements(em, { added: {}, updated, removed: {} }, head)
      const rows = await runIn(em)({ sql: `explain ${statement?.sql ?? ''}`, values: statement?.values ?? [] })
      return rows.map((row) => String(row['QUERY PLAN'])).join('\n')
    }
    for (const count of [1, 10]) {
      const plan = await planOf(count)
      expect(plan).toContain('Index Scan using network_pkey on network')
      expect(plan).not.toContain('Seq Scan')
    }
  })
})
