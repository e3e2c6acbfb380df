import { COMMANDS_MAX } from '@insel/contract'
import { chosenFields, kinds, type Command, type Field, type Guest } from '@insel/core'
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
/** What is changed of several guests. */
export type What = (typeof shared)[number] | (typeof tagActions)[number]
export const fields = kinds.guest.fields as Readonly<Record<string, Field>>

/** What a change of several guests comes to; a guest that has the value already is left out. */
export function commandsOf(guests: readonly Guest[], what: What, text: string): readonly Command[] | { readonly sentence: string } {
  if (guests.length > COMMANDS_MAX)
    return { sentence: `At most ${COMMANDS_MAX} guests can be changed at once; ${guests.length} are selected. Narrow the filter.` }
  const update = (guest: Guest, changes: Partial<Omit<Guest, 'id'>>): Command => ({ type: 'guest.update', id: guest.id, changes })
  if (what === 'add tags' || what === 'remove tags') {
    const field = fields['tags']
    const reading = field ? inputValue(field, text) : { sentence: '' }
    if ('sentence' in reading) return reading
    const words = reading.value as readonly string[]
    if (words.length === 0) return { sentence: 'Enter the tags.' }
    return guests.flatMap((guest) => {
      const tags = what === 'add tags' ? [...new Set([...guest.tags, ...words])].sort() : guest.tags.filter((tag) => !words.includes(tag))
      return tags.join() === guest.tags.join() ? [] : [update(guest, { tags })]
    })
  }
  const field = fields[what]
  if (!field) return { sentence: '' }
  const reading = inputValue(field, text)
  if ('sentence' in reading) return reading
  return guests.flatMap((guest) => (guest[what] === reading.value ? [] : [update(guest, { [what]: reading.value })]))
}

/** What a change is called. */
export const labelOf = (what: What): string => fields[what]?.label ?? what
