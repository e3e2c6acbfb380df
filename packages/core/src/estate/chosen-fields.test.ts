import { expect, it } from 'vitest'
import { chosenFields, kinds } from './index.js'

it('a list of fields says what it leaves out: together they are all of the kind', () => {
  expect(chosenFields('pool')(['first', 'last'], ['subnetId', 'note'])).toEqual(['first', 'last'])
  expect(Object.keys(kinds.pool.fields).sort()).toEqual(['first', 'last', 'note', 'subnetId'])
  // @ts-expect-error -- nobody has decided about the note
  chosenFields('pool')(['first', 'last'], ['subnetId'])
  // @ts-expect-error -- a pool has no colour
  chosenFields('pool')(['first', 'last', 'colour'], ['subnetId', 'note'])
})
