import type { NewRecord } from '../estate/index.js'
import { NetworkEstate, type Plug } from './network-estate.js'

/** An address of a prefix that ends in `.0` or `::`, by its place. */
const ofNet = (prefix: string, place: number): string => prefix.replace(/0?\/\d+$/, String(place))

/** Two networks and a router between them, with what a case changes. */
export function routed({
  crossed = false,
  b = {},
  far = {},
  router = {},
  attachment = 'bridged',
  prefixes = ['10.1.0.0/24', '10.2.0.0/24'],
  gateways = prefixes.map((prefix) => ofNet(prefix, 1)),
}: {
  crossed?: boolean
  b?: Partial<Plug>
  /** The router’s adapter beside `b`. */
  far?: Partial<Plug>
  router?: object
  attachment?: string
  prefixes?: readonly [left: string, right: string]
  gateways?: readonly (string | null)[]
} = {}): NetworkEstate {
  const [left, right] = crossed ? ['right', 'left'] : ['left', 'right']
  return new NetworkEstate()
    .net('left', prefixes[0], gateways[0] ?? null)
    .net('right', prefixes[1], gateways[1] ?? null)
    .host('host', `left:${attachment} right:${attachment}`)
    .guest(
      'router',
      'host',
      [
        { net: left, home: 'left', ip: ofNet(prefixes[0], 1) },
        { net: right, home: 'right', ip: ofNet(prefixes[1], 1), ...far },
      ],
      { isRouter: true, ...router },
    )
    .guest('a', 'host', [{ net: 'left', ip: ofNet(prefixes[0], 9) }])
    .guest('b', 'host', [{ net: 'right', ip: ofNet(prefixes[1], 9), ...b }])
}
/** A host with an adapter on the wire and two guests on a network of an attachment (`bridged`: on the wire itself), and a machine on the wire. */
export function attached(attachment: string, platform: 'shared' | 'private' = 'shared'): NetworkEstate {
  const isBridged = attachment === 'bridged'
  const net = new NetworkEstate().net('wire', '10.1.0.0/24', '10.1.0.1')
  if (!isBridged) net.net('inner', '192.168.7.0/24', attachment === 'internal' ? null : '192.168.7.1')
  const [on, prefix] = isBridged ? ['wire', '10.1.0'] : ['inner', '192.168.7']
  return net
    .host('host', isBridged ? 'wire' : `wire inner:${attachment}`, { platform, legs: [{ net: 'wire', ip: '10.1.0.5' }] })
    .guest('a', 'host', [{ net: on, ip: `${prefix}.11` }])
    .guest('b', 'host', [{ net: on, ip: `${prefix}.12` }])
    .guest('other', null, [{ net: 'wire', ip: '10.1.0.77' }])
}

/** A lab behind a router guest that is in the office beside the site gateway, which knows no way to it. */
export const behindRouter = () =>
  new NetworkEstate()
    .net('office', '10.1.0.0/24', '10.1.0.1')
    .net('lab', '10.2.0.0/24', '10.2.0.1')
    .host('host', 'office lab')
    .guest(
      'router',
      'host',
      [
        { net: 'office', ip: '10.1.0.254' },
        { net: 'lab', ip: '10.2.0.1' },
      ],
      { isRouter: true },
    )
    .guest('desk', 'host', [{ net: 'office', ip: '10.1.0.9' }])
    .guest('bench', 'host', [{ net: 'lab', ip: '10.2.0.9' }])

/** Two networks with VLANs; `h1` is wired without a word, `h2` by a switch whose one uplink carries what a case says. */
export function trunked(tagged: string, port: Partial<NewRecord<'port'>> = {}): NetworkEstate {
  const net = new NetworkEstate()
    .net('office', '10.1.0.0/24', null, { vlanId: 40 })
    .net('cameras', '10.5.0.0/24', null, { vlanId: 50 })
    .host('h1', 'office cameras')
    .host('h2', '')
    .guest('a', 'h1', [{ net: 'office', ip: '10.1.0.9' }])
    .guest('b', 'h2', [{ net: 'office', ip: '10.1.0.10' }])
    .guest('eye', 'h1', [{ net: 'cameras', ip: '10.5.0.9' }])
    .guest('recorder', 'h2', [{ net: 'cameras', ip: '10.5.0.10' }])
  net.record('switch', { hostId: net.id('h2'), name: 'sw', taggedVlans: tagged }, 'sw')
  for (const name of ['office', 'cameras'])
    net.record('attachment', { hostId: net.id('h2'), networkId: net.id(name), switchId: net.id('sw') })
  return net.record('port', { hostId: net.id('h2'), name: 'eno1', switchId: net.id('sw'), cable: 'present', ...port })
}
