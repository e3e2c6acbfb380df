import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Estate } from '../../estate/index.js'
import { generateEstate } from '../../testing/generate-estate.js'
import { NetworkEstate, type Plug } from '../../testing/network-estate.js'
import { reach, ReachTable, topologyOf, type Protocol } from './index.js'

const kinds = ['bridged', 'bridged', 'bridged', 'translated', 'host-only', 'internal'] as const
const nets = ['n0', 'n1', 'n2'] as const

interface Guest {
  readonly host: number
  readonly plugs: readonly { net: number; home: number; last: number; length: number | undefined; isConnected: boolean }[]
  readonly isRouter: boolean
  readonly isUp: boolean
}
const anyGuest: fc.Arbitrary<Guest> = fc.record({
  host: fc.integer({ min: -1, max: 1 }),
  plugs: fc.array(
    fc.record({
      net: fc.nat(2),
      home: fc.nat(2),
      last: fc.integer({ min: 1, max: 12 }),
      length: fc.constantFrom(undefined, undefined, undefined, 8, 25),
      isConnected: fc.constantFrom(true, true, true, false),
    }),
    { minLength: 1, maxLength: 2 },
  ),
  isRouter: fc.constantFrom(false, false, true),
  isUp: fc.constantFrom(true, true, true, false),
})

/** Small random networks, sound and unsound: wrong masks, crossed adapters, routers, filters, routes, forwards. */
const anyEstate = fc
  .record({
    gateways: fc.tuple(fc.boolean(), fc.boolean(), fc.boolean()),
    attachments: fc.array(fc.tuple(fc.nat(1), fc.nat(2), fc.constantFrom(...kinds)), { minLength: 2, maxLength: 9 }),
    platform: fc.constantFrom('shared' as const, 'private' as const),
    guests: fc.array(anyGuest, { minLength: 3, maxLength: 9 }),
    route: fc.option(fc.record({ net: fc.nat(2), via: fc.nat(2), last: fc.integer({ min: 1, max: 12 }) })),
    filter: fc.option(fc.record({ guest: fc.nat(8), to: fc.nat(2), protocol: fc.constantFrom(null, 'tcp' as const) })),
    forward: fc.option(fc.record({ guest: fc.nat(8) })),
  })
  .map(({ gateways, attachments, platform, guests, route, filter, forward }) => {
    const net = new NetworkEstate()
    nets.forEach((name, i) => net.net(name, `10.0.${i}.0/24`, gateways[i] ? `10.0.${i}.1` : null))
    for (const host of [0, 1]) {
      const own = new Map(attachments.filter(([of]) => of === host).map(([, n, kind]) => [n, kind]))
      net.host(`h${host}`, [...own].map(([n, kind]) => `n${n}:${kind}`).join(' '), {
        platform,
        legs: own.has(0) ? [{ net: 'n0', ip: `10.0.0.${200 + host}` }] : [],
      })
    }
    // One record cannot hold an address twice in one subnet; the same address again goes without.
    const taken = new Set<string>()
    guests.forEach(({ host, plugs, isRouter, isUp }, g) =>
      net.guest(
        `g${g}`,
        host < 0 ? null : `h${host}`,
        plugs.map(({ net: n, home, last, length, isConnected }): Plug => {
          // Mostly at home, now and then an address of another network.
          const at = last % 4 === 0 ? home : n
          const ip = `10.0.${at}.${last}`
          const isFree = !taken.has(ip)
          taken.add(ip)
          return { net: `n${n}`, isConnected, ...(isFree ? { home: `n${at}`, ip } : {}), ...(isFree && length ? { length } : {}) }
        }),
        { isRouter, state: isUp ? 'running' : 'stopped' },
      ),
    )
    if (route) net.record('route', { prefix: `10.0.${route.net}.0/24`, via: `10.0.${route.via}.${route.last}` })
    if (filter && filter.guest < guests.length)
      net.record('filter', { guestId: net.id(`g${filter.guest}`), toPrefix: `10.0.${filter.to}.0/24`, protocol: filter.protocol })
    if (forward && forward.guest < guests.length)
      net.record('forward', { hostId: net.id('h0'), hostPort: 8080, adapterId: net.id(`g${forward.guest}#1`), guestPort: 80 })
    return net.estate()
  })

