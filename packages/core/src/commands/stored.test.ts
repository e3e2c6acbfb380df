import { describe, expect, it } from 'vitest'
import { commands, readField } from '../estate/index.js'
import { idOf } from '../testing/small-estate.js'
import { commandTypes } from '../verbs.js'

const field = commands({ label: 'Body', doc: 'What is done.' })
const sentence = (value: unknown) => {
  const reading = readField(field, value)
  return reading.ok ? 'read' : reading.sentence
}

describe('commands that a record keeps', () => {
  it('are read by what they ask for, each value in the form in which it is stored', () => {
    const reading = readField(field, [
      { type: 'guest.add', record: { name: ' spare ', vcpu: 1, memoryMiB: 512, tags: ['B', 'a'] } },
      { type: 'guest.update', id: idOf('news'), changes: { vcpu: 2 } },
      { type: 'guest.clone', guestId: idOf('template'), name: 'copy', macs: { [idOf('templateAdapter')]: '02-1A-4B-00-0F-FF' } },
      { type: 'guest.remove', id: idOf('news'), withReferring: true },
    ])
    expect(reading).toMatchObject({
      ok: true,
      value: [
        { record: { name: 'spare', tags: ['a', 'b'], state: 'planned' } },
        { type: 'guest.update', id: idOf('news'), changes: { vcpu: 2 } },
        { type: 'guest.clone', guestId: idOf('template'), name: 'copy', macs: { [idOf('templateAdapter')]: '02:1a:4b:00:0f:ff' } },
        { type: 'guest.remove', id: idOf('news'), withReferring: true },
      ],
    })
    // What was read is read as it is.
    if (reading.ok) expect(readField(field, JSON.parse(JSON.stringify(reading.value)))).toEqual(reading)
  })
  it.each([
    ['a text', 'x', 'Body must be a list of commands, not “x”.'],
    ['nothing', [null], 'Body cannot hold command 1: it is not a command.'],
    ['an unknown one', [{ type: 'guest.explode' }], 'Body cannot hold command 1: unknown command “guest.explode”.'],
    ['one without its record', [{ type: 'guest.add' }], 'Body cannot hold command 1: Its fields are missing.'],
    ['one without an id', [{ type: 'guest.remove' }], 'Body cannot hold command 1: Its id is not a UUID in lower case.'],
    [
      'a wrong value',
      [{ type: 'guest.update', id: idOf('news'), changes: { vcpu: 0 } }],
      'Body cannot hold command 1: Processors must be at least 1 vCPU.',
    ],
    ['too many', new Array(2001).fill({ type: 'guest.remove', id: idOf('news') }), 'Body can hold at most 2000 commands; it has 2001.'],
  ])('%s is refused with a sentence', (_, value, words) => expect(sentence(value)).toBe(words))
  it('every type is read or refused, none thrown at', () => {
    for (const type of commandTypes) expect(sentence([{ type }])).toMatch(/^(read|Body cannot hold command 1: .+\.)$/)
  })
})
