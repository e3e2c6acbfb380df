import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Estate } from '../estate/index.js'
import { apply } from '../commands/index.js'
import { CommandError } from '../estate/index.js'
import { anyCommand } from '../testing/any-command.js'
import { smallEstate, testContext } from '../testing/small-estate.js'
import { estateFile, readEstateFile } from './index.js'

const written = (estate: Estate) => JSON.stringify(estateFile(estate, 3, '2027-01-18T08:00:00.000Z'))
const problemsOf = (text: string) => {
  const reading = readEstateFile(text)
  return 'problems' in reading ? reading.problems : []
}
/** A file with one thing changed in it. */
const spoiled = (change: (file: { records: Record<string, Record<string, unknown>[]> } & Record<string, unknown>) => void) => {
  const file = JSON.parse(written(smallEstate())) as Parameters<typeof change>[0]
  change(file)
  return JSON.stringify(file)
}

describe('a whole estate as a file', () => {
  it('read again is the same estate, whatever was done to it before', () =>
    fc.assert(
      fc.property(fc.array(anyCommand, { maxLength: 12 }), (commands) => {
        const context = testContext()
        const estate = commands.reduce((before, command) => {
          try {
            return apply(before, command, context).estate
          } catch (error) {
            if (!(error instanceof CommandError)) throw error
            return before
          }
        }, smallEstate())
        const reading = readEstateFile(written(estate))
        expect('estate' in reading && reading.estate.toRecords()).toEqual(estate.toRecords())
      }),
      { numRuns: 60 },
    ))

  it.each([
    ['no JSON', '{', /not JSON/],
    ['another file', '{"format":"x"}', /“insel-estate”/],
    ['a later version', spoiled((file) => (file['version'] = 9)), /version 9; this Insel reads version 1/],
    ['an unknown kind', spoiled((file) => (file.records['unicorn'] = [])), /no such kind/],
    [
      'an unknown field',
      spoiled((file) => ((file.records['guest']?.[0] ?? {})['colour'] = 'red')),
      /records\.guest\[0\] “playout-1”: There is no field “colour”/,
    ],
    ['a value out of bounds', spoiled((file) => ((file.records['guest']?.[0] ?? {})['vcpu'] = 0)), /at least 1 vCPU/],
    ['a reference to nothing', spoiled((file) => (file.records['store'] = [])), /there is no store/],
    ['an id twice', spoiled((file) => file.records['guest']?.push(file.records['guest'][0] ?? {})), /appears twice/],
    ['no description', spoiled((file) => (file.records['estate'] = [])), /one description/],
  ])('%s is refused, with the place', (_, text, words) => expect(problemsOf(text).join(' ')).toMatch(words))
})