/** The estate without a record, whatever refers to it. */
const without = (estate: Estate, kind: 'attachment', id: string): Estate => {
  const records = estate.toRecords()
  return Estate.fromRecords({ ...records, [kind]: records[kind].filter((record) => record.id !== id) })
}
const pairs = (estate: Estate) => {
  const ids = [...topologyOf(estate).machines.keys()]
  return ids.flatMap((from) => ids.filter((to) => to !== from).map((to) => [from, to] as const))
}

describe('all pairs at once', () => {
  it.each<[Protocol, number | undefined]>([
    ['icmp', undefined],
    ['tcp', 80],
  ])('agree with pair by pair on random estates (%s)', (protocol, port) =>
    fc.assert(
      fc.property(anyEstate, (estate) => {
        const table = ReachTable.of(estate, { protocol, port })
        for (const [from, to] of pairs(estate))
          expect([from, to, table.reaches(from, to)]).toEqual([from, to, reach(estate, { from, to, protocol, port }).reaches])
      }),
      { numRuns: 150 },
    ),
  )
  it('bridged pairs on one segment are symmetric', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 2, max: 250 }), fc.boolean()), { minLength: 2, maxLength: 6 }), (machines) => {
        const net = new NetworkEstate().net('n0', '10.0.0.0/24', '10.0.0.1').host('h0', 'n0').host('h1', 'n0')
        const lasts = [...new Map(machines).entries()]
        lasts.forEach(([last, isUp], i) =>
          net.guest(`g${i}`, `h${i % 2}`, [{ net: 'n0', ip: `10.0.0.${last}` }], { state: isUp ? 'running' : 'stopped' }),
        )
        const estate = net.estate()
        for (const [from, to] of pairs(estate)) {
          const [there, back] = [reach(estate, { from, to }).reaches, reach(estate, { from: to, to: from }).reaches]
          if (topologyOf(estate).machines.get(from)?.kind === 'guest' && topologyOf(estate).machines.get(to)?.kind === 'guest')
            expect(there).toBe(back)
        }
      }),
      { numRuns: 60 },
    ))
  // The link is a host's bridge to a network. Another host keeps one, so that the site's gateway keeps its leg there.
  it('taking a link away never adds reach', () => {
    let looked = 0
    fc.assert(
      fc.property(anyEstate, fc.nat(20), (estate, which) => {
        const bridges = estate.all('attachment').filter(({ kind }) => kind === 'bridged')
        const links = bridges.filter(({ networkId }) => bridges.filter((other) => other.networkId === networkId).length > 1)
        const link = links[which % links.length]
        if (!link) return
        looked++
        const [before, after] = [ReachTable.of(estate), ReachTable.of(without(estate, 'attachment', link.id))]
        for (const [from, to] of pairs(estate))
          if (after.reaches(from, to)) expect([from, to, before.reaches(from, to)]).toEqual([from, to, true])
      }),
      { numRuns: 400 },
    )
    expect(looked).toBeGreaterThan(50)
  })
  // The budget: all pairs of 5,000 guests in a second. Three times that here, since test machines are shared.
  it('all pairs of 5,000 guests take about a second', () => {
    const estate = generateEstate({ hosts: 200, guests: 5000, adapters: 10000 })
    const start = performance.now()
    const table = ReachTable.of(estate)
    expect(performance.now() - start).toBeLessThan(3000)
    expect(table.machineCount).toBeGreaterThan(5000)
    expect(table.classCount).toBeLessThan(1500)
    const { reaching, pairs: all } = table.count()
    expect(reaching).toBeGreaterThan(all / 10)
  })
})
