import { defineRule } from '../rule.js'

/** A clone that still has the identity of what it was copied from: machine-id(5), host keys, machine name. */
export const notGeneralised = defineRule({
  id: 'guest.not-generalised',
  title: 'Clone with the original’s identity',
  appliesTo: 'guest',
  again: { guest: (estate, guest) => estate.referring('guest', 'clonedFromId', guest.id).map((clone) => clone.id) },
  check(estate, guest) {
    const original = estate.find('guest', guest.clonedFromId)
    if (!original || guest.isGeneralised) return []
    return [
      {
        severity: 'warning',
        sentence: `${guest.name} is a copy of ${original.name} and was never generalised: it may carry its machine name, machine-id and host keys.`,
        evidence: [
          { label: 'cloned from', value: original.name },
          { label: 'original generalised', value: original.isGeneralised ? 'yes' : 'no' },
        ],
        remedy: 'Give the guest a new machine-id, new host keys and its own name, then record it as generalised.',
      },
    ]
  },
})
