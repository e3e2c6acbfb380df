import { commandTypes, kinds, readField } from '@insel/core'
import { describe, expect, it } from 'vitest'
import { CreateEstateRequest, problemsIn, readCommands, recordClasses, schemas } from '../index.js'

const id = '01890000-0000-7000-8000-000000000001'
const problemsOf = (...commands: unknown[]) => {
  const reading = readCommands(commands)
  return 'problems' in reading ? reading.problems : []
}

describe('commands on the wire', () => {
  it('right ones pass as they are', () =>
    expect(
      problemsOf(
        { type: 'guest.add', record: { name: 'a', vcpu: 1, memoryMiB: 512 } },
        { type: 'guest.update', id, changes: { hostId: null } },
        { type: 'guest.remove', id, withReferring: true },
        { type: 'guest.migrate', guestId: id, toHostId: id, stores: { [id]: id } },
        { type: 'guest.clone', id, guestId: id, name: 'b' },
      ),
    ).toEqual([]))

  it.each([
    [
      { type: 'guest.add', record: { name: 'a b', vcpu: 0.5, memoryMiB: '512' } },
      ['commands.0.record.name', 'commands.0.record.vcpu', 'commands.0.record.memoryMiB'],
    ],
    [{ type: 'guest.add', record: { name: 'a', vcpu: 1, memoryMiB: 512, colour: 1 } }, ['commands.0.record.colour']],
    [{ type: 'guest.add', name: 'a' }, ['commands.0.name', 'commands.0.record']],
    [{ type: 'guest.add', record: [] }, ['commands.0.record']],
    [{ type: 'guest.update', id, changes: { name: null } }, ['commands.0.changes.name']],
    [{ type: 'guest.update', id: 7, changes: {} }, ['commands.0.id']],
    [{ type: 'guest.remove', id, withReferring: 'yes' }, ['commands.0.withReferring']],
    [{ type: 'guest.migrate', guestId: id, toHostId: id, stores: { a: 'b' } }, ['commands.0.stores']],
    [{ type: 'guest.fly' }, ['commands.0.type']],
    [{ type: '__proto__' }, ['commands.0.type']],
    ['guest.add', ['commands.0']],
    [null, ['commands.0']],
  ])('%j is refused at its path, in sentences', (command, paths) => {
    const problems = problemsOf(command)
    expect(problems.map((p) => p.path).sort()).toEqual([...paths].sort())
    for (const problem of problems) expect(problem.message).toMatch(/\.$/)
  })

  it('a list that is none, is empty or is endless is refused', () => {
    for (const value of [undefined, {}, [], Array.from({ length: 2001 }, () => ({ type: 'guest.add' }))])
      expect(readCommands(value)).toHaveProperty('problems')
  })

  it('browser and server say the core’s sentence', () => {
    const reading = readField(kinds.guest.fields.memoryMiB, 2)
    const problem = problemsIn(recordClasses.guest.whole, { name: 'a', vcpu: 1, memoryMiB: 2 })[0]
    expect(problem?.message).toBe(reading.ok ? '' : reading.sentence)
    expect(problem?.message).toBe('Memory must be at least 4 MiB.')
  })

  it('a new estate', () => {
    expect(problemsIn(CreateEstateRequest as never, { name: 'Skerry Sound', timeZone: 'Atlantic/Faroe' })).toEqual([])
    expect(
      problemsIn(CreateEstateRequest as never, { name: '', timeZone: 'Mars/North', owner: 1 })
        .map((p) => p.path)
        .sort(),
    ).toEqual(['name', 'owner', 'timeZone'])
  })

  it('every kind and command has a schema', () =>
    expect(Object.keys(schemas())).toHaveLength(Object.keys(kinds).length + commandTypes.length))
})
