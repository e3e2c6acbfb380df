import { macWords, wordsOf } from '../lib/words'
import { canonicalIp, macRows, poolHolding, subnetHolding, type AnyRecord, type Estate, type Kind } from '@insel/core'

/** One thing that can be found. */
export interface Found {
  readonly kind: Kind
  readonly id: string
  readonly title: string
  readonly about: string
  /** What is searched, in lower case. */
  readonly text: string
  /** Where it is, beside its own page: an address on the map of its subnet. */
  readonly at?: string
}

/** Kinds that are found by what is recorded of them, and the fields that are searched beside the name. */
const SEARCHED: Partial<Record<Kind, readonly string[]>> = {
  host: ['site', 'model', 'serial', 'assetTag', 'rack', 'controllerAddress', 'circuit', 'tags', 'note'],
  guest: ['purpose', 'group', 'owner', 'contact', 'tags', 'note'],
  network: ['site', 'searchDomain', 'note'],
  store: ['site', 'note'],
  platform: ['note'],
  plan: ['note'],
  image: ['version', 'note'],
  drive: ['serial', 'model', 'note'],
  port: ['mac', 'note'],
  switch: ['note'],
}
/** Kinds that have no page: where they are on their host's. */
const ON_HOST: Partial<Record<Kind, string>> = { drive: 'drives', port: 'ports', switch: 'ports' }
const words = (value: unknown): string =>
  Array.isArray(value) ? value.map((one) => `#${String(one)}`).join(' ') : typeof value === 'string' ? value : ''

/** Everything of an estate that can be found, with the words by which. */
export function findable(estate: Estate): readonly Found[] {
  const hostName = (id: unknown) => (typeof id === 'string' ? (estate.find('host', id)?.name ?? '') : '')
  const records = (Object.keys(SEARCHED) as Kind[]).flatMap((kind) =>
    (estate.all(kind) as readonly AnyRecord[]).map((record): Found => {
      const values = record as unknown as Readonly<Record<string, unknown>>
      const on = hostName(values['hostId'])
      const name =
        typeof values['name'] === 'string' ? values['name'] : kind === 'drive' ? `drive in bay ${String(values['position'])}` : ''
      const more = [
        ...(SEARCHED[kind] ?? []).map((field) => words(values[field])),
        ...(kind === 'network' && typeof values['vlanId'] === 'number' ? [`vlan ${values['vlanId']} vlan${values['vlanId']}`] : []),
        ...(kind === 'guest' ? [estate.find('system', String(values['systemId']))?.name ?? ''] : []),
      ].filter(Boolean)
      const page = ON_HOST[kind]
      return {
        kind,
        id: record.id,
        title: name,
        about: page ? `${kind} of ${on}` : kind === 'network' && values['vlanId'] ? `network, VLAN ${String(values['vlanId'])}` : kind,
        text: [name, page ? on : '', ...more].join(' ').toLowerCase(),
        ...(page ? { at: `hosts/${String(values['hostId'])}/${page}` } : {}),
      }
    }),
  )
  const onMap = (subnetId: string | null, ip: string) => {
    const networkId = estate.find('subnet', subnetId)?.networkId
    return networkId ? { at: `networks/${networkId}?at=${encodeURIComponent(ip)}` } : {}
  }
  const subnets = estate.all('subnet').map((subnet): Found => ({
    kind: 'subnet',
    id: subnet.id,
    title: subnet.prefix,
    about: `subnet of ${estate.find('network', subnet.networkId)?.name ?? ''}`,
    text: subnet.prefix,
    at: `networks/${subnet.networkId}`,
  }))
  const addresses = estate.all('address').map((address): Found => {
    const owner = estate.find('guest', estate.find('adapter', address.adapterId)?.guestId) ?? estate.find('host', address.hostId)
    return {
      kind: 'address',
      id: address.id,
      title: address.ip,
      about: owner ? `address of ${owner.name}` : (address.name ?? address.kind),
      text: `${address.ip} ${address.name ?? ''} ${address.note}`.toLowerCase(),
      ...onMap(address.subnetId, address.ip),
    }
  })
  const macs = macRows(estate).map(({ mac, owner, of }): Found => {
    const address = of.kind === 'address' || of.kind === 'lease' ? estate.find(of.kind, of.id) : undefined
    return {
      kind: of.kind,
      id: of.id,
      title: mac,
      about: owner,
      text: macWords(mac),
      ...(address ? onMap(address.subnetId, address.ip) : {}),
    }
  })
  return [...records, ...subnets, ...addresses, ...macs]
}

/**
 * What fits all words, what begins with the first one first; and an address that is free, where one is typed.
 *
 * @param most so many are given at most
 */
export function find(estate: Estate, all: readonly Found[], query: string, most: number): readonly Found[] {
  const wanted = wordsOf(query)
  const [first] = wanted
  if (first === undefined || query.trim().length < 2) return []
  const starts: Found[] = []
  const holds: Found[] = []
  for (const one of all) {
    if (!wanted.every((word) => one.text.includes(word))) continue
    if (one.text.startsWith(first)) starts.push(one)
    else holds.push(one)
    if (starts.length >= most) break
  }
  // A guest may be found by name and by several addresses; one line for each thing is enough.
  const seen = new Set<string>()
  const found = [...starts, ...holds].filter(({ id }) => !seen.has(id) && seen.add(id))
  return [...freeAddress(estate, query.trim()), ...found].slice(0, most)
}

/** An address that is typed whole and that nobody has: where it would be. */
function freeAddress(estate: Estate, text: string): readonly Found[] {
  const ip = canonicalIp(text)
  const subnet = ip ? subnetHolding(estate, ip) : undefined
  if (!ip || !subnet || estate.byKey('address', { subnetId: subnet.id, ip }).length > 0) return []
  const network = estate.find('network', subnet.networkId)
  return [
    {
      kind: 'subnet',
      id: `free ${ip}`,
      title: ip,
      about: `${poolHolding(estate, subnet.id, ip) ? 'in a DHCP range' : 'free'} in ${network?.name ?? subnet.prefix}`,
      text: ip,
      at: `networks/${subnet.networkId}?at=${encodeURIComponent(ip)}`,
    },
  ]
}
