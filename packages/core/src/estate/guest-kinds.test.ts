import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { applyAll, type Command } from '../commands/index.js'
import { guestStates, differenceInCurrentForm, isInService, isPoweredOn, recordPhrase, statesAfter, type Difference } from './index.js'

const id = idOf('playout')
const with_ = (...commands: Command[]) => applyAll(smallEstate(), commands, testContext()).estate
const update = (changes: object): Command => ({ type: 'guest.update', id, changes })

describe('what must hold of a guest', () => {
  it.each([
    [{ sockets: 3 }, '4 vCPU cannot be split evenly over 3 sockets'],
    [{ memoryMinMiB: 16_384 }, 'is more than its memory'],
    [{ firmware: 'BIOS', secureBoot: true }, 'Secure boot needs UEFI'],
    [{ apartFromId: id }, 'kept apart from itself'],
    [{ state: 'being installed', hostId: null }, 'it can only be stopped'],
    [{ systemId: idOf('array') }, 'there is no system'],
  ])('%o is refused', (changes, words) => expect(() => with_(update(changes))).toThrow(words))

  it('sockets that divide, memory that may shrink, UEFI with secure boot are taken', () =>
    expect(with_(update({ sockets: 2, memoryMinMiB: 2048, secureBoot: true, trustedModule: true })).find('guest', id)).toMatchObject({
      sockets: 2,
    }))

  it('a copy has no verification, no medium and no pair of its original', () => {
    const copy = idOf('array')
    const estate = with_(
      { type: 'image.add', record: { id: idOf('image'), name: 'a.iso', sizeBytes: 1 } },
      update({ mediumId: idOf('image'), bootFirst: 'medium', apartFromId: idOf('news') }),
      { type: 'guest.clone', guestId: id, id: copy, name: 'copy' },
    )
    expect(estate.find('guest', copy)).toMatchObject({
      verifiedAt: null,
      mediumId: null,
      bootFirst: 'disk',
      apartFromId: null,
      state: 'stopped',
    })
  })
})

describe('a guest’s life', () => {
  it('every state leads on, nothing that ran is planned again', () => {
    for (const state of guestStates) expect(statesAfter(state).length).toBeGreaterThan(0)
    for (const state of ['running', 'stopped', 'retired'] as const) expect(statesAfter(state)).not.toContain('planned')
  })
  it('installing takes processors and is not yet in service', () => {
    expect(guestStates.filter((state) => isPoweredOn({ state }))).toEqual(['being installed', 'running'])
    expect(guestStates.filter((state) => isInService({ state }))).toEqual(['running', 'stopped'])
  })
})

describe('snapshots and dependencies', () => {
  const snapshot = (key: string, name: string, parentId: string | null, guestId = id): Command => ({
    type: 'snapshot.add',
    record: { id: idOf(key), guestId, name, takenAt: '2027-01-18T00:00:00Z', parentId },
  })
  it('a snapshot stands on one of the same guest, and not on itself', () => {
    expect(() => with_(snapshot('port', 'a', null), snapshot('switch', 'b', idOf('port'), idOf('news')))).toThrow('of another guest')
    expect(() =>
      with_(snapshot('port', 'a', null), snapshot('switch', 'b', idOf('port')), {
        type: 'snapshot.update',
        id: idOf('port'),
        changes: { parentId: idOf('switch') },
      }),
    ).toThrow('depend on itself')
  })
  it('goes with its guest; a guest waits for no other that is itself', () => {
    const estate = with_(snapshot('port', 'a', null), { type: 'guest.remove', id, withReferring: true })
    expect(estate.count('snapshot')).toBe(0)
    expect(() => with_({ type: 'dependency.add', record: { guestId: id, needsId: id } })).toThrow('cannot wait for itself')
  })
  it('are called by what they are of', () => {
    const estate = with_(snapshot('port', 'before', null), {
      type: 'dependency.add',
      record: { id: idOf('switch'), guestId: id, needsId: idOf('news') },
    })
    const [first, second] = [estate.find('snapshot', idOf('port')), estate.find('dependency', idOf('switch'))]
    if (!first || !second) throw new Error('nothing there')
    expect([recordPhrase(estate, 'snapshot', first), recordPhrase(estate, 'dependency', second)]).toEqual([
      'snapshot before of playout-1',
      'playout-1 needs newsroom',
    ])
  })
})

describe('keys with an empty part', () => {
  const deviation = (of: object): Command => ({
    type: 'deviation.add',
    record: { about: 'memory', planned: '1', found: '2', source: 'paste', seenAt: '2027-01-18T08:00:00Z', ...of },
  })
  it('the same thing may differ on two guests, not twice on one', () => {
    expect(
      with_(deviation({ guestId: id }), deviation({ guestId: idOf('news') }), deviation({ hostId: idOf('gannet') })).count('deviation'),
    ).toBe(3)
    expect(() => with_(deviation({ guestId: id }), deviation({ guestId: id }))).toThrow('is already used by')
    expect(() => with_(deviation({}))).toThrow('to a host or to a guest')
  })
})

it('a difference that was logged with a field that is gone comes back without it, and with those that are new', () => {
  const guest = smallEstate().find('guest', id)
  if (!guest) throw new Error('no guest')
  const { sockets: _s, machineType: _m, ...older } = guest
  const logged = {
    added: { [id]: { kind: 'guest', record: { ...older, system: 'Text-only server' } } },
    updated: {},
    removed: {},
  } as unknown as Difference
  expect(differenceInCurrentForm(logged).added[id]?.record).toEqual(guest)
})
