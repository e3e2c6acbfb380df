import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { storeSpace, takenBytes } from '../capacity/index.js'
import { applyAll, type Command } from '../commands/index.js'
import { CommandError, invert, isPoweredOn, type Difference, type Estate } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/index.js'
import { runs } from '../testing/tier.js'
import { GiB } from '../units/index.js'

const id = (number: number) => `01890000-0000-7000-8000-0000000e${number.toString(16).padStart(4, '0')}`
const [AUK, TARGET, MOVE, OTHER] = [id(1), id(2), id(3), id(4)]
const context = { ...testContext(5), personId: idOf('ola'), openChecks: () => [] }

/** A physical machine that becomes a guest, and a guest that goes from host to host. */
const start: Estate = applyAll(
  smallEstate(),
  [
    { type: 'guest.add', record: { id: AUK, name: 'auk', kind: 'external', state: 'running', vcpu: 2, memoryMiB: 4096 } },
    { type: 'disk.add', record: { id: id(5), guestId: AUK, sizeBytes: 100 * GiB, usedBytes: 40 * GiB } },
    { type: 'adapter.add', record: { id: id(6), guestId: AUK, networkId: idOf('office'), mac: '02:1a:4b:00:01:01' } },
    { type: 'address.assign', adapterId: id(6), ip: '10.61.30.210' },
    { type: 'guest.add', record: { id: TARGET, name: 'scheduler', hostId: idOf('gannet'), vcpu: 2, memoryMiB: 4096 } },
    { type: 'disk.add', record: { id: id(7), guestId: TARGET, storeId: idOf('nvme1'), sizeBytes: 110 * GiB } },
    { type: 'adapter.add', record: { id: id(8), guestId: TARGET, networkId: idOf('office'), mac: '02:1a:4b:00:01:02' } },
    { type: 'address.assign', adapterId: id(8), ip: '10.61.30.211' },
  ],
  context,
).estate

const move = fc.constantFrom(MOVE, OTHER)
const guests = fc.constantFrom(AUK, TARGET, idOf('playout'))
const verbs: fc.Arbitrary<Command> = fc.oneof(
  fc.record({
    type: fc.constant('migration.begin' as const),
    id: move,
    guestId: fc.constant(AUK),
    becomesId: fc.constant(TARGET),
    takesMacs: fc.boolean(),
    takesName: fc.boolean(),
    method: fc.constantFrom('agent conversion' as const, 'image and restore' as const),
  }),
  fc.record({
    type: fc.constant('migration.begin' as const),
    id: move,
    guestId: fc.constant(idOf('playout')),
    toHostId: fc.constantFrom(idOf('fulmar'), idOf('gannet')),
    stores: fc.constantFrom({ [idOf('playoutDisk')]: idOf('nvme2') }, { [idOf('playoutDisk')]: idOf('nvme1') }),
    method: fc.constantFrom('live' as const, 'cold copy' as const),
  }),
  ...(['copy', 'cutOver', 'verify', 'close'] as const).map((verb) =>
    fc.record({ type: fc.constant(`migration.${verb}` as const), migrationId: move }),
  ),
  ...(['rollBack', 'cancel'] as const).map((verb) =>
    fc.record({ type: fc.constant(`migration.${verb}` as const), migrationId: move, reason: fc.constant('otherwise') }),
  ),
  fc.record({ type: fc.constant('guest.power' as const), guestId: guests, state: fc.constantFrom('running' as const, 'stopped' as const) }),
)
/** A verb, or taking back one of the last changes. */
const steps = fc.array(fc.oneof({ weight: 8, arbitrary: verbs }, { weight: 1, arbitrary: fc.nat(3) }), { minLength: 5, maxLength: 40 })

/** The estate after steps, those that are refused left out; each refusal is a sentence. */
function lived(list: readonly (Command | number)[], seen?: (before: Estate, command: Command, after: Estate) => void): Estate {
  let estate = start
  const done: Difference[] = []
  for (const step of list) {
    if (typeof step === 'number') {
      const last = done[done.length - 1 - step]
      if (!last) continue
      const back = invert(last)
      // As a revert: only where nothing later stands on it.
      const isFree = Object.entries(back.updated).every(
        ([key, { kind, from }]) => JSON.stringify(estate.find(kind, key)) === JSON.stringify(from),
      )
      const isThere = Object.entries(back.removed).every(
        ([key, { kind, record }]) => JSON.stringify(estate.find(kind, key)) === JSON.stringify(record),
      )
      if (isFree && isThere && Object.keys(back.added).every((key) => estate.kindOf(key) === undefined)) estate = estate.with(back)
      continue
    }
    try {
      const { estate: after, difference } = applyAll(estate, [step], context)
      seen?.(estate, step, after)
      estate = after
      done.push(difference)
    } catch (error) {
      if (!(error instanceof CommandError)) throw error
      expect(error.message).toMatch(/^[A-Z“a-z].{8,}[.?…]$/s)
    }
  }
  return estate
}

