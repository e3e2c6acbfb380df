import { estateFile, Estate, readEstateFile } from '@insel/core'
import { Ajv2020 } from 'ajv/dist/2020.js'
import addFormats from 'ajv-formats'
import { describe, expect, it } from 'vitest'
import { generateRecords } from '../../../core/src/testing/generate-estate.js'
import { smallEstate } from '../../../core/src/testing/small-estate.js'
import { schemaOfEstateFile } from '../index.js'

// JSON Schema's meaning (draft 2020-12) is taken from ajv, a general-purpose validator.
const ajv = new Ajv2020({ allErrors: false, strict: true, keywords: ['x-unit', 'x-refers-to'], allowUnionTypes: true })
;(addFormats as unknown as (on: unknown) => void)(ajv)
const validate = ajv.compile(schemaOfEstateFile())
const fileOf = (estate: Estate) => JSON.parse(JSON.stringify(estateFile(estate, 3, '2027-01-18T08:00:00.000Z'))) as Record<string, unknown>

describe('the published schema of a whole estate', () => {
  it('holds for the files that are written', () => {
    for (const estate of [smallEstate(), Estate.fromRecords(generateRecords({ hosts: 5, guests: 60, adapters: 80 }))])
      expect([validate(fileOf(estate)), validate.errors]).toEqual([true, null])
  })

  it.each([
    ['another version', { version: 2 }],
    ['another format', { format: 'x' }],
    ['no records', { records: undefined }],
    ['an unknown kind', { records: { estate: [], unicorn: [] } }],
    ['a guest of too few values', { records: { estate: [], guest: [{ id: '01890000-0000-7000-8000-000000000001', name: 'a' }] } }],
  ])('%s fits neither the schema nor the reader', (_, changes) => {
    const file = { ...fileOf(smallEstate()), ...changes }
    expect(validate(JSON.parse(JSON.stringify(file)))).toBe(false)
    expect(readEstateFile(JSON.stringify(file))).toHaveProperty('problems')
  })
})
