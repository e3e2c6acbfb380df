import { type Command } from '../../commands/index.js'
import { addressOwner, isHostLabel, type Address, type Estate } from '../../estate/index.js'
import { zoneOf } from '../../names/index.js'
import { addressesOfAdapter } from './again.js'
import { elderOf } from './elder.js'
import { defineRule } from '../rule.js'

/** The addresses that have the name of something. */
const namesakes = (estate: Estate, { name }: { readonly name: string | null }): readonly string[] =>
  name ? estate.byKey('address', { name }).map(({ id }) => id) : []

/** The next name of the same kind that breaks no rule and is unused. */
function soundName(estate: Estate, name: string): string | undefined {
  const plain = name
    .toLowerCase()
    .split(/[^a-z0-9]+/)
    .filter(Boolean)
    .join('-')
    .slice(0, 63)
  const isFree = (['guest', 'host'] as const).every((kind) => estate.byKey(kind, { name: plain }).length === 0)
  return isFree && isHostLabel(plain) ? plain : undefined
}

const notAName = (name: string, what: string) =>
  isHostLabel(name)
    ? []
    : [
        {
          severity: 'warning' as const,
          sentence: `${what} “${name}” is not a host name: it is left out of the zone files.`,
          evidence: [
            { label: 'name', value: name },
            { label: 'rule', value: 'letters, digits and hyphens, up to 63, no hyphen at an end (RFC 1123)' },
          ],
          remedy: 'Choose a name of letters, digits and hyphens, on the machine and here.',
        },
      ]

/** A guest whose name no zone can hold. RFC 1123, section 2.1. */
export const guestName = defineRule({
  id: 'guest.name-not-for-dns',
  title: 'Name not valid in a zone',
  appliesTo: 'guest',
  check: (_, guest) => (guest.kind === 'template' ? [] : notAName(guest.name, 'The guest’s name')),
  fix(estate, guest) {
    const name = soundName(estate, guest.name)
    return name ? [{ type: 'guest.update', id: guest.id, changes: { name } }] : undefined
  },
})

/** A host whose name no zone can hold, or that a guest has too. RFC 1123, section 2.1. */
export const hostName = defineRule({
  id: 'host.name-not-for-dns',
  title: 'Host name invalid, or used by a guest too',
  appliesTo: 'host',
  again: { guest: (estate, guest) => estate.byKey('host', { name: guest.name }).map(({ id }) => id) },
  check(estate, host) {
    const [guest] = estate.byKey('guest', { name: host.name })
    return guest && host.outerGuestId !== guest.id && guest.kind !== 'template'
      ? [
          {
            severity: 'warning',
            sentence: `${host.name} is the name of a host and of a guest: in one zone it would mean both.`,
            evidence: [{ label: 'name', value: host.name }],
            remedy: 'Rename the host or the guest.',
          },
        ]
      : notAName(host.name, 'The host’s name')
  },
})

const zone = (estate: Estate, address: Address) => zoneOf(estate, estate.find('subnet', address.subnetId)?.networkId)

/** An address named like a machine or like another address of the same zone. */
export const duplicateName = defineRule({
  id: 'address.duplicate-name',
  title: 'Name used twice in a zone',
  appliesTo: 'address',
  again: {
    guest: namesakes,
    host: namesakes,
    address: namesakes,
    adapter: (estate, adapter) => addressesOfAdapter(estate, adapter).flatMap((address) => namesakes(estate, address)),
    network: () => 'all',
    subnet: (estate, subnet) => estate.referring('address', 'subnetId', subnet.id).flatMap((address) => namesakes(estate, address)),
  },
  check(estate, address) {
    if (!address.name) return []
    const { name } = address
    const own = zone(estate, address)
    const guest = estate
      .byKey('guest', { name })
      .find(({ id, kind }) => kind !== 'template' && id !== estate.find('adapter', address.adapterId)?.guestId)
    const host = estate.byKey('host', { name }).find(({ id }) => id !== address.hostId)
    const twin = elderOf(estate.byKey('address', { name }), address, (other) => zone(estate, other) === own)
    const who = guest ? `guest ${guest.name}` : host ? `host ${host.name}` : twin ? `${twin.ip} (${addressOwner(estate, twin)})` : undefined
    return who
      ? [
          {
            severity: 'warning',
            sentence: `${address.ip} is named ${name}, and so is ${who}${own ? `, in ${own}` : ''}.`,
            evidence: [
              { label: 'name', value: own ? `${name}.${own}` : name },
              { label: 'also', value: who },
            ],
            remedy: 'Keep the name on one machine; two addresses under one name are used in turn.',
          },
        ]
      : []
  },
  fix: (_, address): readonly Command[] | undefined =>
    address.adapterId || address.hostId ? [{ type: 'address.update', id: address.id, changes: { name: null } }] : undefined,
})
