import { describe, expect, it, type TestContext } from 'vitest'
import { Namespaces, taggingHere, whyNoNamespaces } from '../testing/namespaces.js'
import { NetworkEstate } from '../testing/network-estate.js'
import { attached, behindRouter, routed, trunked } from '../testing/network-shapes.js'
import { OUTSIDE, reach, topologyOf } from './index.js'

// The outside reference is the Linux kernel of the machine the tests run on: routing, ARP, bridging, nftables, iputils’ ping.
const PATIENCE_SECONDS = 8
const why = whyNoNamespaces()
const tagging = why === undefined ? taggingHere() : undefined

/** Each topology; every machine pings every address of every other, and outside. */
const topologies: Readonly<Record<string, () => NetworkEstate>> = {
  'one segment, bridged': () =>
    new NetworkEstate()
      .net('left', '10.1.0.0/24')
      .host('h1', 'left')
      .host('h2', 'left')
      .guest('a', 'h1', [{ net: 'left', ip: '10.1.0.9' }])
      .guest('b', 'h2', [{ net: 'left', ip: '10.1.0.10' }]),
  'a router between two segments': () => routed(),
  'the router’s adapters crossed': () => routed({ crossed: true }),
  'the router forwards nothing': () => routed({ router: { isRouter: false } }),
  'the router is powered off': () => routed({ router: { state: 'stopped' } }),
  'no gateway on the far side': () => routed({ gateways: ['10.1.0.1', null] }),
  'a gateway outside the prefix': () => routed({ b: { gateway: '10.9.0.1' } }),
  'wrong mask on the far side': () => routed({ b: { length: 8 } }),
  'mask too long on the far side': () => routed({ b: { length: 29 } }),
  'the router’s far adapter not connected': () => routed({ far: { isConnected: false } }),
  'an adapter not connected': () => routed({ b: { isConnected: false } }),
  'plugged into the wrong network': () => routed({ b: { net: 'left', home: 'right' } }),
  'a missing return route': () => behindRouter(),
  'an asymmetric way back': () => behindRouter().record('route', { prefix: '10.2.0.0/24', via: '10.1.0.254' }),
  'two routers in a row': () =>
    new NetworkEstate()
      .net('n1', '10.1.0.0/24', '10.1.0.1')
      .net('n2', '10.2.0.0/24')
      .net('n3', '10.3.0.0/24', '10.3.0.1')
      .host('host', 'n1 n2 n3')
      .guest(
        'r1',
        'host',
        [
          { net: 'n1', ip: '10.1.0.1' },
          { net: 'n2', ip: '10.2.0.1', gateway: '10.2.0.2' },
        ],
        { isRouter: true },
      )
      .guest(
        'r2',
        'host',
        [
          { net: 'n2', ip: '10.2.0.2', gateway: '10.2.0.1' },
          { net: 'n3', ip: '10.3.0.1' },
        ],
        { isRouter: true },
      )
      .guest('a', 'host', [{ net: 'n1', ip: '10.1.0.9' }])
      .guest('b', 'host', [{ net: 'n3', ip: '10.3.0.9' }]),
  'translated, shared': () => attached('translated'),
  'translated, private to each guest': () => attached('translated', 'private'),
  'host-only': () => attached('host-only'),
  internal: () => attached('internal'),
  'a filter on the router': () => {
    const net = routed()
    return net.record('filter', { guestId: net.id('router'), toPrefix: '10.2.0.0/24', protocol: 'icmp' })
  },
  'public and private to outside': () =>
    new NetworkEstate()
      .net('office', '10.1.0.0/24', '10.1.0.1')
      .net('public', '192.0.2.0/26', '192.0.2.1')
      .host('host', 'office public')
      .guest('desk', 'host', [{ net: 'office', ip: '10.1.0.9' }])
      .guest('edge', 'host', [{ net: 'public', ip: '192.0.2.10' }]),
}

/** One cable for two VLANs; which of them each end carries. */
const tagged: Readonly<Record<string, () => NetworkEstate>> = {
  'both VLANs on both ends': () => trunked('40,50', { farVlans: '40-50' }),
  'a VLAN that the host’s switch does not carry': () => trunked('50', { farVlans: '40,50' }),
  'a VLAN that the far end does not carry': () => trunked('40,50', { farVlans: '10,50' }),
}

