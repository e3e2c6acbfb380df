import { describe, expect, it } from 'vitest'
import { upgradedOf, upgraded, type AnyRecord, type Upgrade } from './index.js'
import { upgradedCommand } from './upgrades.js'

const list: readonly Upgrade[] = [
  { name: 'machines were boxes', of: 'box', isNow: 'host' },
  { name: 'a place is a site', of: 'host', fields: { place: 'site', colour: null } },
  { name: 'racks went', of: 'rack', isNow: null },
  { name: 'moving is migrating', of: 'guest.move', isNow: 'guest.migrate', fields: { where: 'toHostId' } },
]

describe('an upgrade', () => {
  it('names kinds and fields as they are called now, one after the other', () => {
    expect(upgraded('box', { id: 'h', name: 'gannet', place: 'studio', colour: 'grey' }, list)).toEqual({
      kind: 'host',
      values: { id: 'h', name: 'gannet', site: 'studio' },
    })
    expect(upgraded('rack', { id: 'r' }, list)).toBeUndefined()
    expect(upgraded('guest', { id: 'g', name: 'vault' }, list)).toEqual({ kind: 'guest', values: { id: 'g', name: 'vault' } })
  })

  it('leaves a record of today as it is, the same object', () => {
    const record = { id: 'h', name: 'gannet', site: 'studio' }
    expect(upgraded('host', record, list)?.values).toBe(record)
  })

  it('reaches the commands that a record keeps', () => {
    expect(upgradedCommand({ type: 'box.add', record: { name: 'gannet', place: 'studio' } }, list)).toEqual({
      type: 'host.add',
      record: { name: 'gannet', site: 'studio' },
    })
    expect(upgradedCommand({ type: 'box.update', id: 'h', changes: { colour: 'red', note: 'x' } }, list)).toEqual({
      type: 'host.update',
      id: 'h',
      changes: { note: 'x' },
    })
    expect(upgradedCommand({ type: 'box.remove', id: 'h', withReferring: true }, list)).toEqual({
      type: 'host.remove',
      id: 'h',
      withReferring: true,
    })
    expect(upgradedCommand({ type: 'rack.remove', id: 'r' }, list)).toBeUndefined()
    expect(upgradedCommand({ type: 'guest.move', guestId: 'g', where: 'h' }, list)).toEqual({
      type: 'guest.migrate',
      guestId: 'g',
      toHostId: 'h',
    })
    expect(upgradedCommand('nonsense', list)).toBe('nonsense')
  })

  it('fills in what is newer, and does not pass over a field that nobody knows', () => {
    const pool = { id: 'p', subnetId: 's', first: '10.0.0.1', last: '10.0.0.9' } as unknown as AnyRecord
    expect(upgradedOf('pool', pool)).toEqual({ kind: 'pool', record: { ...pool, note: '' } })
    expect(() => upgradedOf('pool', { ...pool, hue: 4 } as unknown as AnyRecord)).toThrow('No upgrade says what became of “hue” of a pool.')
  })
})
