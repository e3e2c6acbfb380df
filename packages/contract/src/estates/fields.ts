import { kinds } from '@insel/core'

export const estateFields = kinds.estate.fields
export const personFields = kinds.person.fields
