import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { aboutOf } from './index.js'

const estate = smallEstate()
const of = (...commands: Command[]) => {
  const { difference, estate: after } = applyAll(estate, commands, testContext())
  return new Set(aboutOf(difference, estate, after))
}
const SHEET = '019a0000-0000-7000-8000-0000000000a1'

describe('what a change is about', () => {
  it.each<[string, Command[], string[], string[]]>([
    ['a guest’s disk', [{ type: 'disk.update', id: idOf('playoutDisk'), changes: { use: 'media' } }], ['playoutDisk', 'playout'], ['news']],
    [
      'an address: its adapter, its guest, its subnet',
      [{ type: 'address.release', addressId: idOf('playoutAddress') }],
      ['playoutAddress', 'playoutAdapter', 'playout', 'studioNet', 'studio'],
      ['office'],
    ],
    ['a disk that is removed was its guest’s', [{ type: 'disk.remove', id: idOf('playoutDisk') }], ['playout'], []],
    [
      'a store of a host, not the other hosts',
      [{ type: 'store.update', id: idOf('nvme1'), changes: { note: 'x' } }],
      ['nvme1', 'gannet'],
      ['fulmar'],
    ],
    [
      'a sheet that is begun',
      [{ type: 'sheet.add', record: { id: SHEET, hostId: idOf('tern'), startedAt: '2027-01-18T08:00:00.000Z' } }],
      ['tern'],
      ['gannet'],
    ],
    [
      'an entry that somebody wrote',
      [{ type: 'entry.add', record: { guestId: idOf('news'), at: '2027-01-18T08:00:00.000Z', text: 'Fan replaced.' } }],
      ['news'],
      ['playout'],
    ],
  ])('%s', (_, commands, names, others) => {
    const about = of(...commands)
    expect(names.filter((name) => !about.has(idOf(name)))).toEqual([])
    expect(others.filter((name) => about.has(idOf(name)))).toEqual([])
  })

  it('a guest that goes elsewhere is about the host it was on and the one it goes to', () => {
    const about = of({ type: 'guest.update', id: idOf('template'), changes: { hostId: idOf('fulmar') } }, ...moveDisks())
    expect([about.has(idOf('gannet')), about.has(idOf('fulmar')), about.has(idOf('tern'))]).toEqual([true, true, false])
  })

  it('a finding that is accepted is about what it is on', () => {
    const finding = `host.licence-ends:${idOf('gannet')}`
    const { difference, estate: after } = applyAll(estate, [{ type: 'finding.accept', finding, reason: 'known', until: '2027-02-01' }], {
      ...testContext(),
      personId: idOf('ola'),
      findingOf: () => ({ sentence: 'It ends.', evidence: 'soon', value: null }),
    })
    const about = new Set(aboutOf(difference, estate, after))
    expect(about.has(idOf('gannet'))).toBe(true)
  })

  it('an entry outlives its machine, by name', () => {
    const written = applyAll(
      estate,
      [{ type: 'entry.add', record: { guestId: idOf('news'), at: '2027-01-18T08:00:00.000Z', text: 'Fan replaced.' } }],
      testContext(),
    ).estate
    const gone = applyAll(written, [{ type: 'guest.remove', id: idOf('news'), withReferring: true }], testContext(20)).estate
    expect(gone.all('entry')).toMatchObject([{ guestId: null, guestName: 'newsroom', text: 'Fan replaced.' }])
  })
})

/** The template's disk goes along: a disk is on a store that its guest's host reaches. */
const moveDisks = (): Command[] =>
  estate.referring('disk', 'guestId', idOf('template')).map(({ id }) => ({ type: 'disk.update', id, changes: { storeId: idOf('nvme2') } }))
