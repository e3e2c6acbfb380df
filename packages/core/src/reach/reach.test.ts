import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { type Estate } from '../estate/index.js'
import { NetworkEstate } from '../testing/network-estate.js'
import { attached, behindRouter, routed as routedShape, trunked } from '../testing/network-shapes.js'
import { testContext } from '../testing/small-estate.js'
import { OUTSIDE, reach } from './index.js'

type Ends = readonly [made: NetworkEstate, estate: Estate]
const ends = (net: NetworkEstate): Ends => [net, net.estate()]
const made = (build: (net: NetworkEstate) => NetworkEstate): Ends => ends(build(new NetworkEstate()))
const idIn = (net: NetworkEstate, name: string) => (name === OUTSIDE ? OUTSIDE : name.includes('.') ? name : net.id(name))
const ask = ([net, estate]: Ends, from: string, to: string, service: { protocol?: 'tcp' | 'udp'; port?: number } = {}) =>
  reach(estate, { from: idIn(net, from), to: idIn(net, to), ...service })
const code = (...args: Parameters<typeof ask>) => ask(...args).failure?.code ?? 'reaches'

// The table “Who reaches whom” of the trade: common practice, no source. Two guests on one host, a third machine on the
// wire, a host with an adapter on the wire; the guests’ network attached in five ways.
describe('who reaches whom, by attachment', () => {
  const estateWith = (attachment: string, platform?: 'shared' | 'private') => ends(attached(attachment, platform))
  it.each([
    ['bridged', 'shared', true, true, true, true],
    ['translated', 'shared', true, true, false, true],
    ['translated', 'private', false, false, false, true],
    ['host-only', 'shared', true, true, false, false],
    ['internal', 'shared', true, false, false, false],
  ] as const)('%s, %s', (attachment, platform, guests, hostToGuest, othersToGuest, out) => {
    const estate = estateWith(attachment, platform)
    expect({
      guests: ask(estate, 'a', 'b').reaches,
      hostToGuest: ask(estate, 'host', 'a').reaches,
      othersToGuest: ask(estate, 'other', 'a').reaches,
      out: ask(estate, 'a', OUTSIDE).reaches,
    }).toEqual({ guests, hostToGuest, othersToGuest, out })
  })
  it('a translated guest reaches machines on the wire, and its host, in its host’s name', () => {
    const estate = estateWith('translated')
    expect(ask(estate, 'a', 'other').reaches).toBe(true)
    expect(ask(estate, 'a', 'other').there.map(({ sentence }) => sentence)).toContain('translates: sends it on as 10.1.0.5 on wire')
    expect(ask(estateWith('translated', 'private'), 'a', 'host').reaches).toBe(true)
  })
  it.each([
    ['translated', 'shared', 'other', 'a', 'translated-target'],
    ['translated', 'private', 'a', 'b', 'private-translation'],
    ['host-only', 'shared', 'other', 'a', 'host-only'],
    ['internal', 'shared', 'host', 'a', 'internal'],
  ] as const)('%s, %s: from %s to %s fails as %s', (attachment, platform, from, to, reason) =>
    expect(code(estateWith(attachment, platform), from, to)).toBe(reason),
  )
  it('a forwarded port lets others in, and only by that port', () => {
    const [net] = estateWith('translated')
    net.record('forward', { hostId: net.id('host'), hostPort: 8443, adapterId: net.id('a#1'), guestPort: 443 })
    const estate: Ends = [net, net.estate()]
    const web = ask(estate, 'other', 'a', { protocol: 'tcp', port: 443 })
    expect([web.reaches, web.target]).toEqual([true, '10.1.0.5'])
    expect(web.there.at(-2)?.sentence).toBe('forwards its port 8443 to 192.168.7.11, port 443')
    expect(ask(estate, 'other', 'a', { protocol: 'tcp', port: 22 }).reaches).toBe(false)
    expect(ask(estate, 'other', 'b', { protocol: 'tcp', port: 443 }).reaches).toBe(false)
    const off = applyAll(net.estate(), [{ type: 'guest.power', guestId: net.id('a'), state: 'stopped' }], testContext(5)).estate
    expect(ask([net, off], 'other', 'a', { protocol: 'tcp', port: 443 }).failure?.sentence).toBe('a is powered off.')
  })
})

