import fc from 'fast-check'
import { NetworkEstate, type Plug } from './network-estate.js'

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
export const anyNetworkEstate = fc
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
