import { expect, it } from 'vitest'
import { chosenFields, kinds, leftOut, type Decided, type FieldsOf, type RecordOf } from './index.js'

it('a list of fields says what it leaves out: together they are all of the kind', () => {
  expect(chosenFields('pool')(['first', 'last'], ['subnetId', 'note'])).toEqual(['first', 'last'])
  expect(Object.keys(kinds.pool.fields).sort()).toEqual(['first', 'last', 'note', 'subnetId'])
  // @ts-expect-error -- nobody has decided about the note
  chosenFields('pool')(['first', 'last'], ['subnetId'])
  // @ts-expect-error -- a pool has no colour
  chosenFields('pool')(['first', 'last', 'colour'], ['subnetId', 'note'])
})

it('a table says of each field what stands for it, and what it leaves out', () => {
  const columns = { subnetId: 'subnet', first: 'from', last: null, note: null } satisfies FieldsOf<'pool', string>
  expect(leftOut('pool', columns)).toEqual([kinds.pool.fields.last.label, kinds.pool.fields.note.label])
  // @ts-expect-error -- nobody has decided about the note
  const undecided = { subnetId: 'subnet', first: 'from', last: 'to' } satisfies FieldsOf<'pool', string>
  expect(Object.keys(undecided)).not.toContain('note')
})

it('no record is of a type that has not decided about each field', () => {
  const pool: RecordOf<'pool'> = { id: 'p', subnetId: 's', first: '10.0.0.1', last: '10.0.0.9', note: '' }
  const decided: Decided<'pool', 'first' | 'last', 'subnetId' | 'note'> = pool
  // @ts-expect-error -- nobody has decided about the note
  const undecided: Decided<'pool', 'first' | 'last', 'subnetId'> = pool
  expect(decided).toBe(undecided)
})
