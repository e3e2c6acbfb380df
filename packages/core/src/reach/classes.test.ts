import { runs } from '../testing/tier.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Estate } from '../estate/index.js'
import { anyNetworkEstate } from '../testing/any-network-estate.js'
import { generateEstate } from '../testing/generate-estate.js'
import { illSaid } from '../testing/ill-said.js'
import { NetworkEstate } from '../testing/network-estate.js'
import { reach, ReachTable, topologyOf, type Protocol } from './index.js'

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
      fc.property(anyNetworkEstate, (estate) => {
        const table = ReachTable.of(estate, { protocol, port })
        for (const [from, to] of pairs(estate))
          expect([from, to, table.reaches(from, to)]).toEqual([from, to, reach(estate, { from, to, protocol, port }).reaches])
      }),
      { numRuns: runs(40, 300) },
    ),
  )
  it('whoever does not reach another is told why, and what to do', () =>
    fc.assert(
      fc.property(anyNetworkEstate, (estate) => {
        for (const [from, to] of pairs(estate)) {
          const { failure, there, back } = reach(estate, { from, to })
          expect(illSaid({ failure, there, back })).toEqual([])
          if (failure) expect(failure.mend).toBeTypeOf('string')
        }
      }),
      { numRuns: runs(20, 200) },
    ))
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
      { numRuns: runs(20, 200) },
    ))
  // The link is a host's bridge to a network. Another host keeps one, so that the site's gateway keeps its interface there.
  it('taking a link away never adds reach', () => {
    let looked = 0
    fc.assert(
      fc.property(anyNetworkEstate, fc.nat(20), (estate, which) => {
        const bridges = estate.all('attachment').filter(({ kind }) => kind === 'bridged')
        const links = bridges.filter(({ networkId }) => bridges.filter((other) => other.networkId === networkId).length > 1)
        const link = links[which % links.length]
        if (!link) return
        looked++
        const [before, after] = [ReachTable.of(estate), ReachTable.of(without(estate, 'attachment', link.id))]
        for (const [from, to] of pairs(estate))
          if (after.reaches(from, to)) expect([from, to, before.reaches(from, to)]).toEqual([from, to, true])
      }),
      { numRuns: runs(100, 1000) },
    )
    expect(looked).toBeGreaterThan(runs(10, 120))
  })
  // How long it takes is measured by the benchmark.
  it('all pairs of 5,000 guests come to some hundred classes', () => {
    const table = ReachTable.of(generateEstate({ hosts: 200, guests: 5000, adapters: 10000 }))
    expect(table.machineCount).toBeGreaterThan(5000)
    expect(table.classCount).toBeLessThan(1500)
    const { reaching, pairs: all } = table.count()
    expect(reaching).toBeGreaterThan(all / 10)
  })
})
