import { COMMANDS_MAX } from '@insel/contract'
import { applyAll, type Guest } from '@insel/core'
import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import { commandsOf, doings, labelOf, shared, tagActions, type What } from './bulk-commands'

const estate = smallEstate()
const guests = estate.all('guest')
const machines = guests.filter(({ kind }) => kind === 'machine')
const bulk = (what: What, text: string, of: readonly Guest[] = guests, from = estate) => {
  const made = commandsOf(from, of, what, text)
  if ('sentence' in made) throw new Error(made.sentence)
  return made
}
const after = (what: What, text: string, of: readonly Guest[] = guests) => {
  const { commands, left } = bulk(what, text, of)
  const made = applyAll(estate, commands, testContext()).estate
  return { count: commands.length, left: left.map(({ guest, why }) => `${guest.name} ${why}`), estate: made, guests: made.all('guest') }
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
    expect(bulk('add tags', 'desk', added.guests).commands).toEqual([])
    expect(bulk('remove tags', 'air', added.guests).commands).toHaveLength(3)
  })

  it('a value is read as its field reads it', () => {
    expect(after('memoryMiB', '4G').guests.map(({ memoryMiB }) => memoryMiB)).toEqual([4096, 4096, 4096])
    // The newsroom has 4 GiB already.
    expect(after('memoryMiB', '4G').count).toBe(2)
    expect(after('latency', 'lab').guests.every(({ latency }) => latency === 'lab')).toBe(true)
    expect(after('backupStoreId', '').guests.map(({ backupStoreId }) => backupStoreId)).toEqual([null, null, null])
  })

  it('their state goes only where it may; the others are left, with the reason', () => {
    const stopped = after('state', 'stopped')
    expect(stopped.guests.filter(({ state }) => state === 'stopped').length).toBeGreaterThan(0)
    const planned = bulk('state', 'planned', machines)
    expect(planned.commands).toEqual([])
    expect(planned.left.map(({ why }) => why)[0]).toMatch(/^is \w+; from there it can only be /)
  })

  it('they move to another host, each with its disks where there is room, and who does not fit is left', () => {
    const there = machines.filter(({ hostId }) => hostId === idOf('gannet'))
    const moved = after('host', idOf('fulmar'), there)
    expect(moved.count + moved.left.length).toBe(there.length)
    expect(moved.count).toBeGreaterThan(0)
    expect(moved.guests.filter(({ hostId }) => hostId === idOf('fulmar')).length).toBeGreaterThanOrEqual(moved.count)
    // As moves, with the history that moves have.
    expect(moved.estate.count('migration')).toBe(moved.count)
    const full = applyAll(estate, [{ type: 'host.update', id: idOf('fulmar'), changes: { memoryMiB: 1024 } }], testContext()).estate
    const none = bulk('host', idOf('fulmar'), there, full)
    expect([none.commands, none.left.every(({ why }) => why.startsWith('does not fit: '))]).toEqual([[], true])
  })

  it('each adapter without an address gets one of its own', () => {
    const bare = applyAll(
      estate,
      estate.all('address').flatMap(({ id, adapterId }) => (adapterId ? [{ type: 'address.release' as const, addressId: id }] : [])),
      testContext(),
    ).estate
    const { commands } = bulk('addresses', '', bare.all('guest'), bare)
    const again = applyAll(bare, commands, testContext()).estate
    const ips = again.all('address').flatMap(({ ip, adapterId }) => (adapterId ? [ip] : []))
    expect(ips.length).toBeGreaterThan(0)
    expect([commands.length, new Set(ips).size]).toEqual([ips.length, ips.length])
    expect(bulk('addresses', '', again.all('guest'), again).commands).toEqual([])
  })

  it('they are removed with what is theirs', () => {
    const some = machines
    const gone = after('remove', '', some)
    expect([gone.count, gone.guests.filter(({ kind }) => kind === 'machine')]).toEqual([some.length, []])
    expect(gone.estate.all('disk').some(({ guestId }) => some.some(({ id }) => id === guestId))).toBe(false)
  })

  it.each<[What, string, RegExp]>([
    ['add tags', '', /Enter the tags/],
    ['add tags', 'a b?', /“b\?” is not/],
    ['memoryMiB', 'lots', /not a size/],
    ['vcpu', '0', /at least 1 vCPU/],
    ['latency', 'never', /must be one of/],
  ])('%s of “%s” says what is wrong', (what, text, words) => {
    const commands = commandsOf(estate, guests, what, text)
    expect('sentence' in commands && commands.sentence).toMatch(words)
  })

  it('more than one change holds is refused before it is tried', () => {
    const [guest] = guests
    const many = Array.from({ length: COMMANDS_MAX + 1 }, () => guest).filter((one) => one !== undefined)
    expect(commandsOf(estate, many, 'add tags', 'x')).toEqual({ sentence: expect.stringContaining('Narrow the filter') as string })
  })

  it('each is called something', () => {
    const names = [...tagActions, ...doings, ...shared].map(labelOf)
    expect(new Set(names).size).toBe(names.length)
    expect(names.every((name) => name.length > 2)).toBe(true)
  })
  it('a removed system is no value', () => expect(() => after('systemId', idOf('array'))).toThrow('there is no system'))
})
