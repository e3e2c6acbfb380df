import { Estate } from '@insel/core'
import { EntityManager } from '@mikro-orm/postgresql'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { estateHeadEntity } from '../database/entities.js'
import { FindingsOnDemand } from './findings-on-demand.js'
import { firstCommands, known, startServer, type TestServer } from '../testing/test-server.js'
import { EstateCache, type EstateVersion } from './estate-cache.js'

let server: TestServer
beforeAll(async () => {
  server = await startServer()
  await server.send(firstCommands)
})
afterAll(() => server.stop())

/** What asks the database, and how often whole tables were read by it. */
function counting() {
  const em = server.app.get(EntityManager).fork()
  const read = { tables: 0 }
  const counted = new Proxy(em, {
    get(of, name) {
      const value: unknown = Reflect.get(of, name)
      if (name === 'createQueryBuilder') read.tables++
      return typeof value === 'function' ? (value.bind(of) as unknown) : value
    },
  })
  return { em: counted, read }
}
const headNow = async () => {
  const head = await server.app.get(EntityManager).fork().findOneOrFail(estateHeadEntity, { estateId: server.estateId })
  return { estateId: head.estateId, revision: head.revision, epoch: head.epoch }
}
const note = (text: string) => server.send([{ type: 'host.update', id: known.host, changes: { note: text } }])

describe('estates that are kept', () => {
  it('are read once, however many ask for them at the same time', async () => {
    const [cache, { em, read }, head] = [new EstateCache(1e9), counting(), await headNow()]
    await cache.at(em, head)
    const once = read.tables
    expect(once).toBeGreaterThan(20)
    const cold = new EstateCache(1e9)
    const all = await Promise.all(Array.from({ length: 8 }, () => cold.at(em, head)))
    expect([read.tables, new Set(all).size, all[0]?.revision]).toEqual([2 * once, 1, head.revision])
  })

  it('go on by the changes since, and whoever asked before them is given what is newer', async () => {
    const [cache, { em, read }, before] = [new EstateCache(1e9), counting(), await headNow()]
    await cache.at(em, before)
    const once = read.tables
    await note('one')
    await note('two')
    const after = await headNow()
    const seen = await cache.at(em, after)
    expect([seen.revision, seen.estate.find('host', known.host)?.note]).toEqual([before.revision + 2, 'two'])
    expect(await cache.at(em, before)).toBe(seen)
    // Who was slow to keep what it saw does not take them back.
    cache.keep(server.estateId, { ...seen, revision: before.revision })
    expect(await cache.at(em, after)).toBe(seen)
    expect(read.tables).toBe(once)
  })

  it('of before a restore are no start for what comes after it', async () => {
    const [cache, { em }, head] = [new EstateCache(1e9), counting(), await headNow()]
    const other = { ...(await cache.at(em, head)), epoch: '01890000-0000-7000-8000-0000000000aa', revision: head.revision + 5 }
    cache.keep(head.estateId, other)
    expect(await cache.at(em, head)).toMatchObject({ revision: head.revision, epoch: head.epoch })
  })

  it('a load that fails is tried again by those who waited for it', async () => {
    const [cache, { em }, head] = [new EstateCache(1e9), counting(), await headNow()]
    const broken = new Proxy(em, {
      get: (of, name) => {
        if (name === 'createQueryBuilder') throw new Error('the connection is lost')
        return Reflect.get(of, name) as unknown
      },
    })
    const [failed, waited] = await Promise.allSettled([cache.at(broken, head), cache.at(em, head)])
    expect([failed.status, waited.status]).toEqual(['rejected', 'fulfilled'])
  })

  it('are weighed: what was used longest ago goes, and one is kept whatever it takes', async () => {
    const versionOf = (bytes: number): EstateVersion => ({
      revision: 1,
      epoch: 'one',
      estate: Estate.empty,
      findings: new FindingsOnDemand(Estate.empty),
      bytes,
    })
    const cache = new EstateCache(100)
    const used = { a: versionOf(40), b: versionOf(40), c: versionOf(40), large: versionOf(1000) }
    const nobody = {} as EntityManager
    const isKept = async (estateId: keyof typeof used) => {
      try {
        return (await cache.at(nobody, { estateId, revision: 1, epoch: 'one' })) === used[estateId]
      } catch {
        return false
      }
    }
    cache.keep('a', used.a)
    cache.keep('b', used.b)
    expect(await isKept('a')).toBe(true)
    cache.keep('c', used.c)
    expect([await isKept('a'), await isKept('b'), await isKept('c')]).toEqual([true, false, true])
    cache.keep('large', used.large)
    expect([await isKept('large'), await isKept('a'), await isKept('c')]).toEqual([true, false, false])
  })

  it('weigh more with what is added, and as before once that is removed', async () => {
    const weight = async () => (await new EstateCache(1e9).at(counting().em, await headNow())).bytes
    const cache = new EstateCache(1e9)
    const at = async () => (await cache.at(counting().em, await headNow())).bytes
    const before = await at()
    expect(before).toBe(await weight())
    const { body } = await server.send([{ type: 'network.add', record: { name: 'heavy', vlanId: 3999, note: 'x'.repeat(3000) } }])
    expect(await at()).toBeGreaterThan(before + 3000)
    expect(await at()).toBe(await weight())
    const [id] = Object.keys((body as { difference: { added: object } }).difference.added)
    await server.send([{ type: 'network.remove', id }])
    expect(await at()).toBe(before)
  })
})
