import type { Attachment, Estate, Host, Network, Platform } from '../estate/index.js'
import { endOf, macsDropped, uplinkEnd } from './segment-ends.js'
import type { SegmentEnd, Topology } from './topology.js'

/** A segment as one attachment of a network gives it to a host and its guests. */
interface Place {
  readonly segment: string | undefined
  readonly ends: SegmentEnd | undefined
  readonly isPrivate: boolean
  readonly attachment: Attachment | undefined
}

export const nowhere = (ends: SegmentEnd): Place => ({ segment: undefined, ends, isPrivate: false, attachment: undefined })

/** Where networks are for machines: on which segment, and where it ends. */
export class Places {
  readonly #estate: Estate
  readonly #known = new Map<string, Place>()

  constructor(estate: Estate) {
    this.#estate = estate
  }

  /** Where a network is for a machine on a host; for one on no host, on the wire itself. */
  of(networkId: string, hostId: string | null | undefined): Place {
    const key = `${networkId}@${hostId ?? ''}`
    const known = this.#known.get(key)
    if (known) return known
    const network = this.#estate.find('network', networkId)
    const place = network
      ? hostId
        ? this.#placeOnHost(network, hostId)
        : { segment: wire(networkId), ends: undefined, isPrivate: false, attachment: undefined }
      : nowhere({ code: 'unplugged', sentence: 'The network was removed.', mend: 'Plug the adapter into a network.' })
    this.#known.set(key, place)
    return place
  }

  #placeOnHost(network: Network, hostId: string): Place {
    const estate = this.#estate
    const host = estate.find('host', hostId)
    const hostName = host?.name ?? 'the host'
    const attachment = estate.referring('attachment', 'hostId', hostId).find((one) => one.networkId === network.id)
    if (!attachment)
      return nowhere({
        code: 'not-on-host',
        sentence: `${network.name} is not attached to ${hostName}.`,
        mend: `Attach ${network.name} to ${hostName}, or plug the adapter into another network.`,
      })
    const inside = `${network.id}@${hostId}`
    if (attachment.kind === 'bridged') {
      if (host?.kind === 'nested') return this.#placeInside(network, host, attachment, inside)
      const ends = uplinkEnd(estate, attachment, network)
      return { segment: ends ? inside : wire(network.id), ends, isPrivate: false, attachment }
    }
    const platform: Platform | undefined = estate.find('platform', host?.platformId)
    const isPrivateSegment = attachment.kind === 'translated' && platform?.translation === 'private segment'
    return { segment: inside, ends: endOf(attachment, network, hostName, isPrivateSegment), isPrivate: isPrivateSegment, attachment }
  }

  /** What a nested host bridges leaves it by an adapter of the guest it is. */
  #placeInside(network: Network, host: Host, attachment: Attachment, inside: string): Place {
    const outer = this.#estate.find('guest', host.outerGuestId)
    const uplink = outer && this.#estate.referring('adapter', 'guestId', outer.id).find(({ networkId }) => networkId === network.id)
    if (!outer || !uplink)
      return {
        segment: inside,
        ends: {
          code: 'no-uplink',
          sentence: `${outer?.name ?? 'The guest'}, which is the nested host ${host.name}, has no adapter on ${network.name}.`,
          mend: `Give ${outer?.name ?? 'it'} an adapter on ${network.name}.`,
        },
        isPrivate: false,
        attachment,
      }
    const beyond = this.of(network.id, outer.hostId)
    if (beyond.attachment?.foreignMacs === 'dropped')
      return { segment: inside, ends: macsDropped(this.#estate, network, host), isPrivate: false, attachment }
    return { ...beyond, attachment }
  }

  /** Where a network is for a host itself: a nested one sends with the MAC of its guest’s adapter, which always goes through. */
  ofHost(networkId: string, host: Host): Place {
    const own = this.of(networkId, host.id)
    if (own.ends?.code !== 'macs-dropped') return own
    const outer = this.#estate.find('guest', host.outerGuestId)
    return { ...this.of(networkId, outer?.hostId), attachment: own.attachment }
  }

  /** The segments that a network has, each once. */
  segmentsOf(networkId: string): ReturnType<Topology['segmentsOf']> {
    const attachments = this.#estate.referring('attachment', 'networkId', networkId)
    if (attachments.length === 0) return [{ segment: wire(networkId), ends: undefined, isPrivate: false }]
    const found = new Map<string, ReturnType<Topology['segmentsOf']>[number]>()
    for (const { hostId } of attachments) {
      const { segment, ends, isPrivate } = this.of(networkId, hostId)
      if (segment && !found.has(segment)) found.set(segment, { segment, ends, isPrivate })
    }
    return [...found.values()]
  }
}

export const wire = (networkId: string) => `wire of ${networkId}`