const holders = (estate: Estate, isHeld: (adapterId: string, mac: string | null) => boolean) =>
  new Set(
    estate
      .all('adapter')
      .filter(({ id: adapterId, mac }) => isHeld(adapterId, mac))
      .map(({ guestId }) => guestId),
  )

describe('moves carried out, rolled back, cancelled and reverted in any order', () => {
  it('never leave an address or MAC with two machines, a guest on two hosts, or a refusal that is no sentence', () =>
    fc.assert(
      fc.property(steps, (list) => {
        const estate = lived(list)
        for (const { ip } of estate.all('address'))
          expect(
            holders(estate, (adapterId) => estate.referring('address', 'adapterId', adapterId).some((one) => one.ip === ip)).size,
          ).toBeLessThan(2)
        for (const { mac } of estate.all('adapter')) if (mac) expect(holders(estate, (_, other) => other === mac).size).toBe(1)
        // Both run only as two machines with an address each, and that is found.
        for (const one of estate
          .all('migration')
          .filter(({ state, becomesId }) => becomesId && (state === 'cut over' || state === 'verified'))) {
          const [source, target] = [estate.find('guest', one.guestId), estate.find('guest', one.becomesId)]
          if (source && target && isPoweredOn(source) && isPoweredOn(target)) expect(source.name).not.toBe(target.name)
        }
        for (const guest of estate.all('guest'))
          for (const disk of estate.referring('disk', 'guestId', guest.id)) {
            const store = estate.find('store', disk.storeId)
            if (store?.hostId && guest.hostId) expect(store.hostId).toBe(guest.hostId)
          }
      }),
      { numRuns: runs(120, 1200) },
    ))

  it('count every byte once: on a store is what its disks take, what moves left, and what is held for those under way', () =>
    fc.assert(
      fc.property(steps, (list) => {
        const estate = lived(list)
        for (const store of estate.all('store')) {
          const { usedBytes, heldBytes, freeBytes } = storeSpace(estate, store)
          const disks = estate.referring('disk', 'storeId', store.id).reduce((sum, disk) => sum + takenBytes(disk), 0)
          const left = estate.referring('leftover', 'storeId', store.id).reduce((sum, one) => sum + one.usedBytes, 0)
          expect(usedBytes).toBe(disks + left)
          expect(freeBytes).toBe(store.capacityBytes - usedBytes - heldBytes)
          const copying = estate.all('migration').filter(({ state }) => state === 'begun' || state === 'copying')
          if (copying.length === 0) expect(heldBytes).toBe(0)
        }
        // A leftover stands for a copy that is elsewhere: it never is beside its own disk.
        for (const { storeId, migrationId } of estate.all('leftover')) {
          const guestId = estate.find('migration', migrationId)?.guestId
          if (storeId) expect(estate.referring('disk', 'storeId', storeId).some((disk) => disk.guestId === guestId)).toBe(false)
        }
      }),
      { numRuns: runs(120, 1200) },
    ))

  it('roll back to exactly what the cut-over stored', () =>
    fc.assert(
      fc.property(steps, (list) => {
        const before = new Map<string, Estate>()
        lived(list, (was, command, after) => {
          if (command.type === 'migration.cutOver') before.set(command.migrationId, was)
          if (command.type !== 'migration.rollBack') return
          const then = before.get(command.migrationId)
          const did = was.find('migration', command.migrationId)?.did as unknown as Difference | null
          if (!then || !did) return
          for (const [key, { kind, from, to }] of Object.entries(did.updated)) {
            const [a, b, now] = [from, to, after.find(kind, key)] as unknown as Record<string, unknown>[]
            for (const field of Object.keys(a ?? {}))
              if (JSON.stringify(a?.[field]) !== JSON.stringify(b?.[field]) && field !== 'state')
                expect([kind, field, now?.[field]]).toEqual([kind, field, a?.[field]])
          }
          for (const { kind, record } of Object.values(did.removed)) expect(after.find(kind, record.id)).toEqual(record)
          expect(after.referring('leftover', 'migrationId', command.migrationId)).toEqual([])
        })
      }),
      { numRuns: runs(150, 1500) },
    ))
})
