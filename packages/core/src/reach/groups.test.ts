import { describe, expect, it } from 'vitest'
import { applyAll } from '../commands/index.js'
import { type NewRecord } from '../estate/index.js'
import { NetworkEstate } from '../testing/network-estate.js'
import { testContext } from '../testing/small-estate.js'
import {
  askGroup,
  checkIntent,
  chooseAttachment,
  GroupTable,
  groupsOf,
  lookUp,
  OUTSIDE,
  ping,
  reach,
  ReachError,
  topologyOf,
  verdictOf,
  type Group,
} from './index.js'

/** An office, a studio and a store network without a gateway, a public segment; two guests each, a name server. */
function build(): NetworkEstate {
  return new NetworkEstate()
    .net('office', '10.1.0.0/24', '10.1.0.1', { site: 'studio' }, { nameServers: '10.1.0.53' })
    .net('studio', '10.2.0.0/24', '10.2.0.1', { site: 'studio' }, { nameServers: '10.1.0.53' })
    .net('storage', '10.3.0.0/24', null, { role: 'storage', site: 'studio' })
    .net('public', '192.0.2.0/26', '192.0.2.1', { role: 'public' })
    .net('empty', '10.9.0.0/24', '10.9.0.1', { role: 'lab' })
    .host('gannet', 'office studio storage public empty')
    .guest('dns', 'gannet', [{ net: 'office', ip: '10.1.0.53' }])
    .guest('desk', 'gannet', [{ net: 'office', ip: '10.1.0.9' }])
    .guest('playout', 'gannet', [
      { net: 'studio', ip: '10.2.0.9' },
      { net: 'storage', ip: '10.3.0.9' },
    ])
    .guest('archive', 'gannet', [{ net: 'storage', ip: '10.3.0.10' }])
    .guest('edge', 'gannet', [{ net: 'public', ip: '192.0.2.10' }])
}

describe('groups', () => {
  const net = build()
  const estate = net.estate()
  const table = new GroupTable(estate)
  const group = (name: string): Group =>
    name === OUTSIDE
      ? { kind: OUTSIDE }
      : name.startsWith('role ')
        ? { kind: 'role', name: name.slice(5) }
        : name.startsWith('site ')
          ? { kind: 'site', name: name.slice(5) }
          : { kind: 'network', id: net.id(name) }
  it.each([
    ['office', 'studio', 'all'],
    ['studio', 'office', 'all'],
    ['office', 'storage', 'none'],
    // Its own machines see each other; the store network has no way out.
    ['storage', 'storage', 'all'],
    ['storage', OUTSIDE, 'none'],
    ['office', OUTSIDE, 'all'],
    [OUTSIDE, 'office', 'none'],
    [OUTSIDE, 'public', 'all'],
    [OUTSIDE, 'site studio', 'none'],
    ['role guests', 'role public', 'all'],
    ['site studio', 'role storage', 'some'],
    // Nobody is there yet: a machine that would be is asked.
    ['office', 'empty', 'all'],
    ['empty', 'role storage', 'none'],
  ] as const)('from %s to %s: %s', (from, to, verdict) => expect(verdictOf(table.reach(group(from), group(to)))).toBe(verdict))
  it('are the networks, their roles and sites, and outside', () =>
    expect(
      groupsOf(estate).map((one) => (one.kind === 'network' ? one.kind : one.kind === 'outside' ? 'outside' : `${one.kind} ${one.name}`)),
    ).toEqual([...Array<string>(5).fill('network'), 'role guests', 'role lab', 'role public', 'role storage', 'site studio', 'outside']))
  it('agree with asking one by one, machine by machine, where nothing is kept', () => {
    for (const from of ['office', 'studio', 'storage', 'public', 'empty'])
      for (const to of ['office', 'studio', 'storage', 'public']) {
        const targets = topologyOf(estate)
          .interfacesOn(net.id(to))
          .filter(({ machine }) => machine.kind === 'guest')
          .flatMap(({ addresses }) => addresses)
        const reaching = targets.filter(({ ip }) => askGroup(estate, { from: net.id(from), to: ip }).reaches).length
        expect([from, to, table.reach(group(from), group(to)).reaching]).toEqual([from, to, reaching])
      }
  })
  it('a network is an end of a question: any machine plugged into it', () => {
    expect(askGroup(estate, { from: net.id('office'), to: net.id('studio') }).reaches).toBe(true)
    expect(askGroup(estate, { from: net.id('office'), to: net.id('archive') }).failure?.code).toBe('no-site-route')
    expect(() => askGroup(estate, { from: 'nobody', to: net.id('desk') })).toThrow(ReachError)
    expect(() => reach(estate, { from: net.id('desk'), to: net.id('dns'), protocol: 'tcp' })).toThrow('Port: tcp asks for a port')
  })
  it('an intention is met or not, with a pair that goes against it', () => {
    const intent = (record: Partial<NewRecord<'intent'>>) => {
      const after = applyAll(estate, [{ type: 'intent.add', record: record }], testContext(7)).estate
      const [added] = after.all('intent')
      if (!added) throw new Error('not added')
      return checkIntent(after, added)
    }
    const met = intent({ fromNetworkId: net.id('office'), toNetworkId: net.id('studio') })
    expect([met.isMet, met.example]).toEqual([true, undefined])
    const broken = intent({ fromNetworkId: net.id('office'), toKind: 'role', toName: 'storage' })
    expect(broken.isMet).toBe(false)
    expect(broken.example?.answer.failure?.code).toBe('no-site-route')
    const open = intent({ fromNetworkId: net.id('office'), toNetworkId: net.id('studio'), wanted: 'must not reach' })
    expect(open.example?.answer.there.at(-1)?.sentence).toBe('has 10.2.0.9: delivered')
  })
})

