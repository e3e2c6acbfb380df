import { commandTypes, type Command } from '@insel/core'
import { Ajv } from 'ajv'
import addFormats from 'ajv-formats'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { anyCommand } from '../../../core/src/testing/any-command.js'
import { generateRecords } from '../../../core/src/testing/generate-estate.js'
import { smallEstate, smallEstateCommands } from '../../../core/src/testing/small-estate.js'
import { readCommands, schemaOfCommand, schemaOfRecord } from '../index.js'

// JSON Schema's meaning is taken from ajv, a general-purpose validator.
const ajv = new Ajv({ allErrors: true, strict: true, keywords: ['x-unit', 'x-refers-to'], allowUnionTypes: true })
;(addFormats as unknown as (on: Ajv) => void)(ajv)
const validators = new Map(commandTypes.map((type) => [type, ajv.compile(schemaOfCommand(type))]))
/** A command as it is on the wire: without what is undefined. */
const wire = (command: Command) => JSON.parse(JSON.stringify(command)) as Command
const bySchema = (command: Command) => validators.get(command.type)?.(command) ?? false
const byClass = (command: Command) => 'commands' in readCommands([command])

describe('the published schemas', () => {
  it('hold for every record of an estate', () => {
    for (const records of [smallEstate().toRecords(), generateRecords({ hosts: 3, guests: 30, adapters: 40 })])
      for (const [kind, list] of Object.entries(records)) {
        const validate = ajv.compile(schemaOfRecord(kind as never))
        for (const record of list) expect([kind, validate(record), validate.errors]).toEqual([kind, true, null])
      }
  })

  it('and the classes take the same commands', () => {
    for (const command of smallEstateCommands)
      expect([command.type, bySchema(wire(command)), byClass(wire(command))]).toEqual([command.type, true, true])
    fc.assert(
      fc.property(anyCommand, (command) => {
        expect([bySchema(wire(command)), byClass(wire(command))]).toEqual([true, true])
      }),
      { numRuns: 300 },
    )
  })

  it('and the classes refuse the same: a field missing, one too many, one of the wrong type', () => {
    fc.assert(
      fc.property(
        anyCommand,
        fc.constantFrom('strange', 'type', 'first'),
        fc.constantFrom(7, 'x', null, [], {}),
        (command, where, wrong) => {
          const spoilt = { ...wire(command) } as Record<string, unknown>
          if (where === 'strange') spoilt['colour'] = wrong
          else if (where === 'type') spoilt['type'] = wrong
          else {
            const first = Object.keys(spoilt).find((name) => name !== 'type' && typeof spoilt[name] === 'string')
            if (first) spoilt[first] = typeof wrong === 'string' ? 7 : wrong
          }
          const refused = spoilt as unknown as Command
          if (bySchema(refused) !== byClass(refused)) expect([refused, bySchema(refused)]).toEqual([refused, byClass(refused)])
        },
      ),
      { numRuns: 400 },
    )
  })
})
