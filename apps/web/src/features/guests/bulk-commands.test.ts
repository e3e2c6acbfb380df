import { COMMANDS_MAX } from '@insel/contract'
import { applyAll, type Guest } from '@insel/core'
import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import { commandsOf, labelOf, shared, tagActions, type What } from './bulk-commands'

const estate = smallEstate()
const guests = estate.all('guest')
const after = (what: What, text: string, of: readonly Guest[] = guests) => {
  const commands = commandsOf(of, what, text)
  if ('sentence' in commands) throw new Error(commands.sentence)
  return { count: commands.length, guests: applyAll(estate, commands, testContext()).estate.all('guest') }
}

describe('one thing of several guests', () => {
  it('tags are added and taken away, and who has them already is left out', () => {
    const added = after('add tags', '#air desk')
    expect([added.count, added.guests.map(({ tags }) => tags)]).toEqual([
      3,
      [
        ['air', 'desk'],
        ['air', 'desk'],
        ['air', 'desk'],
      ],
    ])
    expect(commandsOf(added.guests, 'add tags', 'desk')).toEqual([])
    const taken = commandsOf(added.guests, 'remove tags', 'air')
    expect('sentence' in taken ? 0 : taken.length).toBe(3)
  })

  it('a value is read as its field reads it', () => {
    expect(after('memoryMiB', '4G').guests.map(({ memoryMiB }) => memoryMiB)).toEqual([4096, 4096, 4096])
    // The newsroom has 4 GiB already.
    expect(after('memoryMiB', '4G').count).toBe(2)
    expect(after('latency', 'lab').guests.every(({ latency }) => latency === 'lab')).toBe(true)
    expect(after('backupStoreId', '').guests.map(({ backupStoreId }) => backupStoreId)).toEqual([null, null, null])
  })

  it.each<[What, string, RegExp]>([
    ['add tags', '', /Enter the tags/],
    ['add tags', 'a b?', /“b\?” is not/],
    ['memoryMiB', 'lots', /not a size/],
    ['vcpu', '0', /at least 1 vCPU/],
    ['latency', 'never', /must be one of/],
  ])('%s of “%s” says what is wrong', (what, text, words) => {
    const commands = commandsOf(guests, what, text)
    expect('sentence' in commands && commands.sentence).toMatch(words)
  })

  it('more than one change holds is refused before it is tried', () => {
    const [guest] = guests
    const many = Array.from({ length: COMMANDS_MAX + 1 }, () => guest).filter((one) => one !== undefined)
    expect(commandsOf(many, 'add tags', 'x')).toEqual({ sentence: expect.stringContaining('Narrow the filter') as string })
  })

  it('each is called something', () => {
    const names = [...tagActions, ...shared].map(labelOf)
    expect(new Set(names).size).toBe(names.length)
    expect(names.every((name) => name.length > 2)).toBe(true)
  })
  it('a removed system is no value', () => expect(() => after('systemId', idOf('array'))).toThrow('there is no system'))
})
