import { COMMANDS_MAX } from '@insel/contract'
import {
  adaptersOf,
  applyAll,
  chosenFields,
  CommandError,
  kinds,
  preferredSubnet,
  proposeMigration,
  statesAfter,
  type Command,
  type Estate,
  type Field,
  type Guest,
  type Host,
} from '@insel/core'
import { newId } from '../../lib/context'
import { now as timeNow } from '../../lib/time'
import { inputValue } from '../records/field-text'

/** Fields that several guests may share a value of. */
export const shared = chosenFields('guest')(
  [
    'group',
    'purpose',
    'systemId',
    'backupStoreId',
    'latency',
    'processorMode',
    'firmware',
    'machineType',
    'vcpu',
    'memoryMiB',
    'bootFirst',
    'mediumId',
    'owner',
    'contact',
    'criticality',
    'patchedOn',
  ],
  [
    // Of one guest alone.
    'name',
    'hostId',
    'verifiedAt',
    'apartFromId',
    'clonedFromId',
    'note',
    // By what is done to it, not by a field.
    'kind',
    'state',
    'isRouter',
    'identity',
    'identityFromId',
    'identityFromName',
    'identityKey',
    'clonedVersion',
    'mediumConnected',
    // Together with other fields of theirs.
    'workload',
    'sockets',
    'memoryMinMiB',
    'secureBoot',
    'trustedModule',
    'installer',
    'packages',
    'locale',
    // By their own actions: see `tagActions`.
    'tags',
  ],
)
export const tagActions = ['add tags', 'remove tags'] as const
/** What is done to each of several guests by its own way, not by a field. */
export const doings = ['state', 'host', 'addresses', 'remove'] as const
/** What is changed of several guests. */
export type What = (typeof shared)[number] | (typeof tagActions)[number] | (typeof doings)[number]
const guestFields = kinds.guest.fields as Readonly<Record<string, Field>>
/** The field that a change asks the value of; undefined where it asks a text, or nothing. */
export const fieldOf = (what: What): Field | undefined => guestFields[what === 'host' ? 'hostId' : what]
/** What stands between a change and its value. */
export const beforeValueOf = (what: What): string => ((tagActions as readonly string[]).includes(what) ? 'these' : 'to')
/** Whether a change has no value: what it does is the same for all. */
export const isWithoutValue = (what: What): boolean => what === 'addresses' || what === 'remove'

/** What a change of several guests comes to, and which of them it leaves alone, with the reason. */
export interface Bulk {
  readonly commands: readonly Command[]
  readonly left: readonly { readonly guest: Guest; readonly why: string }[]
}

/** What a change of several guests comes to; a guest that has the value already is left out. */
export function commandsOf(estate: Estate, guests: readonly Guest[], what: What, text: string): Bulk | { readonly sentence: string } {
  if (guests.length > COMMANDS_MAX)
    return { sentence: `At most ${COMMANDS_MAX} guests can be changed at once; ${guests.length} are selected. Narrow the filter.` }
  const update = (guest: Guest, changes: Partial<Omit<Guest, 'id'>>): Command => ({ type: 'guest.update', id: guest.id, changes })
  const plain = (commands: readonly Command[]): Bulk => ({ commands, left: [] })
  if (what === 'remove') return plain(guests.map(({ id }) => ({ type: 'guest.remove', id, withReferring: true })))
  if (what === 'addresses') return addressed(estate, guests)
  if (what === 'add tags' || what === 'remove tags') {
    const field = guestFields['tags']
    const reading = field ? inputValue(field, text) : { sentence: '' }
    if ('sentence' in reading) return reading
    const words = reading.value as readonly string[]
    if (words.length === 0) return { sentence: 'Enter the tags.' }
    return plain(
      guests.flatMap((guest) => {
        const tags = what === 'add tags' ? [...new Set([...guest.tags, ...words])].sort() : guest.tags.filter((tag) => !words.includes(tag))
        return tags.join() === guest.tags.join() ? [] : [update(guest, { tags })]
      }),
    )
  }
  const field = fieldOf(what)
  if (!field) return { sentence: '' }
  const reading = inputValue(field, text)
  if ('sentence' in reading) return reading
  if (what === 'host') {
    const host = estate.find('host', reading.value as string | null)
    return host ? moved(estate, guests, host) : { sentence: 'Choose the host.' }
  }
  if (what === 'state') {
    const state = reading.value as Guest['state']
    const able = (guest: Guest) => guest.kind === 'template' || statesAfter(guest.state).includes(state)
    const others = guests.filter((guest) => guest.state !== state)
    return {
      commands: others.filter(able).map((guest) => update(guest, { state })),
      left: others
        .filter((guest) => !able(guest))
        .map((guest) => ({ guest, why: `is ${guest.state}; from there it can only be ${statesAfter(guest.state).join(' or ')}` })),
    }
  }
  return plain(guests.flatMap((guest) => (guest[what] === reading.value ? [] : [update(guest, { [what]: reading.value })])))
}

/** Commands one after the other, each made of the estate as those before it leave it; one that is refused leaves its guest alone. */
function oneByOne(
  estate: Estate,
  guests: readonly Guest[],
  commandsFor: (now: Estate, guest: Guest) => readonly Command[] | { readonly why: string },
): Bulk {
  let now = estate
  const commands: Command[] = []
  const left: { guest: Guest; why: string }[] = []
  const context = { newId, now: timeNow(), revision: 0 }
  for (const guest of guests) {
    const wanted = commandsFor(now, guest)
    if ('why' in wanted) {
      left.push({ guest, why: wanted.why })
      continue
    }
    try {
      now = applyAll(now, wanted, context).estate
      commands.push(...wanted)
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
      left.push({ guest, why: `cannot: ${error.message}` })
    }
  }
  return { commands, left }
}

/** Each guest moved to a host, its disks onto stores that the host reaches, as far as there is room. */
const moved = (estate: Estate, guests: readonly Guest[], host: Host): Bulk =>
  oneByOne(
    estate,
    guests.filter(({ hostId }) => hostId !== host.id),
    (now, guest) => {
      if (guest.kind === 'external') return { why: 'is on no host; it comes to one by a migration' }
      const { command, fit } = proposeMigration(now, guest, host)
      return fit.verdict === 'no'
        ? { why: `does not fit: ${fit.lines.find(({ verdict }) => verdict === 'no')?.sentence ?? ''}` }
        : [command]
    },
  )

/** The next free address for each adapter that is plugged into a network with a subnet and has none. */
const addressed = (estate: Estate, guests: readonly Guest[]): Bulk =>
  oneByOne(estate, guests, (now, guest) => {
    const without = adaptersOf(now, guest.id).filter(
      ({ id, networkId }) =>
        networkId !== null && now.referring('address', 'adapterId', id).length === 0 && preferredSubnet(now, networkId),
    )
    return without.length === 0
      ? { why: 'has an address on every adapter that can have one' }
      : without.map(({ id }): Command => ({ type: 'address.assign', id: newId(), adapterId: id }))
  })

const doingLabels: Readonly<Record<(typeof doings)[number] | (typeof tagActions)[number], string>> = {
  'add tags': 'Tags, added',
  'remove tags': 'Tags, removed',
  state: 'State',
  host: 'Host, as migrations that were done',
  addresses: 'Next free addresses',
  remove: 'Remove',
}
/** What a change is called. */
export const labelOf = (what: What): string =>
  Object.hasOwn(doingLabels, what) ? doingLabels[what as keyof typeof doingLabels] : (guestFields[what]?.label ?? what)
