import { sayIdentity } from '../../clones/index.js'
import { defineRule } from '../rule.js'
import { clashOf, sharedIdentity } from './templates.js'

/** A guest that has the identity of what it was copied from, though it meets none of those now: machine-id(5), host keys, machine name. */
export const notGeneralised = defineRule({
  id: 'guest.not-generalised',
  title: 'Clone with the original’s identity',
  appliesTo: 'guest',
  again: {
    ...sharedIdentity.again,
    guest(estate, guest, changed) {
      const sharing = sharedIdentity.again.guest?.(estate, guest, changed) ?? []
      // It is named in what is said of those that have its identity.
      const isRenamed = changed?.includes('name') ?? !estate.find('guest', guest.id)
      if (sharing === 'all' || !isRenamed) return sharing
      return [...sharing, ...estate.referring('guest', 'identityFromId', guest.id).map((clone) => clone.id)]
    },
  },
  check(estate, guest) {
    if (guest.identity !== 'copied' || guest.state === 'planned' || guest.state === 'being copied' || guest.state === 'retired') return []
    // That is an error of its own.
    if (clashOf(estate, guest)) return []
    return [
      {
        severity: 'warning',
        sentence: `The identity of ${guest.name} is ${sayIdentity(estate, guest)}: it may carry its machine name, machine-id and host keys.`,
        evidence: [{ label: 'identity', value: sayIdentity(estate, guest) }],
        remedy: 'Give the guest a new machine-id, new host keys and its own name, then record its identity as its own.',
      },
    ]
  },
})
