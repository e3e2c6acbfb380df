import type { ExecutionContext } from '@nestjs/common'
import { Reflector } from '@nestjs/core'
import type { Request, Response } from 'express'
import request from 'supertest'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { startServer, type TestServer } from '../testing/test-server.js'
import { InEstate, InEstates, OfServer, type GuardedRequest } from './access.js'
import { AccessGuard, describing } from './access-guard.js'

const PERSON = '01890000-0000-7000-8000-000000000001'

class Routes {
  undeclared(): void {}
  ofEstate(): void {}
  ofServer(): void {}
  ofSeveral(): void {}
  recording(): void {}
}
const declare = (route: keyof Routes, decorator: MethodDecorator) =>
  decorator(Routes.prototype, route, Object.getOwnPropertyDescriptor(Routes.prototype, route) ?? {})
declare('ofEstate', InEstate('reads'))
declare('ofServer', OfServer('reads'))
declare('ofSeveral', InEstates('reads'))
declare('recording', InEstate('changes'))

/** Asks the guard about a route. @returns what it left in the request */
function ask(
  route: keyof Routes,
  params: Record<string, string>,
  headers: Record<string, string> = {},
  query: Record<string, string> = {},
) {
  const asked: { personId?: string; estateIds?: readonly string[] } = {}
  Object.assign(asked, { params, query, get: (name: string) => headers[name] })
  const context = {
    getHandler: () => Routes.prototype[route],
    getClass: () => Routes,
    switchToHttp: () => ({ getRequest: () => asked }),
  } as unknown as ExecutionContext
  expect(new AccessGuard(new Reflector()).canActivate(context)).toBe(true)
  return asked
}

describe('the guard of all routes', () => {
  it('denies a route that declares nothing, or something that its path is not', () => {
    expect(() => ask('undeclared', {})).toThrow('has no access rule')
    expect(() => ask('ofServer', { estateId: PERSON })).toThrow('has no access rule')
    expect(() => ask('ofEstate', {})).toThrow('has no access rule')
    ask('ofServer', {})
    ask('ofEstate', { estateId: PERSON })
  })

  it('knows of every request which estates it is about', () => {
    expect(ask('ofEstate', { estateId: PERSON }).estateIds).toEqual([PERSON])
    expect(ask('ofServer', {}).estateIds).toEqual([])
    expect(ask('ofSeveral', {}, {}, { estates: `${PERSON},${PERSON}` }).estateIds).toEqual([PERSON])
    expect(() => ask('ofSeveral', {})).toThrow('a list of 1 to')
    expect(() => ask('ofSeveral', {}, {}, { estates: `${PERSON},all` })).toThrow('a list of 1 to')
  })

  it('reads who records, for routes that change the record and for no others', () => {
    const params = { estateId: PERSON }
    expect(ask('recording', params, { 'insel-person': PERSON }).personId).toBe(PERSON)
    expect(ask('recording', params).personId).toBeUndefined()
    expect(() => ask('recording', params, { 'insel-person': 'Ola' })).toThrow('the id of a person, a UUID')
    expect(ask('ofEstate', params, { 'insel-person': 'Ola' }).personId).toBeUndefined()
  })
})

describe('every route of the API', () => {
  let server: TestServer
  beforeAll(async () => {
    server = await startServer()
  })
  afterAll(() => server.stop())

  it('and what describes them, which no controller answers, has been through the guard', async () => {
    const asked = { params: {}, query: {} } as Request & GuardedRequest
    describing(asked, {} as Response, () => undefined)
    expect([asked.access, asked.estateIds]).toEqual(['reads', []])
    for (const path of ['/api/docs', '/api/docs-json', '/api/docs-yaml']) expect((await request(server.url).get(path)).status).toBe(200)
  })

  it('declares what it does', async () => {
    const { body } = await request(server.url).get('/api/docs-json')
    const { paths } = body as { paths: Readonly<Record<string, Readonly<Record<string, unknown>>>> }
    const routes = Object.entries(paths).flatMap(([path, methods]) => Object.keys(methods).map((method) => ({ path, method })))
    expect(routes.length).toBeGreaterThan(40)
    for (const { path, method } of routes) {
      if (path.endsWith('/events')) continue // These answer for as long as one listens; they have their own tests.
      const at = path.replaceAll(/\{(\w+)\}/g, (_, name: string) => (name.endsWith('Id') || name === 'id' ? PERSON : '1'))
      const answer = await request(server.url)
        [method as 'get' | 'post' | 'delete'](at)
        .send(method === 'get' ? undefined : {})
      expect([method, path, (answer.body as { code?: string } | undefined)?.code]).not.toContain('access-undeclared')
    }
  })
})
