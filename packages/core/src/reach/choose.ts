import type { Attachment, Platform } from '../estate/index.js'

/** What a network is wanted for: the three questions. */
export interface Wish {
  /** Must machines elsewhere on the LAN reach its guests? */
  readonly fromLan: boolean
  /** Must its guests reach out? */
  readonly out: boolean
  /** Must its guests see each other? */
  readonly eachOther: boolean
}

/** One attachment held against the wish. */
export interface AttachmentChoice {
  readonly kind: Attachment['kind']
  readonly fits: boolean
  /** What it does not give that is wanted. */
  readonly lacks: readonly string[]
  /** What it gives beyond the wish, or costs. */
  readonly costs: readonly string[]
  readonly why: string
}

/** What each attachment gives. Common practice, no source: the table “Who reaches whom” of the trade. */
const gives = (kind: Attachment['kind'], translation: Platform['translation']): Wish =>
  ({
    bridged: { fromLan: true, out: true, eachOther: true },
    translated: { fromLan: false, out: true, eachOther: translation === 'shared segment' },
    'host-only': { fromLan: false, out: false, eachOther: true },
    internal: { fromLan: false, out: false, eachOther: true },
  })[kind]

/**
 * The attachments of a platform held against three questions, the fitting ones first, the one that opens least first of
 * those.
 *
 * @param platform how it translates decides whether guests behind NAT see each other
 * @param hasWire whether the host has a wired uplink; without one nothing can be bridged (IEEE 802.11)
 */
export function chooseAttachment(
  wish: Wish,
  platform: Pick<Platform, 'name' | 'translation'>,
  hasWire = true,
): readonly AttachmentChoice[] {
  const shared = platform.translation === 'shared segment'
  const why: Readonly<Record<Attachment['kind'], string>> = {
    bridged: 'Its guests are machines of the segment like any other.',
    translated: shared
      ? `${platform.name} keeps one NAT segment for the guests of a host: they see each other and go out in the host’s name.`
      : `${platform.name} gives each guest its own NAT segment: guests do not see each other, nor does the host reach them.`,
    'host-only': 'Only the guests and their host.',
    internal: 'Only the guests, without an address of the host.',
  }
  const costs: Readonly<Record<Attachment['kind'], readonly string[]>> = {
    bridged: ['an address of the LAN for each guest', 'a wired uplink with the network’s VLAN', 'everybody on the LAN can reach them'],
    translated: ['a port forward for each service that others use', 'others see the host’s address, not the guest’s'],
    'host-only': ['no updates, name server or time from outside', 'patching via the host'],
    internal: ['not even the host reaches them: only through a router guest or the console'],
  }
  const order: readonly Attachment['kind'][] = ['internal', 'host-only', 'translated', 'bridged']
  return order
    .map((kind): AttachmentChoice => {
      const given = gives(kind, platform.translation)
      const lacks = [
        ...(wish.fromLan && !given.fromLan ? ['others on the LAN do not reach its guests'] : []),
        ...(wish.out && !given.out ? ['its guests do not reach out'] : []),
        ...(wish.eachOther && !given.eachOther ? ['its guests do not see each other'] : []),
        ...(kind === 'bridged' && !hasWire ? ['the host has no wired uplink, and Wi-Fi carries no bridge (IEEE 802.11)'] : []),
      ]
      return { kind, fits: lacks.length === 0, lacks, costs: costs[kind], why: why[kind] }
    })
    .sort((a, b) => Number(b.fits) - Number(a.fits) || a.lacks.length - b.lacks.length)
}
