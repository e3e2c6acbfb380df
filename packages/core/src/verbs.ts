import {
  allCommandTypes,
  findingVerbs,
  readStoredCommand,
  registerArrival,
  registerFollow,
  registerVerbs,
  type Verb,
  type AnyVerb,
} from './commands/index.js'
import { readCommandsWith } from './estate/index.js'
import { addressVerbs, subnetVerbs } from './addresses/index.js'
import { adapterChanged, batchVerbs, cloneGuest, identityVerbs } from './clones/index.js'
import { guestVerbs } from './guests/index.js'
import { moveChanged, moveVerbs } from './migrations/index.js'
import { itemChanged, planVerbs } from './plans/index.js'

/** Every verb, from the topics that have some. One that is declared and not listed here is a compile error. */
export const verbs = {
  ...guestVerbs,
  ...moveVerbs,
  'guest.clone': cloneGuest,
  ...identityVerbs,
  ...batchVerbs,
  ...addressVerbs,
  ...subnetVerbs,
  ...planVerbs,
  ...findingVerbs,
} satisfies {
  readonly [V in Verb]: AnyVerb
}
registerVerbs(verbs)
registerFollow('item', itemChanged)
registerFollow('adapter', adapterChanged)
registerArrival('adapter', (edit, record, values) => adapterChanged(edit, record, { isConnected: true, ...values }))
registerFollow('migration', moveChanged)
readCommandsWith(readStoredCommand)

/** The types of all commands there are. */
export const commandTypes = allCommandTypes()