it('private IPv6 leaves the site under no other address: nothing translates it (RFC 4193), as private IPv4 is', () => {
  const net = new NetworkEstate()
    .net('six', 'fd00:61::/64', 'fd00:61::1')
    .net('four', '10.1.0.0/24', '10.1.0.1')
    .host('host', 'six')
    .host('other', 'four')
    .guest('a', 'host', [{ net: 'six', ip: 'fd00:61::9' }])
    .guest('b', 'other', [{ net: 'four', ip: '10.1.0.9' }])
  const estate: Ends = [net, net.estate()]
  expect(code(estate, 'a', OUTSIDE)).toBe('not-carried-outside')
  expect(ask(estate, 'b', OUTSIDE).reaches).toBe(true)
})

const routed = (options?: Parameters<typeof routedShape>[0]) => ends(routedShape(options))

describe('the first place where it fails', () => {
  it('none: the path goes through the router, both ways', () => {
    const answer = ask(routed(), 'a', 'b')
    expect(answer.reaches).toBe(true)
    expect(answer.there.map(({ machine, sentence }) => `${machine.name} ${sentence}`)).toEqual([
      'a sends it to 10.1.0.1 on left, its gateway: 10.2.0.9 is not in this subnet',
      'router forwards it to 10.2.0.9, directly connected: in 10.2.0.0/24 on right',
      'b has 10.2.0.9: delivered',
    ])
    expect(answer.back.map(({ machine }) => machine.name)).toEqual(['b', 'router', 'a'])
    expect(answer.remarks).toEqual([])
  })
  it('crossed router adapters, and the fix mends them', () => {
    const [net, estate] = routed({ crossed: true })
    const answer = ask([net, estate], 'a', 'b')
    expect(answer.failure?.code).toBe('crossed-adapters')
    expect(answer.failure?.sentence).toContain('adapter 1 and adapter 2 of router are swapped')
    const mended = applyAll(estate, answer.failure?.fix ?? [], testContext(5)).estate
    expect(ask([net, mended], 'a', 'b').reaches).toBe(true)
  })
  it('a router that forwards nothing', () => {
    const [net, estate] = routed()
    const off = applyAll(estate, [{ type: 'guest.update', id: net.id('router'), changes: { isRouter: false } }], testContext(5)).estate
    const answer = ask([net, off], 'a', 'b')
    expect([answer.failure?.code, answer.failure?.at.name]).toEqual(['does-not-forward', 'router'])
    expect(ask([net, applyAll(off, answer.failure?.fix ?? [], testContext(6)).estate], 'a', 'b').reaches).toBe(true)
  })
  it('a powered-off hop, and a powered-off target', () => {
    const [net, estate] = routed()
    const off = (name: string) =>
      applyAll(estate, [{ type: 'guest.power', guestId: net.id(name), state: 'stopped' }], testContext(5)).estate
    expect(ask([net, off('router')], 'a', 'b').failure).toMatchObject({ code: 'powered-off', sentence: 'router is powered off.' })
    expect(ask([net, off('b')], 'a', 'b').failure).toMatchObject({ code: 'powered-off', sentence: 'b is powered off.' })
    expect(ask([net, off('a')], 'a', 'b').failure).toMatchObject({ code: 'powered-off', sentence: 'a is powered off.' })
  })
  it('an adapter not connected at power-on, on the far side', () =>
    expect(code(routed({ b: { isConnected: false } }), 'a', 'b')).toBe('not-connected'))
  it('the far adapter of a router, not connected: the packet goes astray, and the adapter is named', () => {
    const shapes = [
      routedShape({ far: { isConnected: false } }),
      routedShape({ far: { isConnected: false } }).record('route', { prefix: '10.2.0.0/24', via: '10.1.0.1' }),
    ]
    for (const net of shapes) {
      const { failure } = ask(ends(net), 'a', 'b')
      expect(failure).toMatchObject({ code: 'not-connected', sentence: 'Adapter 2 of router is not connected at power-on.' })
      expect(ask([net, applyAll(net.estate(), failure?.fix ?? [], testContext(6)).estate], 'a', 'b').reaches).toBe(true)
    }
  })
  it('an adapter that is not connected is not to blame where another one is on the prefix', () => {
    const [net, estate] = made((one) =>
      one
        .net('left', '10.1.0.0/24')
        .host('host', 'left')
        .guest('a', 'host', [
          { net: 'left', ip: '10.1.0.9' },
          { net: 'left', ip: '10.1.0.19', isConnected: false },
        ])
        .guest('b', 'host', [{ net: 'left', ip: '10.1.0.10' }], { state: 'stopped' }),
    )
    expect(code([net, estate], 'a', 'b')).toBe('powered-off')
  })
  it('a gateway outside the prefix', () => expect(code(routed({ b: { gateway: '10.9.0.1' } }), 'b', 'a')).toBe('gateway-outside-prefix'))
  it('no gateway: it arrives, and the reply does not get back', () => {
    const estate = routed({ gateways: ['10.1.0.1', null] })
    const answer = ask(estate, 'a', 'b')
    expect(answer.failure).toMatchObject({ code: 'no-route', direction: 'back' })
    expect(answer.failure?.sentence).toContain('the reply does not get back')
  })
  it('wrong mask: two /24 in one /16, one side thinks the other is near', () => {
    const estate = routed({ b: { length: 8 } })
    expect(ask(estate, 'a', 'b').failure).toMatchObject({ code: 'wrong-mask', direction: 'back' })
    const answer = ask(estate, 'b', 'a')
    expect(answer.failure).toMatchObject({ code: 'wrong-mask', direction: 'there' })
    expect(ask([estate[0], applyAll(estate[1], answer.failure?.fix ?? [], testContext(5)).estate], 'b', 'a').reaches).toBe(true)
  })
  it('a missing return route: the router behind knows the way, the site gateway does not', () => {
    const net = behindRouter()
    expect(ask([net, net.estate()], 'bench', 'desk').failure).toMatchObject({ code: 'no-site-route', direction: 'back' })
    net.record('route', { prefix: '10.2.0.0/24', via: '10.1.0.254' })
    const answer = ask([net, net.estate()], 'bench', 'desk')
    expect(answer.reaches).toBe(true)
    // There straight through the router, back by the site gateway first.
    expect(answer.remarks[0]).toContain('takes a different path')
  })
  it('between internal segments joined by a router a missing route is a missing route, not a reason to bridge', () => {
    const net = routedShape({ attachment: 'internal', gateways: [null, null] })
    let estate = net.estate()
    // Each fix takes away the first failure: the way there, then the way back.
    for (const [at, direction, fix, seed] of [
      ['a', 'there', { guestId: net.id('a'), prefix: '10.2.0.0/24', via: '10.1.0.1' }, 80],
      ['b', 'back', { guestId: net.id('b'), prefix: '10.1.0.0/24', via: '10.2.0.1' }, 81],
    ] as const) {
      const { failure } = ask([net, estate], 'a', 'b')
      expect(failure).toMatchObject({ code: 'no-route', direction, at: { name: at }, fix: [{ type: 'route.add', record: fix }] })
      expect(failure?.mend).not.toMatch(/bridged/)
      estate = applyAll(estate, failure?.fix ?? [], testContext(seed)).estate
    }
    expect(ask([net, estate], 'a', 'b').reaches).toBe(true)
    // By its address it is the same.
    expect(ask([net, net.estate()], 'a', '10.2.0.9').failure).toMatchObject({ code: 'no-route', fix: [{ type: 'route.add' }] })
    // Without a router the segment is closed, and opening it is named for what it does.
    const closed = new NetworkEstate()
      .net('inner', '10.1.0.0/24', '10.1.0.1')
      .net('outer', '10.2.0.0/24')
      .host('host', 'inner outer:internal')
      .guest('a', 'host', [{ net: 'inner', ip: '10.1.0.9' }])
      .guest('b', 'host', [{ net: 'outer', ip: '10.2.0.9' }])
    const answer = ask([closed, closed.estate()], 'a', 'b').failure
    expect(answer?.code).toBe('internal')
    expect(answer?.mend).toContain('open to everybody on the LAN')
  })
  // RFC 4861, section 4.2: the gateway that a router advertises is its link-local address. RFC 4291: it is good on one segment.
  it('a link-local gateway is the usual one of IPv6', () => {
    const site = new NetworkEstate()
      .net('left', '2001:db8:1::/64', 'fe80::1')
      .net('right', '2001:db8:2::/64', 'fe80::1')
      .host('host', 'left right')
      .guest('a', 'host', [{ net: 'left', ip: '2001:db8:1::9' }])
      .guest('b', 'host', [{ net: 'right', ip: '2001:db8:2::9' }])
    expect(ask([site, site.estate()], 'a', 'b')).toMatchObject({ reaches: true, failure: undefined })
    expect(ask([site, site.estate()], 'a', OUTSIDE).reaches).toBe(true)
    // A recorded router that has it on both segments, recorded beside its other addresses.
    const ours = routedShape({ prefixes: ['2001:db8:1::/64', '2001:db8:2::/64'], gateways: ['fe80::1', 'fe80::1'] })
    for (const side of ['left', 'right'])
      ours.record('address', {
        subnetId: ours.id(`${side}/subnet`),
        ip: 'fe80::1',
        adapterId: ours.id(`router#${side === 'left' ? 1 : 2}`),
      })
    const answer = ask([ours, ours.estate()], 'a', 'b')
    expect([answer.reaches, answer.there.map(({ machine }) => machine.name)]).toEqual([true, ['a', 'router', 'b']])
    // IPv4 link-local is no gateway: RFC 3927, section 2.7.
    const old = new NetworkEstate()
      .net('left', '10.1.0.0/24', '169.254.0.1')
      .host('host', 'left')
      .guest('a', 'host', [{ net: 'left', ip: '10.1.0.9' }])
    expect(code([old, old.estate()], 'a', OUTSIDE)).toBe('gateway-outside-prefix')
  })
  it('a duplicate address on the path', () =>
    expect(
      code(
        made((net) =>
          net
            .net('one', '10.1.0.0/24')
            .net('two', '10.1.0.0/25')
            .host('host', 'one')
            .guest('a', 'host', [{ net: 'one', ip: '10.1.0.9' }])
            .guest('b', 'host', [{ net: 'one', ip: '10.1.0.10' }])
            .guest('c', 'host', [{ net: 'one', home: 'two', ip: '10.1.0.10' }]),
        ),
        'a',
        'b',
      ),
    ).toBe('duplicate-address'))
  it('a network the host does not carry, and the fix carries it', () => {
    const [net, estate] = made((one) =>
      one
        .net('office', '10.1.0.0/24')
        .host('h1', 'office')
        .host('h2', '')
        .guest('a', 'h1', [{ net: 'office', ip: '10.1.0.9' }])
        .guest('b', 'h2', [{ net: 'office', ip: '10.1.0.10' }]),
    )
    const answer = ask([net, estate], 'b', 'a')
    expect(answer.failure?.code).toBe('not-on-host')
    expect(ask([net, applyAll(estate, answer.failure?.fix ?? [], testContext(5)).estate], 'b', 'a').reaches).toBe(true)
  })
  it('a VLAN that one end does not carry, a Wi-Fi uplink, no cable', () => {
    const wired = (...how: Parameters<typeof trunked>) => code(ends(trunked(...how)), 'a', 'b')
    expect(wired('40', {})).toBe('reaches')
    expect(wired('40', { farVlans: '10,40' })).toBe('reaches')
    expect(wired('10,20-30', {})).toBe('vlan-not-carried')
    expect(wired('40', { farVlans: '10,30' })).toBe('vlan-not-carried')
    expect(wired('40', { medium: 'wireless' })).toBe('wireless-uplink')
    expect(wired('40', { cable: 'missing' })).toBe('no-uplink')
  })
  it('a filter on the router, and its memory for answers', () => {
    const filtered = (filter: object) => {
      const net = routedShape()
      return ends(net.record('filter', { guestId: net.id('router'), toPrefix: '10.2.0.0/24', ...filter }))
    }
    expect(ask(filtered({}), 'a', 'b').failure).toMatchObject({ code: 'filtered', sentence: 'Line 10 of the filter on router denies it.' })
    // The other way round the answer comes back through the line that would deny a new connection.
    expect(ask(filtered({}), 'b', 'a').reaches).toBe(true)
    expect(code(filtered({ protocol: 'tcp', portFirst: 80 }), 'a', 'b', { protocol: 'tcp', port: 80 })).toBe('filtered')
    expect(code(filtered({ protocol: 'tcp', portFirst: 80 }), 'a', 'b', { protocol: 'tcp', port: 81 })).toBe('reaches')
  })
  it('the lines of a filter count in their order, in whichever they were recorded: the first that fits decides', () => {
    const lines = (...given: readonly (readonly [position: number, action: 'allow' | 'deny'])[]) => {
      const net = routedShape()
      for (const [position, action] of given) net.record('filter', { guestId: net.id('router'), toPrefix: '10.2.0.0/24', position, action })
      return code(ends(net), 'a', 'b')
    }
    expect(lines([20, 'deny'], [10, 'allow'])).toBe('reaches')
    expect(lines([20, 'allow'], [10, 'deny'])).toBe('filtered')
  })
  it('from outside: to private addresses never, to public ones through the site gateway', () => {
    const estate = made((net) =>
      net
        .net('office', '10.1.0.0/24', '10.1.0.1')
        .net('public', '192.0.2.0/26', '192.0.2.1')
        .host('host', 'office public')
        .guest('desk', 'host', [{ net: 'office', ip: '10.1.0.9' }])
        .guest('edge', 'host', [{ net: 'public', ip: '192.0.2.10' }]),
    )
    expect(code(estate, OUTSIDE, 'desk')).toBe('not-from-outside')
    expect(code(estate, OUTSIDE, 'edge')).toBe('reaches')
    expect(code(estate, 'desk', OUTSIDE)).toBe('reaches')
    expect(code(estate, 'desk', '198.51.100.9')).toBe('reaches')
    expect(code(estate, 'desk', '10.99.0.1')).toBe('no-site-route')
  })
  it('a nested host bridges through the guest it is', () => {
    const estate = made((net) => {
      net
        .net('lab', '10.7.0.0/24')
        .host('outer', 'lab')
        .guest('box', 'outer', [{ net: 'lab', ip: '10.7.0.2' }])
      return net
        .host('nested', 'lab', { kind: 'nested', outerGuestId: net.id('box') })
        .guest('inside', 'nested', [{ net: 'lab', ip: '10.7.0.30' }])
        .guest('beside', 'outer', [{ net: 'lab', ip: '10.7.0.40' }])
    })
    expect(code(estate, 'inside', 'beside')).toBe('reaches')
    // Where the outer host drops frames with other MACs than the guest's own, only the nested host itself is heard.
    const [net, plain] = estate
    const outer = plain.all('attachment').find(({ hostId }) => hostId === net.id('outer'))
    const dropped = { type: 'attachment.update', id: outer?.id ?? '', changes: { foreignMacs: 'dropped' } } as const
    const strict: Ends = [net, applyAll(plain, [dropped], testContext()).estate]
    expect(code(strict, 'inside', 'beside')).toBe('macs-dropped')
    expect(code(strict, 'beside', 'inside')).not.toBe('reaches')
    expect(code(strict, 'box', 'beside')).toBe('reaches')
  })
  it('what is recorded as running on what stands still reaches nobody, and is told why', () => {
    const [net, plain] = made((one) => {
      one
        .net('lab', '10.7.0.0/24')
        .host('outer', 'lab')
        .guest('box', 'outer', [{ net: 'lab', ip: '10.7.0.2' }])
      return one
        .host('other', 'lab')
        .guest('beside', 'other', [{ net: 'lab', ip: '10.7.0.40' }])
        .host('nested', 'lab', { kind: 'nested', outerGuestId: one.id('box') })
        .guest('inside', 'nested', [{ net: 'lab', ip: '10.7.0.30' }])
    })
    const after = (...commands: Command[]): Ends => [net, applyAll(plain, commands, testContext(6)).estate]
    const boxOff = after({ type: 'guest.power', guestId: net.id('box'), state: 'stopped' })
    const outerAway = after({ type: 'host.update', id: net.id('outer'), changes: { state: 'in maintenance' } })
    for (const [ends, sentence] of [
      [boxOff, 'inside does not run: nested is nested in box, which is stopped.'],
      [outerAway, 'inside does not run: nested is nested in box on outer, which is in maintenance.'],
    ] as const)
      for (const [from, to] of [
        ['inside', 'beside'],
        ['beside', 'inside'],
      ] as const)
        expect(ask(ends, from, to).failure).toMatchObject({ code: 'powered-off', sentence })
    expect(ask(outerAway, 'beside', 'box').failure?.sentence).toBe('box does not run: outer is in maintenance.')
    expect(ask(outerAway, 'outer', 'beside').failure?.sentence).toBe('outer is in maintenance.')
    expect(ask(boxOff, 'beside', 'box').failure?.sentence).toBe('box is powered off.')
    // A host without an address is one that stands still all the same.
    expect(ask(boxOff, 'beside', 'nested').failure?.sentence).toBe('nested is nested in box, which is stopped.')
  })
})
