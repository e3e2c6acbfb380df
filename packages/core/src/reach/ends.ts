import { canonicalIp, type Estate } from '../estate/index.js'
import { OUTSIDE, SITE_GATEWAY } from './topology.js'

/** One end of a question as a person names it. */
export interface NamedEnd {
  /** What `reach` and `askGroup` take. */
  readonly id: string
  /** How it is written, so that it reads back as the same. */
  readonly text: string
  readonly about: string
}

/**
 * Reads an end of a question: a guest's or host's name, `network office`, an address or its name, `outside`, `site gateway`.
 *
 * @returns undefined when nothing recorded is called so
 * @example readEnd(estate, 'network office')?.about // 'any machine on office'
 */
export function readEnd(estate: Estate, text: string): NamedEnd | undefined {
  const wanted = text.trim().toLowerCase()
  if (wanted === OUTSIDE) return { id: OUTSIDE, text: OUTSIDE, about: 'everything beyond the site gateway' }
  if (wanted === SITE_GATEWAY) return { id: SITE_GATEWAY, text: SITE_GATEWAY, about: 'the routers outside the plan' }
  const ip = canonicalIp(wanted)
  if (ip) return { id: ip, text: ip, about: 'an address' }
  const [guest] = estate.byKey('guest', { name: wanted })
  if (guest) return { id: guest.id, text: guest.name, about: `guest, ${guest.state}` }
  const [host] = estate.byKey('host', { name: wanted })
  if (host) return { id: host.id, text: host.name, about: `host, ${host.state}` }
  const [address] = estate.byKey('address', { name: wanted })
  if (address)
    return { id: address.adapterId || address.hostId ? address.ip : address.id, text: address.name ?? address.ip, about: address.ip }
  const [network] = estate.byKey('network', { name: wanted.replace(/^network /, '') })
  return network && { id: network.id, text: `network ${network.name}`, about: `any machine on ${network.name}` }
}

/** How the end with an id is written. */
export function writeEnd(estate: Estate, id: string): string {
  const network = estate.find('network', id)
  if (network) return `network ${network.name}`
  return estate.find('guest', id)?.name ?? estate.find('host', id)?.name ?? estate.find('address', id)?.name ?? id
}

/** The first ends whose writing holds a text, those that begin with it first. */
export function suggestEnds(estate: Estate, text: string, count = 12): readonly string[] {
  const wanted = text.trim().toLowerCase()
  const all = [
    OUTSIDE,
    SITE_GATEWAY,
    ...estate.all('network').map(({ name }) => `network ${name}`),
    ...estate.all('host').map(({ name }) => name),
    ...estate.all('guest').map(({ name }) => name),
    ...estate.all('address').flatMap(({ name }) => name ?? []),
  ]
  const starts = all.filter((one) => one.toLowerCase().startsWith(wanted))
  return [...new Set([...starts, ...all.filter((one) => one.toLowerCase().includes(wanted))])].slice(0, count)
}