describe('the stand-in for ping and name look-up', () => {
  const net = build()
  const estate = net.estate()
  const outcome = (from: string, to: string) => ping(estate, net.id(from), to).outcome
  it('answers as the machine would see it', () => {
    expect(ping(estate, net.id('desk'), 'playout.skerry.example')).toMatchObject({ outcome: 'reply', address: '10.2.0.9', hops: 1 })
    expect(outcome('desk', '10.1.0.53')).toBe('reply')
    expect(outcome('desk', 'nobody')).toBe('wrong name')
    expect(outcome('archive', 'desk')).toBe('wrong name')
    // From a segment without a gateway the system itself knows no way; behind a router it is the router that says so.
    expect(outcome('archive', '10.1.0.9')).toBe('no route')
    expect(outcome('desk', '10.1.0.77')).toBe('unreachable')
    expect(outcome('desk', '10.3.0.10')).toBe('unreachable')
    expect(outcome('desk', '198.51.100.7')).toBe('reply')
  })
  it('is silent where a filter drops', () => {
    const filtered = applyAll(
      estate,
      [{ type: 'filter.add', record: { toPrefix: '10.2.0.0/24', protocol: 'icmp' } }],
      testContext(7),
    ).estate
    expect(ping(filtered, net.id('desk'), '10.2.0.9').outcome).toBe('timeout')
  })
  it('says which name server answered, or why none did', () => {
    expect(lookUp(estate, net.id('desk'), 'edge')).toMatchObject({ outcome: 'answer', server: '10.1.0.53', addresses: ['192.0.2.10'] })
    expect(lookUp(estate, net.id('archive'), 'edge')).toMatchObject({ outcome: 'no name server' })
    const off = applyAll(estate, [{ type: 'guest.power', guestId: net.id('dns'), state: 'stopped' }], testContext(7)).estate
    expect(lookUp(off, net.id('desk'), 'edge')).toMatchObject({
      outcome: 'no answer',
      sentence: 'No name server answers desk: asked 10.1.0.53 at udp port 53.',
    })
  })
})

// The table “Who reaches whom” again, from the other end. Common practice, no source.
describe('which attachment', () => {
  const shared = { name: 'Brackwater 5', translation: 'shared segment' } as const
  const own = { name: 'Marram 2', translation: 'private segment' } as const
  const kinds = (...args: Parameters<typeof chooseAttachment>) =>
    chooseAttachment(...args)
      .filter(({ fits }) => fits)
      .map(({ kind }) => kind)
  it.each([
    [{ fromLan: true, out: true, eachOther: true }, shared, ['bridged']],
    [{ fromLan: false, out: true, eachOther: true }, shared, ['translated', 'bridged']],
    [{ fromLan: false, out: true, eachOther: true }, own, ['bridged']],
    [{ fromLan: false, out: true, eachOther: false }, own, ['translated', 'bridged']],
    [{ fromLan: false, out: false, eachOther: true }, shared, ['internal', 'host-only', 'translated', 'bridged']],
  ] as const)('%o on %o', (wish, platform, fitting) => expect(kinds(wish, platform)).toEqual(fitting))
  it('on a host with Wi-Fi alone nothing is bridged, and the reason is said', () => {
    expect(kinds({ fromLan: false, out: true, eachOther: true }, shared, false)).toEqual(['translated'])
    expect(
      chooseAttachment({ fromLan: true, out: true, eachOther: true }, shared, false).find(({ kind }) => kind === 'bridged')?.lacks,
    ).toEqual(['the host has no wired uplink, and Wi-Fi carries no bridge (IEEE 802.11)'])
  })
})
