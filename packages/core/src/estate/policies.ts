import type { Estate } from './estate.js'
import { readFields } from './define-kind.js'
import { kinds, type Policy } from './kinds/index.js'

/** The policies an estate starts with. */
const defaultPolicy: Policy = { id: '', ...readFields(kinds.policy.fields, {}) }

/** The estate's policies: its own record, or the defaults where it has none yet. */
export const policyOf = (estate: Estate): Policy => estate.all('policy')[0] ?? defaultPolicy