function built({ onTestFinished }: TestContext, net: NetworkEstate | undefined, tag: string) {
  if (!net) throw new Error(`no topology ${tag}`)
  const estate = net.estate()
  const topology = topologyOf(estate)
  const namespaces = new Namespaces(topology, tag, tagging)
  onTestFinished(() => namespaces.remove())
  namespaces.build()
  return { estate, topology, namespaces }
}

/** Every machine pings every address of every other, for real and in the model. */
async function agrees(test: TestContext, net: NetworkEstate | undefined, tag: string): Promise<void> {
  const { estate, topology, namespaces } = built(test, net, tag)
  const machines = [...topology.machines.values()].filter(({ kind }) => kind === 'guest' || kind === 'host' || kind === 'outside')
  const asked = machines.flatMap((from) => [
    ...machines.flatMap((to) =>
      to === from
        ? []
        : to.interfaces.flatMap(({ addresses }) => addresses.map(({ ip }) => ({ from, to: ip, name: `${from.name} → ${to.name} ${ip}` }))),
    ),
    ...(from.id === OUTSIDE ? [] : [{ from, to: '203.0.113.250', name: `${from.name} → outside` }]),
  ])
  const model = asked.map(({ from, to }) => reach(estate, { from: from.id, to }).reaches)
  const real = await Promise.all(asked.map(({ from, to }) => namespaces.ping(from.id, to)))
  // On a busy machine an answer may come late: what the model expects and did not come is asked for again, with patience.
  for (const [index, { from, to }] of asked.entries())
    if (model[index] && !real[index]) real[index] = await namespaces.ping(from.id, to, PATIENCE_SECONDS)
  const says = (answers: readonly boolean[]) => asked.map((one, index) => `${one.name}: ${answers[index] ? 'answer' : 'none'}`)
  expect(says(model)).toEqual(says(real))
}

describe.runIf(why === undefined)('the model against the kernel', () => {
  const names = Object.keys(topologies)
  it.concurrent.for(names)('%s', (name, test) => agrees(test, topologies[name]?.(), String(names.indexOf(name))))

  // The model calls an address that two machines have unreachable, since nobody can say who answers.
  it('a duplicate address: when the machine that answered goes, the other answers', async (test) => {
    const net = new NetworkEstate()
      .net('one', '10.1.0.0/24')
      .net('two', '10.1.0.0/25')
      .host('host', 'one')
      .guest('a', 'host', [{ net: 'one', ip: '10.1.0.9' }])
      .guest('b', 'host', [{ net: 'one', ip: '10.1.0.10' }])
      .guest('c', 'host', [{ net: 'one', home: 'two', ip: '10.1.0.10' }])
    const { estate, namespaces } = built(test, net, 'twice')
    expect(reach(estate, { from: net.id('a'), to: '10.1.0.10' }).failure?.code).toBe('duplicate-address')
    const macs = { [namespaces.mac(net.id('b'))]: net.id('b'), [namespaces.mac(net.id('c'))]: net.id('c') }
    expect(await namespaces.ping(net.id('a'), '10.1.0.10', PATIENCE_SECONDS)).toBe(true)
    const first = namespaces.neighbour(net.id('a'), '10.1.0.10')
    namespaces.unplug(macs[first] ?? '')
    namespaces.forget(net.id('a'))
    expect(await namespaces.ping(net.id('a'), '10.1.0.10', PATIENCE_SECONDS)).toBe(true)
    const second = namespaces.neighbour(net.id('a'), '10.1.0.10')
    expect([first, second].sort()).toEqual(Object.keys(macs).sort())
  })
})

describe.runIf(tagging !== undefined)(`VLANs on one cable against the kernel, by ${tagging ?? 'nothing'}`, () => {
  const names = Object.keys(tagged)
  it.concurrent.for(names)('%s', (name, test) => agrees(test, tagged[name]?.(), `v${names.indexOf(name)}`))
})

// Counted as skipped, with the reason printed.
describe('what is not tried for real', () => {
  it('network namespaces, where the machine refuses them', ({ skip }) => {
    if (why === undefined) return
    process.stdout.write(`skipped: ${why}; the model stands on its examples alone\n`)
    skip(why)
  })
  it('VLANs by IEEE 802.1Q tags, where the kernel has none', ({ skip }) => {
    if (why !== undefined || tagging === '802.1Q') return
    const reason = tagging
      ? 'this kernel has no VLAN interfaces; the same cases ran with VXLAN tags (RFC 7348)'
      : 'this kernel puts no tags on frames; the VLAN cases stand on their examples'
    process.stdout.write(`skipped: ${reason}\n`)
    skip(reason)
  })
})
