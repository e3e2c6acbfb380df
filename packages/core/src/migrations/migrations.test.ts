import { describe, expect, it } from 'vitest'
import { heldOnHost, memoryBudget, storeBudget } from '../capacity/index.js'
import { apply, applyAll, type Command } from '../commands/index.js'
import { CommandError, kinds, moveMethods, type Estate, type Kind, type Migration, type RecordOf } from '../estate/index.js'
import { minutesOf } from '../durations/index.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/index.js'
import { GiB } from '../units/index.js'
import {
  adviseMethods,
  attemptsBefore,
  checkMove,
  checkStep,
  composeMachine,
  moveSheet,
  moveView,
  openErrors,
  phaseOf,
  proposeTarget,
  readVolumes,
  renamedDevices,
  targetSize,
  wholeMove,
  wayBack,
  type MachineDraft,
} from './index.js'

const MOVE = '01890000-0000-7000-8000-00000000f001'
const AUK = '01890000-0000-7000-8000-00000000f002'
const AUK_DISK = '01890000-0000-7000-8000-00000000f003'
const AUK_ADAPTER = '01890000-0000-7000-8000-00000000f004'
const TARGET = '01890000-0000-7000-8000-00000000f005'
const TARGET_DISK = '01890000-0000-7000-8000-00000000f006'
const TARGET_ADAPTER = '01890000-0000-7000-8000-00000000f007'
const AUK_ADDRESS = '01890000-0000-7000-8000-00000000f008'
const SECOND = '01890000-0000-7000-8000-00000000f009'
const PLAN = '01890000-0000-7000-8000-00000000f00a'
const ITEM = '01890000-0000-7000-8000-00000000f00b'

const context = { ...testContext(9), personId: idOf('ola'), openChecks: openErrors }
const run = (estate: Estate, ...commands: readonly Command[]) => applyAll(estate, commands, context).estate
const get = <K extends Kind>(estate: Estate, kind: K, id: string): RecordOf<K> => {
  const found = estate.find(kind, id)
  if (!found) throw new Error(`no ${kinds[kind].label} ${id}`)
  return found
}
const moveOf = (estate: Estate, id = MOVE): Migration => get(estate, 'migration', id)
const refusal = (estate: Estate, ...commands: readonly Command[]): CommandError => {
  try {
    run(estate, ...commands)
  } catch (error) {
    if (error instanceof CommandError) return error
    throw error
  }
  throw new Error('it was accepted')
}
/** Every check that is an error, accepted. */
const acceptAll = (estate: Estate, id = MOVE): Estate => {
  const sheet = estate.referring('sheet', 'migrationId', id)[0]
  if (!sheet) throw new Error('no sheet')
  return run(
    estate,
    ...openErrors(estate, moveOf(estate, id), TODAY).map(({ step }): Command => ({
      type: 'step.add',
      record: { sheetId: sheet.id, step, state: 'skipped', note: 'It is known.', personId: idOf('ola'), at: context.now },
    })),
  )
}

const toFulmar: Command = {
  type: 'migration.begin',
  id: MOVE,
  guestId: idOf('playout'),
  toHostId: idOf('fulmar'),
  stores: { [idOf('playoutDisk')]: idOf('nvme2') },
  method: 'cold copy',
}
const stop: Command = { type: 'guest.power', guestId: idOf('playout'), state: 'stopped' }
const start: Command = { type: 'guest.power', guestId: idOf('playout'), state: 'running' }

/** A physical machine on the office network, and the guest it becomes. */
const aukAndTarget: readonly Command[] = [
  { type: 'guest.add', record: { id: AUK, name: 'auk', kind: 'external', state: 'running', vcpu: 4, memoryMiB: 8192, firmware: 'BIOS' } },
  { type: 'disk.add', record: { id: AUK_DISK, guestId: AUK, sizeBytes: 250_059_350_016, usedBytes: 60 * GiB, provisioning: 'thick' } },
  {
    type: 'adapter.add',
    record: { id: AUK_ADAPTER, guestId: AUK, networkId: idOf('office'), mac: '02:1a:4b:00:00:77', deviceName: 'eth0' },
  },
  { type: 'address.assign', id: AUK_ADDRESS, adapterId: AUK_ADAPTER, ip: '10.61.30.200' },
  { type: 'guest.add', record: { id: TARGET, name: 'scheduler', hostId: idOf('fulmar'), vcpu: 4, memoryMiB: 8192, firmware: 'BIOS' } },
  { type: 'disk.add', record: { id: TARGET_DISK, guestId: TARGET, storeId: idOf('nvme2'), sizeBytes: 234 * GiB } },
  { type: 'adapter.add', record: { id: TARGET_ADAPTER, guestId: TARGET, networkId: idOf('office'), mac: '02:1a:4b:00:00:78' } },
]
const aukMoves: Command = { type: 'migration.begin', id: MOVE, guestId: AUK, becomesId: TARGET, method: 'agent conversion' }

describe('the life of a move to another host', () => {
  const begun = run(smallEstate(), toFulmar)

  it('holds room at the target, and the record stays where it is', () => {
    expect(get(begun, 'guest', idOf('playout')).hostId).toBe(idOf('gannet'))
    const store = get(begun, 'store', idOf('nvme2'))
    const [before, after] = [storeBudget(smallEstate(), store), storeBudget(begun, store)]
    expect(after.held.value).toBe(80 * GiB)
    expect(before.freeBytes - after.freeBytes).toBe(80 * GiB)
    expect(after.used.value).toBe(before.used.value)
    const fulmar = get(begun, 'host', idOf('fulmar'))
    expect(heldOnHost(begun, fulmar.id)).toMatchObject([{ guestId: idOf('playout'), memoryMiB: 8192, why: 'arrives' }])
    expect(memoryBudget(begun, fulmar).left.value).toBe(
      memoryBudget(smallEstate(), fulmar).left.value - memoryBudget(begun, fulmar).held.value,
    )
  })

  it('does not copy before its checks are settled or accepted, nor while the source runs', () => {
    expect(refusal(begun, { type: 'migration.copy', migrationId: MOVE }).message).toMatch(
      /^Source works: .*Settle it, or accept it with a reason/,
    )
    const settled = acceptAll(begun)
    expect(refusal(settled, { type: 'migration.copy', migrationId: MOVE }).message).toBe(
      'playout-1 is recorded as running; stop it before its disks are copied by cold copy.',
    )
    expect(moveOf(run(settled, stop, { type: 'migration.copy', migrationId: MOVE })).state).toBe('copying')
  })

  it('changes place in one command, keeps what it left, and frees the memory when it is verified', () => {
    const copying = run(acceptAll(begun), stop, { type: 'migration.copy', migrationId: MOVE })
    const over = run(copying, { type: 'migration.cutOver', migrationId: MOVE, movedBytes: 80 * GiB, copySeconds: 800 })
    expect(get(over, 'guest', idOf('playout'))).toMatchObject({ hostId: idOf('fulmar'), state: 'stopped' })
    expect(get(over, 'disk', idOf('playoutDisk')).storeId).toBe(idOf('nvme2'))
    expect(over.all('leftover')).toMatchObject([{ storeId: idOf('nvme1'), usedBytes: 80 * GiB, until: '2027-02-01' }])
    // Held room became used room: nothing is counted twice.
    const store = (id: string) => storeBudget(over, get(over, 'store', idOf(id)))
    expect([store('nvme2').held.value, store('nvme1').used.inputs.map(({ label }) => label)]).toEqual([
      0,
      ['tpl-server system', 'left by playout-1'],
    ])
    expect(heldOnHost(over, idOf('gannet'))).toMatchObject([{ why: 'kept for taking it back' }])
    expect(refusal(over, { type: 'migration.verify', migrationId: MOVE }).message).toMatch(/it is verified once it runs/)
    const verified = run(over, start, { type: 'migration.verify', migrationId: MOVE, wasOffMinutes: 21 })
    expect([heldOnHost(verified, idOf('gannet')), verified.count('leftover')]).toEqual([[], 1])
    const closed = run(verified, { type: 'migration.close', migrationId: MOVE, nextTime: 'Move it live.' })
    expect([moveOf(closed).state, closed.count('leftover')]).toEqual(['closed', 0])
    expect(wayBack(closed, moveOf(closed))).toBeUndefined()
  })

  it('rolls back exactly what its cut-over changed, and leaves what changed later', () => {
    const over = run(
      acceptAll(begun),
      stop,
      { type: 'migration.copy', migrationId: MOVE },
      { type: 'migration.cutOver', migrationId: MOVE },
    )
    const lived = run(over, { type: 'guest.update', id: idOf('playout'), changes: { memoryMiB: 16384 } })
    const back = run(lived, { type: 'migration.rollBack', migrationId: MOVE, reason: 'It does not boot.' })
    expect(get(back, 'guest', idOf('playout'))).toMatchObject({ hostId: idOf('gannet'), memoryMiB: 16384, state: 'stopped' })
    expect(get(back, 'disk', idOf('playoutDisk'))).toEqual(get(begun, 'disk', idOf('playoutDisk')))
    expect([back.count('leftover'), moveOf(back).reason]).toEqual([0, 'It does not boot.'])
  })

  it('is cancelled and tried again by another method: one history', () => {
    const cancelled = run(begun, { type: 'migration.cancel', migrationId: MOVE, reason: 'No window.' })
    expect(storeBudget(cancelled, get(cancelled, 'store', idOf('nvme2'))).held.value).toBe(0)
    const again = run(cancelled, { ...toFulmar, id: SECOND, method: 'live', previousId: MOVE })
    expect(attemptsBefore(again, moveOf(again, SECOND)).map(({ id, state }) => [id, state])).toEqual([[MOVE, 'cancelled']])
  })

  it.each<[string, Command, RegExp]>([
    ['a second move of it', { ...toFulmar, id: SECOND }, /is being moved already: playout-1 to fulmar, begun/],
    ['a cut-over before copying', { type: 'migration.cutOver', migrationId: MOVE }, /is begun; it is cut over when it is copying/],
    ['a check of what was not cut over', { type: 'migration.verify', migrationId: MOVE }, /is verified when it is cut over/],
    ['the way back of what was not cut over', { type: 'migration.rollBack', migrationId: MOVE, reason: 'x' }, /rolled back when/],
    ['another target by hand', { type: 'migration.update', id: MOVE, changes: { toHostId: idOf('tern') } }, /Cancel it or roll it back/],
    ['a state by hand', { type: 'migration.update', id: MOVE, changes: { state: 'closed' } }, /state/i],
  ])('refuses %s in a sentence', (_, command, sentence) => expect(refusal(begun, command).message).toMatch(sentence))

  it('refuses a target that the cut-over would be refused for, before anything is copied', () => {
    expect(refusal(smallEstate(), { ...toFulmar, toHostId: idOf('tern') }).message).toMatch(/does not reach store nvme-2/)
    expect(
      refusal(smallEstate(), { ...toFulmar, also: [{ type: 'guest.update', id: idOf('news'), changes: { vcpu: 2 } }] }).message,
    ).toMatch(/cannot be part of a cut-over/)
    expect(
      refusal(run(smallEstate(), stop, { type: 'guest.update', id: idOf('playout'), changes: { state: 'retired' } }), toFulmar).message,
    ).toMatch(/retired; there is nothing to copy/)
  })

  it('refuses a target that is in use, and one that is not named', () => {
    expect(refusal(smallEstate(), { type: 'migration.begin', guestId: idOf('playout'), becomesId: idOf('news') }).message).toBe(
      'newsroom is running; what takes over is planned or stopped until the cut-over.',
    )
    expect(refusal(smallEstate(), { type: 'migration.begin', guestId: idOf('playout') }).message).toMatch(
      /Name the host that playout-1 goes to/,
    )
  })

  it('keeps to the limit of transfers at once', () => {
    const two = run(smallEstate(), { type: 'policy.update', id: idOf('policy'), changes: { transfersPerHost: 1 } }, toFulmar, {
      type: 'migration.begin',
      id: SECOND,
      guestId: idOf('news'),
      toHostId: idOf('gannet'),
      stores: { [idOf('newsDisk')]: idOf('nvme1') },
    })
    const first = run(
      acceptAll(acceptAll(two), SECOND),
      stop,
      { type: 'guest.power', guestId: idOf('news'), state: 'stopped' },
      { type: 'migration.copy', migrationId: MOVE },
    )
    expect(refusal(first, { type: 'migration.copy', migrationId: SECOND }).message).toMatch(
      /^Transfers at once: 1 transfer already runs from or to (gannet|fulmar); the policies allow 1 at once/,
    )
  })
})

describe('a physical machine that becomes a guest', () => {
  const before = run(smallEstate(), ...aukAndTarget)
  const begun = run(before, aukMoves)
  const ready = run(acceptAll(begun), { type: 'migration.copy', migrationId: MOVE })

  it('runs on while it is copied, and is off before its name and address pass over', () => {
    expect(get(begun, 'guest', TARGET).state).toBe('being copied')
    expect(refusal(ready, { type: 'migration.cutOver', migrationId: MOVE }).message).toMatch(/auk is recorded as running; stop it first/)
    const over = run(ready, { type: 'guest.power', guestId: AUK, state: 'stopped' }, { type: 'migration.cutOver', migrationId: MOVE })
    expect([get(over, 'guest', AUK).name, get(over, 'guest', TARGET)]).toMatchObject(['auk-old', { name: 'auk', state: 'stopped' }])
    expect(get(over, 'address', AUK_ADDRESS).adapterId).toBe(TARGET_ADAPTER)
    expect(get(over, 'disk', TARGET_DISK).usedBytes).toBe(60 * GiB)
    expect(over.all('leftover')).toMatchObject([{ guestId: AUK, storeId: null }])
  })

  it('is rolled back to the record as it was, but for the move', () => {
    const off = run(ready, { type: 'guest.power', guestId: AUK, state: 'stopped' })
    const over = run(off, { type: 'migration.cutOver', migrationId: MOVE })
    const back = run(over, { type: 'migration.rollBack', migrationId: MOVE, reason: 'Its database is damaged.' })
    for (const kind of ['adapter', 'address', 'disk'] as const) expect(back.all(kind)).toEqual(off.all(kind))
    expect([get(back, 'guest', AUK).name, get(back, 'guest', TARGET)]).toMatchObject(['auk', { name: 'scheduler', state: 'planned' }])
  })

  it('is retired when the move is closed', () => {
    const over = run(ready, { type: 'guest.power', guestId: AUK, state: 'stopped' }, { type: 'migration.cutOver', migrationId: MOVE })
    const closed = run(
      over,
      { type: 'guest.power', guestId: TARGET, state: 'running' },
      { type: 'migration.verify', migrationId: MOVE },
      { type: 'migration.close', migrationId: MOVE },
    )
    expect(get(closed, 'guest', AUK).state).toBe('retired')
    expect(refusal(closed, { type: 'migration.rollBack', migrationId: MOVE, reason: 'late' }).message).toMatch(/is closed/)
  })

  it('recorded as done in one command does the same', () => {
    const done = run(
      before,
      { type: 'guest.power', guestId: AUK, state: 'stopped' },
      { type: 'guest.migrate', guestId: AUK, becomesId: TARGET, takesMacs: true },
    )
    expect([get(done, 'guest', TARGET).name, get(done, 'adapter', TARGET_ADAPTER).mac, get(done, 'adapter', AUK_ADAPTER).mac]).toEqual([
      'auk',
      '02:1a:4b:00:00:77',
      null,
    ])
    expect(done.all('migration')).toMatchObject([{ state: 'closed', becomesId: TARGET, toHostId: idOf('fulmar') }])
  })

  it('holds what the target will be filled with', () => {
    expect(storeBudget(begun, get(begun, 'store', idOf('nvme2'))).held.value).toBe(60 * GiB)
  })
})

const adviceOn = (estate: Estate, mapping: Parameters<typeof adviseMethods>[1], downtimeMinutes?: number) =>
  adviseMethods(estate, mapping, { downtimeMinutes }, TODAY)
const viewOf = (estate: Estate, mapping: Parameters<typeof adviseMethods>[1]) => {
  const view = moveView(estate, mapping, TODAY)
  if (!view) throw new Error('nothing to look at')
  return view
}
const answer = (estate: Estate, mapping: Parameters<typeof adviseMethods>[1], id: string) =>
  checkMove(viewOf(estate, mapping)).find((one) => one.id === id)

describe('a raw copy to thin disks', () => {
  const raw: Command = { ...toFulmar, method: 'disk-to-disk over the network' }
  const on = (estate: Estate, id = 'nvme2') => storeBudget(estate, get(estate, 'store', idOf(id)))
  const sized = (used: number) =>
    run(
      smallEstate(),
      { type: 'disk.update', id: idOf('playoutDisk'), changes: { sizeBytes: 80 * GiB, usedBytes: used * GiB } },
      { type: 'store.update', id: idOf('nvme2'), changes: { capacityBytes: 1000 * GiB } },
    )

  it('needs what is provisioned now, and is promised as much: while it is copied and afterwards', () => {
    const before = sized(20)
    const begun = run(before, raw)
    expect(on(begun).held.value).toBe(80 * GiB)
    expect(on(begun).promiseRatio - on(before).promiseRatio).toBeCloseTo(80 / 1000, 9)
    const [view] = [moveView(begun, get(begun, 'migration', MOVE), TODAY)]
    const then = view ? storeBudget(view.after, get(view.after, 'store', idOf('nvme2'))) : on(begun)
    expect(on(begun).freeBytes).toBe(then.freeBytes)
    expect(on(begun).promiseRatio).toBe(then.promiseRatio)
    const copying = run(acceptAll(begun), stop, { type: 'migration.copy', migrationId: MOVE })
    const over = run(copying, { type: 'migration.cutOver', migrationId: MOVE })
    expect(get(over, 'disk', idOf('playoutDisk')).usedBytes).toBe(80 * GiB)
    expect(on(over).freeBytes).toBe(on(begun).freeBytes)
    // Rolled back, the source is what it was.
    expect(get(run(over, { type: 'migration.rollBack', migrationId: MOVE, reason: 'x' }), 'disk', idOf('playoutDisk')).usedBytes).toBe(
      20 * GiB,
    )
  })

  it('by used blocks takes what is used, and promises the size all the same', () => {
    const [before, begun] = [sized(20), run(sized(20), toFulmar)]
    expect(on(begun).held.value).toBe(20 * GiB)
    expect(on(begun).promiseRatio - on(before).promiseRatio).toBeCloseTo(80 / 1000, 9)
    // Promised and promised for moves, less used, held and free: what would be short if all filled.
    const { exposure } = on(begun)
    expect(exposure.inputs.reduce((sum, { value, sign }) => sum + (sign === '−' ? -value : value), 0)).toBe(exposure.value)
  })

  it('onto a store of 50 GiB is an error, where used blocks would fit; the store’s page has the same number', () => {
    const small = run(
      smallEstate(),
      { type: 'store.add', record: { id: SECOND, name: 'small', hostId: idOf('fulmar'), capacityBytes: 50 * GiB } },
      { type: 'disk.update', id: idOf('playoutDisk'), changes: { sizeBytes: 80 * GiB, usedBytes: 20 * GiB } },
    )
    const mapping = { guestId: idOf('playout'), toHostId: idOf('fulmar'), stores: { [idOf('playoutDisk')]: SECOND } }
    expect(answer(small, { ...mapping, method: 'disk-to-disk over the network' }, 'store-room')).toMatchObject({
      verdict: 'error',
      sentence: 'small has 50 GiB free and 80 GiB arrive.',
    })
    expect(answer(small, { ...mapping, method: 'cold copy' }, 'store-room')?.verdict).not.toBe('error')
    const begun = run(small, { ...raw, stores: mapping.stores })
    expect(storeBudget(begun, get(begun, 'store', SECOND)).freeBytes).toBe(-30 * GiB)
    expect(answer(begun, { ...mapping, method: 'disk-to-disk over the network' }, 'store-room')?.verdict).toBe('error')
  })

  it('into a machine of its own fills its disk as far as the source is large', () => {
    const begun = run(smallEstate(), ...aukAndTarget, { ...aukMoves, method: 'disk-to-disk over the network' })
    expect(on(begun).held.value).toBe(250_059_350_016)
  })
})

describe('which way a machine is copied', () => {
  it('between hosts of one platform: live or cold, each with its reason and its time', () => {
    const advice = adviceOn(smallEstate(), {
      guestId: idOf('playout'),
      toHostId: idOf('fulmar'),
      stores: { [idOf('playoutDisk')]: idOf('nvme2') },
    })
    expect(advice[0]?.method).toMatch(/live|cold copy/)
    expect(advice.map(({ method }) => method)).toHaveLength(7)
    expect(advice.find(({ method }) => method === 'live')).toMatchObject({ suits: 'fits', school: 'while it runs' })
    for (const one of advice) expect([one.reasons.length > 0, one.risk.length > 0, one.needs.length > 0]).toEqual([true, true, true])
  })

  it('of a running physical machine: by agent or off and certain; live, cold and export are out, and say why', () => {
    const estate = run(smallEstate(), ...aukAndTarget)
    const advice = adviceOn(estate, { guestId: AUK, becomesId: TARGET })
    const out = advice.filter(({ suits }) => suits === 'out')
    expect(out.map(({ method }) => method)).toEqual(expect.arrayContaining(['live', 'cold copy', 'export and import']))
    expect(out.find(({ method }) => method === 'agent conversion')?.reasons).toEqual([
      'The system of auk is not recorded; an agent runs on few systems.',
    ])
    // 60 GiB used of 232 GiB: a method that copies blocks one by one copies all of it.
    const d2d = advice.find(({ method }) => method === 'disk-to-disk over the network')
    expect([d2d?.time.bytes.value, d2d?.time.limits[0]?.bytesPerSecond]).toEqual([250_059_350_016, 90e6])
  })

  it('says of each how long it is off, against what is allowed', () => {
    const estate = run(smallEstate(), ...aukAndTarget)
    const advice = adviceOn(estate, { guestId: AUK, becomesId: TARGET }, 20)
    expect(advice.find(({ method }) => method === 'disk-to-disk over the network')?.reasons.at(-1)).toMatch(/20 min are allowed/)
  })

  it('what own moves taught comes with it, the latest first, three at the most', () => {
    const closed = (day: number): Command => ({
      type: 'migration.add',
      record: {
        guestId: idOf('news'),
        fromHostId: idOf('fulmar'),
        toHostId: idOf('gannet'),
        method: 'cold copy',
        state: 'closed',
        endedAt: `2027-01-0${day}T10:00:00Z`,
        nextTime: `lesson of day ${day}`,
      },
    })
    const advice = adviceOn(run(smallEstate(), ...[2, 4, 1, 3].map(closed)), { guestId: idOf('playout'), toHostId: idOf('fulmar') })
    expect(advice.find(({ method }) => method === 'cold copy')?.lessons.map((lesson) => lesson.slice(-5))).toEqual([
      'day 4',
      'day 3',
      'day 2',
    ])
  })

  it('a guest that writes faster than the link carries is not moved live', () => {
    const wanted = { guestId: idOf('playout'), toHostId: idOf('fulmar'), stores: { [idOf('playoutDisk')]: idOf('nvme2') } }
    const advice = adviseMethods(smallEstate(), wanted, { dirtyPerSecond: 1e9 }, TODAY)
    expect(advice.find(({ method }) => method === 'live')).toMatchObject({
      suits: 'out',
      reasons: [expect.stringMatching(/never ends.*faster link/)],
    })
  })
})

describe('what is checked before a move', () => {
  const fulmar = {
    guestId: idOf('playout'),
    toHostId: idOf('fulmar'),
    stores: { [idOf('playoutDisk')]: idOf('nvme2') },
    method: 'cold copy' as const,
  }
  const auk = { guestId: AUK, becomesId: TARGET, method: 'disk-to-disk over the network' as const }
  const withAuk = (...commands: readonly Command[]) => run(smallEstate(), ...aukAndTarget, ...commands)

  it.each<[string, Estate, Parameters<typeof adviseMethods>[1], string, RegExp]>([
    ['the source, by hand', smallEstate(), fulmar, 'error', /boots, and somebody logged in/],
    ['a backup that nobody dated', smallEstate(), fulmar, 'error', /backed up to vault-store; when it last ran is not recorded/],
    [
      'snapshots',
      run(smallEstate(), { type: 'snapshot.add', record: { guestId: idOf('playout'), name: 'before', takenAt: context.now } }),
      fulmar,
      'error',
      /1 snapshot \(before\)/,
    ],
    // 33 GiB against 34 GB: a hair too small, both in bytes.
    [
      'a target disk that is a hair too small',
      withAuk(
        { type: 'disk.update', id: AUK_DISK, changes: { sizeBytes: 33 * GiB, usedBytes: GiB } },
        { type: 'disk.update', id: TARGET_DISK, changes: { sizeBytes: 34e9 } },
      ),
      auk,
      'error',
      /34000000000 bytes.*35433480192 bytes/,
    ],
    [
      'firmware',
      withAuk({ type: 'guest.update', id: TARGET, changes: { firmware: 'UEFI' } }),
      auk,
      'error',
      /boots by BIOS, scheduler by UEFI/,
    ],
    [
      'device names',
      withAuk(
        { type: 'system.add', record: { id: idOf('system'), name: 'Linux' } },
        { type: 'guest.update', id: AUK, changes: { systemId: idOf('system') } },
      ),
      auk,
      'warning',
      /eth0 becomes enp1s0/,
    ],
    [
      'an adapter without a counterpart',
      withAuk({ type: 'adapter.remove', id: TARGET_ADAPTER }),
      auk,
      'error',
      /Adapter 1 of auk has no counterpart on scheduler/,
    ],
    [
      'what is tied to hardware',
      withAuk({ type: 'hardware.add', record: { guestId: AUK, licences: 'dongle of the scheduler', devices: 'serial card' } }),
      auk,
      'error',
      /dongle of the scheduler; devices: serial card/,
    ],
    [
      'encrypted disks without a key at hand',
      withAuk({ type: 'hardware.add', record: { guestId: AUK, encryption: 'encrypted' } }),
      auk,
      'error',
      /recovery key.*not recorded/,
    ],
    [
      'a database that is copied while it runs',
      withAuk({ type: 'hardware.add', record: { guestId: AUK, data: 'database' } }),
      { ...auk, method: 'agent conversion' },
      'error',
      /stopped, or dumped/,
    ],
    [
      'a disk controller of another mode',
      withAuk(
        { type: 'hardware.add', record: { guestId: AUK, controller: 'IDE' } },
        { type: 'hardware.add', record: { guestId: TARGET, controller: 'AHCI' } },
      ),
      auk,
      'error',
      /set to IDE.*to AHCI/,
    ],
    [
      'MBR beyond 2 TiB',
      withAuk(
        { type: 'hardware.add', record: { guestId: AUK, partitionTable: 'MBR' } },
        { type: 'disk.update', id: TARGET_DISK, changes: { sizeBytes: 3 * 2 ** 40 } },
        { type: 'store.update', id: idOf('nvme2'), changes: { capacityBytes: 2 ** 43 } },
      ),
      auk,
      'warning',
      /MBR, which reaches 2 TiB/,
    ],
    [
      'sectors',
      withAuk(
        { type: 'hardware.add', record: { guestId: AUK, sectorSize: '512 bytes' } },
        { type: 'hardware.add', record: { guestId: TARGET, sectorSize: '4096 bytes' } },
      ),
      auk,
      'error',
      /512 bytes.*4096 bytes/,
    ],
    [
      'an image without a drive or share',
      run(smallEstate(), { type: 'store.remove', id: idOf('vaultStore'), withReferring: true }),
      { ...fulmar, method: 'image and restore' },
      'warning',
      /no removable drive and no share is recorded/,
    ],
    [
      'its pair',
      run(smallEstate(), { type: 'guest.update', id: idOf('playout'), changes: { apartFromId: idOf('news') } }),
      fulmar,
      'warning',
      /newsroom is to be kept apart/,
    ],
    [
      'who needs it',
      run(smallEstate(), { type: 'dependency.add', record: { guestId: idOf('news'), needsId: idOf('playout') } }),
      fulmar,
      'warning',
      /newsroom needs playout-1/,
    ],
    [
      'the backup server on what it protects',
      run(
        smallEstate(),
        { type: 'store.update', id: idOf('vaultStore'), changes: { servedById: idOf('playout') } },
        { type: 'guest.update', id: idOf('news'), changes: { backupStoreId: idOf('vaultStore') } },
      ),
      fulmar,
      'error',
      /keeps the backups of 1 guest of fulmar/,
    ],
    [
      'memory that is not there',
      run(smallEstate(), { type: 'host.update', id: idOf('fulmar'), changes: { memoryMiB: 9000 } }),
      fulmar,
      'error',
      /short of/,
    ],
    [
      'a store without room',
      run(smallEstate(), { type: 'store.update', id: idOf('nvme2'), changes: { capacityBytes: 40 * GiB } }),
      fulmar,
      'error',
      /free and|over-full/,
    ],
    [
      'a clock in local time',
      withAuk({ type: 'hardware.add', record: { guestId: AUK, clock: 'local time' } }),
      auk,
      'warning',
      /local time/,
    ],
  ])('%s', (_, estate, mapping, verdict, sentence) => {
    const found = checkMove(viewOf(estate, mapping)).filter((one) => sentence.test(one.sentence))
    expect(found.map((one) => one.verdict)).toEqual([verdict])
    expect(found[0]?.remedy ?? '').not.toBe('')
  })

  it('a shrinking disk is refused block by block, and a warning file by file where what it holds fits', () => {
    const small = withAuk({ type: 'disk.update', id: TARGET_DISK, changes: { sizeBytes: 100 * GiB } })
    expect(answer(small, auk, 'disk-sizes')?.verdict).toBe('error')
    expect(answer(small, { ...auk, method: 'agent conversion' }, 'disk-sizes')).toMatchObject({
      verdict: 'warning',
      sentence: expect.stringMatching(/so its files fit/) as string,
    })
  })

  it('an image goes onto the drive in the hand, or onto a share', () => {
    const byImage = { ...fulmar, method: 'image and restore' } as const
    const drive = (capacityBytes: number) =>
      run(smallEstate(), { type: 'store.add', record: { name: 'usb-1', kind: 'removable', capacityBytes } })
    const says = (estate: Estate) => answer(estate, byImage, 'medium-room')
    expect(says(smallEstate())).toMatchObject({ verdict: 'fine', sentence: expect.stringMatching(/^vault-store has/) as string })
    expect(says(drive(1000 * GiB))).toMatchObject({ verdict: 'fine', sentence: expect.stringMatching(/^usb-1 has/) as string })
    expect(says(drive(GiB))).toMatchObject({ verdict: 'fine', sentence: expect.stringMatching(/^vault-store has/) as string })
  })

  it('of drives in the hand the one with most room is taken', () => {
    const two = run(
      smallEstate(),
      { type: 'store.add', record: { name: 'usb-1', kind: 'removable', capacityBytes: 500 * GiB } },
      { type: 'store.add', record: { name: 'usb-2', kind: 'removable', capacityBytes: 900 * GiB } },
    )
    expect(answer(two, { ...fulmar, method: 'image and restore' }, 'medium-room')?.sentence).toMatch(/^usb-2 has/)
  })

  // MBR counts sectors of 512 bytes with 32 bits: 2 TiB. UEFI specification, 5.2.1.
  it.each([
    [2 ** 41, 'MBR', undefined],
    [2 ** 41 + 512, 'MBR', 'warning'],
    [2 ** 41 + 512, 'GPT', undefined],
  ] as const)('a disk of %d bytes under %s: %s', (sizeBytes, partitionTable, verdict) => {
    const estate = withAuk(
      { type: 'hardware.add', record: { guestId: AUK, partitionTable } },
      { type: 'disk.update', id: TARGET_DISK, changes: { sizeBytes } },
    )
    const said = answer(estate, auk, 'partition-table')
    expect(said?.verdict === 'fine' ? undefined : said?.verdict).toBe(verdict)
  })

  it('whether the source of a live move runs is asked before the copy begins, and no more', () => {
    const begun = run(smallEstate(), { ...toFulmar, method: 'live' })
    const copying = run(acceptAll(begun), { type: 'migration.copy', migrationId: MOVE })
    const said = (estate: Estate) => {
      const view = moveView(estate, moveOf(estate), TODAY)
      return view && checkMove(view).find(({ id }) => id === 'power')?.verdict
    }
    expect([said(begun), said(run(begun, stop)), said(copying)]).toEqual(['fine', 'error', undefined])
  })

  it('the driver of the network adapter is asked about where the machine or the model changes', () => {
    expect(answer(smallEstate(), fulmar, 'network-driver')).toBeUndefined()
    expect(answer(withAuk(), auk, 'network-driver')).toBeDefined()
  })

  it('a backup counts by the day in the note', () => {
    const begun = run(smallEstate(), toFulmar)
    const sheet = begun.all('sheet').find(({ migrationId }) => migrationId === MOVE)
    const tick = (note: string) =>
      run(begun, {
        type: 'step.add',
        record: { sheetId: sheet?.id ?? '', step: checkStep('backup'), state: 'done', note, personId: idOf('ola'), at: context.now },
      })
    const said = (estate: Estate) => {
      const view = moveView(estate, moveOf(estate), TODAY)
      return view && checkMove(view).find(({ id }) => id === 'backup')
    }
    expect(said(tick('2027-01-17'))).toMatchObject({ verdict: 'fine' })
    expect(said(tick('2027-01-02'))).toMatchObject({ verdict: 'error', sentence: expect.stringMatching(/16 days old/) as string })
  })

  it('who was reached is reached still, or is named', () => {
    const lab = run(
      smallEstate(),
      { type: 'network.add', record: { id: SECOND, name: 'lab' } },
      { type: 'attachment.add', record: { hostId: idOf('fulmar'), networkId: SECOND } },
    )
    expect(answer(smallEstate(), fulmar, 'reach')?.verdict).toBe('fine')
    expect(answer(lab, { ...fulmar, networks: { [idOf('playoutAdapter')]: SECOND } }, 'reach')?.sentence).toMatch(/out of reach/)
  })

  it('every check says something of some move, and each title is another', () => {
    expect(new Set(checkMove(viewOf(withAuk(), auk)).map(({ title }) => title)).size).toBe(checkMove(viewOf(withAuk(), auk)).length)
  })
})

describe('the sheet of a move', () => {
  it('has what its method asks for, and nothing else', () => {
    const keys = (estate: Estate) => moveSheet(estate, moveOf(estate), TODAY).steps.map(({ key }) => key)
    const live = keys(run(smallEstate(), { ...toFulmar, method: 'live' }))
    expect(live).toEqual(['note-down', 'copy', 'login', 'services'])
    const cold = keys(run(smallEstate(), toFulmar))
    expect(cold).toEqual(expect.arrayContaining(['announce', 'power-off', 'copy', 'first-boot', 'gateway', 'new-backup']))
    expect(cold).not.toContain('drivers')
    const image = run(smallEstate(), ...aukAndTarget, { ...aukMoves, method: 'image and restore' })
    const sheet = moveSheet(image, moveOf(image), TODAY)
    expect(sheet.steps.map(({ key }) => key)).toEqual(
      expect.arrayContaining(['drivers', 'media', 'image', 'restore', 'boot-fixes', 'extend', 'media-out']),
    )
    expect(sheet.steps.find(({ key }) => key === 'restore')?.caution).toMatch(/wipes the disk/)
    // 60 of 232 GiB: a larger disk is not used until its partition is extended.
    expect(sheet.steps.find(({ key }) => key === 'extend')?.lines.join()).toMatch(/232\.\d GiB seen of 234 GiB/)
    expect(new Set(sheet.steps.map(({ key }) => phaseOf(key)))).toEqual(new Set(['before', 'copying', 'after the cut-over', 'at the end']))
  })

  it('says what goes with each way back', () => {
    const begun = run(smallEstate(), toFulmar)
    expect(wayBack(begun, moveOf(begun))).toMatchObject({ verb: 'migration.cancel', isLost: expect.stringMatching(/^Nothing/) as string })
    const over = run(
      acceptAll(begun),
      stop,
      { type: 'migration.copy', migrationId: MOVE },
      { type: 'migration.cutOver', migrationId: MOVE },
    )
    expect(wayBack(over, moveOf(over))?.byHand.join(' ')).toMatch(/Start playout-1 on gannet/)
  })
})

describe('how long a move takes in all', () => {
  /** A disk of 8 TB, all of it used. */
  const large = run(
    smallEstate(),
    { type: 'disk.update', id: idOf('playoutDisk'), changes: { sizeBytes: 8e12, usedBytes: 8e12 } },
    { type: 'store.update', id: idOf('nvme2'), changes: { capacityBytes: 20e12 } },
  )
  const mapping = (method: Migration['method']) => ({
    guestId: idOf('playout'),
    toHostId: idOf('fulmar'),
    stores: { [idOf('playoutDisk')]: idOf('nvme2') },
    method,
  })

  it.each(moveMethods)('is the sum of the minutes of its sheet, copying by its size: %s', (method) => {
    const { time, aroundSeconds, wholeSeconds } = wholeMove(viewOf(large, mapping(method)))
    const sheet = moveSheet(
      run(large, { ...mapping(method), type: 'migration.begin', id: MOVE }),
      moveOf(run(large, { ...mapping(method), type: 'migration.begin', id: MOVE })),
      TODAY,
    )
    expect(sheet.leftMinutes * 60).toBeCloseTo(wholeSeconds.p50, 3)
    expect(wholeSeconds.p50 - aroundSeconds).toBeCloseTo(time.copySeconds.p50, 3)
    const copying = sheet.steps.filter(({ estimate }) => estimate.from === 'the estimate of the copy')
    expect(copying.length).toBeGreaterThan(0)
    expect(copying.reduce((sum, { estimate }) => sum + estimate.minutes * 60, 0)).toBeCloseTo(time.copySeconds.p50, 3)
  })

  it('follows what was estimated when it was begun, and what is left of it as it goes; an item of a plan says the same', () => {
    const begin = { ...mapping('cold copy'), type: 'migration.begin', id: MOVE, estimateSeconds: 45 * 3600 } as Command
    const begun = run(large, begin)
    const copy = (left?: number) => moveSheet(begun, moveOf(begun), TODAY, left).steps.find(({ key }) => key === 'copy')?.estimate
    expect(copy()).toEqual({ minutes: 45 * 60, from: 'the estimate of the copy, when it was begun' })
    expect(copy(7200)).toEqual({ minutes: 120, from: 'as it goes now' })
    // 8 TB over 1 Gbit/s: 8e12 / 118.66e6 s are 18 h 44 min, and no step says half an hour.
    const whole = wholeMove(viewOf(large, mapping('cold copy')))
    expect(whole.time.copySeconds.p50).toBeCloseTo(8e12 / 118.66e6, -2)
    const planned = run(large, { type: 'plan.add', record: { id: PLAN, name: 'P' } }, {
      type: 'item.write',
      id: ITEM,
      planId: PLAN,
      kind: 'move',
      title: 'Move it',
      commands: [{ ...mapping('cold copy'), type: 'guest.migrate' }],
    } as unknown as Command)
    expect(minutesOf(planned, get(planned, 'item', ITEM)).value).toBe(Math.round(whole.wholeSeconds.p50 / 60))
  })

  it('of one whose disks stay where they are copies nothing', () => {
    const shared = run(smallEstate(), {
      type: 'store.update',
      id: idOf('nvme1'),
      changes: { hostId: null, kind: 'shared', site: 'studio' },
    } as unknown as Command)
    const { time, wholeSeconds } = wholeMove(viewOf(shared, { guestId: idOf('playout'), toHostId: idOf('fulmar'), method: 'cold copy' }))
    expect([time.bytes.value, time.copySeconds.p50]).toEqual([0, 0])
    expect(wholeSeconds.p50).toBeGreaterThan(0)
  })
})

describe('names of devices', () => {
  it('change with bus, model and board, for systems that name them by slot', () => {
    const adapter = { ...get(smallEstate(), 'adapter', idOf('playoutAdapter')), deviceName: 'ens18' }
    const disk = get(smallEstate(), 'disk', idOf('playoutDisk'))
    const of = (family: string) =>
      renamedDevices({
        adapters: [{ adapter, model: 'emulated', targetName: null }],
        disks: [{ disk, bus: 'SATA' }],
        isOtherBoard: true,
        family,
        from: undefined,
        to: smallEstate().all('platform')[0],
        fromType: 'PCIe',
        toType: 'PCIe',
      })
    // Linux kernel, admin-guide/devices.txt: vda is the first paravirtual disk, sda the first of SCSI and SATA.
    expect(of('linux').map(({ was, becomes }) => [was, becomes])).toEqual([
      ['ens18', 'enp6s0'],
      ['vda', 'sda'],
    ])
    expect(of('winnt')).toEqual([])
  })
})

describe('a move of an item of a plan', () => {
  const planned = run(smallEstate(), { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } }, {
    type: 'item.write',
    id: ITEM,
    planId: PLAN,
    kind: 'move',
    title: 'Move playout-1',
    commands: [
      { type: 'guest.migrate', guestId: idOf('playout'), toHostId: idOf('fulmar'), stores: { [idOf('playoutDisk')]: idOf('nvme2') } },
    ],
  } as unknown as Command)

  it('is begun from it, and the item is done when it is verified', () => {
    const begun = run(planned, { type: 'migration.begin', id: MOVE, itemId: ITEM })
    expect([get(begun, 'item', ITEM).state, moveOf(begun).itemId]).toEqual(['under way', ITEM])
    const over = run(
      acceptAll(begun),
      stop,
      { type: 'migration.copy', migrationId: MOVE },
      { type: 'migration.cutOver', migrationId: MOVE },
      start,
    )
    expect(get(over, 'item', ITEM).state).toBe('under way')
    expect(get(run(over, { type: 'migration.verify', migrationId: MOVE }), 'item', ITEM).state).toBe('done')
  })

  it('that is cancelled fails its item, which can be begun again', () => {
    const begun = run(planned, { type: 'migration.begin', id: MOVE, itemId: ITEM })
    const cancelled = run(begun, { type: 'migration.cancel', migrationId: MOVE, reason: 'No window.' })
    expect(get(cancelled, 'item', ITEM)).toMatchObject({ state: 'failed', reason: 'No window.' })
    const reopened = run(cancelled, { type: 'item.reopen', itemId: ITEM })
    expect(moveOf(run(reopened, { type: 'migration.begin', id: SECOND, itemId: ITEM, previousId: MOVE }), SECOND).state).toBe('begun')
  })
})

describe('a single command', () => {
  it('is refused where a guest named in a move is not there', () => {
    expect(() => apply(smallEstate(), { ...toFulmar, guestId: SECOND }, context)).toThrow(/There is no guest with the id/)
  })
})

describe('a physical machine, recorded', () => {
  // Output of `df -T` of coreutils, with 1K blocks and for people; a machine invented for it.
  const df = [
    'Filesystem     Type     1K-blocks     Used Available Use% Mounted on',
    'udev           devtmpfs   4045036        0   4045036   0% /dev',
    '/dev/sda2      ext4      83886080 19922944  59637760  26% /',
    '/dev/sdb1      ntfs     125829120 44040192  81788928  36% /mnt/old data',
  ].join('\n')

  it('has its volumes as df prints them, or typed a line each', () => {
    expect(readVolumes(df)).toEqual({
      volumes: [
        { disk: 1, name: '/', fileSystem: 'ext4', sizeBytes: 80 * GiB, usedBytes: 19 * GiB, isTaken: true },
        { disk: 2, name: '/mnt/old data', fileSystem: 'ntfs', sizeBytes: 120 * GiB, usedBytes: 42 * GiB, isTaken: true },
      ],
      problems: [],
    })
    expect(readVolumes('Filesystem  Size  Used Avail Use% Mounted on\n/dev/nvme1n1p2  80G  19G  58G  25% /').volumes).toMatchObject([
      { disk: 2, sizeBytes: 80 * GiB },
    ])
    expect(readVolumes('1 C: NTFS 100G 40G\n\n1 D: NTFS 130G 21G leave').volumes).toMatchObject([
      { name: 'C:', usedBytes: 40 * GiB, isTaken: true },
      { name: 'D:', usedBytes: 21 * GiB, isTaken: false },
    ])
    expect(readVolumes('C: is large').problems).toMatchObject([
      { line: 1, sentence: expect.stringMatching(/cannot be read. Write a line a volume/) as string },
    ])
  })

  const draft: MachineDraft = {
    guest: { name: 'auk', vcpu: 4, memoryMiB: 8192, firmware: 'BIOS' },
    hardware: { serial: 'SC-0031', controller: 'IDE' },
    drives: [{ name: 'sda', bytes: 250_059_350_016, kind: 'hard disk' }],
    ports: [{ name: 'eth0', mac: '02:1a:4b:00:00:77' }],
    addresses: [{ port: 'eth0', ip: '10.61.30.200', length: 24 }],
    volumes: readVolumes('1 / ext4 80G 19G\n1 /srv ext4 120G 42G').volumes,
  }
  const made = (estate: Estate) => run(estate, ...composeMachine(estate, draft, context))
  const aukIn = (estate: Estate) => estate.byKey('guest', { name: 'auk' })[0] as RecordOf<'guest'>

  it('comes with its details, disks, volumes, adapters and addresses', () => {
    const estate = made(smallEstate())
    const auk = aukIn(estate)
    expect(auk).toMatchObject({ kind: 'external', state: 'running', hostId: null })
    expect(estate.referring('hardware', 'guestId', auk.id)).toMatchObject([{ serial: 'SC-0031', controller: 'IDE', clock: 'unknown' }])
    expect(estate.referring('disk', 'guestId', auk.id)).toMatchObject([{ usedBytes: 61 * GiB, storeId: null }])
    expect(estate.referring('adapter', 'guestId', auk.id)).toMatchObject([{ deviceName: 'eth0', networkId: idOf('office') }])
    expect(estate.all('address').some(({ ip }) => ip === '10.61.30.200')).toBe(true)
    expect(estate.count('volume')).toBe(2)
  })

  it('becomes a guest that is proposed: larger by 1 GiB, on the bus its system knows, without an address until the cut-over', () => {
    const estate = made(smallEstate())
    const auk = aukIn(estate)
    const { guestId, fit, commands } = proposeTarget(estate, auk, get(estate, 'host', idOf('fulmar')), {}, context)
    expect(fit.verdict).not.toBe('no')
    const begun = run(estate, ...commands, {
      type: 'migration.begin',
      id: MOVE,
      guestId: auk.id,
      becomesId: guestId,
      method: 'image and restore',
    })
    expect(get(begun, 'guest', guestId)).toMatchObject({ name: 'auk-new', state: 'being copied', firmware: 'BIOS' })
    expect(begun.referring('disk', 'guestId', guestId)).toMatchObject([{ sizeBytes: 234 * GiB, bus: 'SATA', storeId: idOf('nvme2') }])
    expect(begun.referring('adapter', 'guestId', guestId)).toMatchObject([{ networkId: idOf('office'), model: 'emulated' }])
    // 33 -> 34: one more, whatever is used.
    expect(targetSize(33 * GiB)).toBe(34 * GiB)
  })

  it('goes into an item of a plan with the guest it becomes, and is begun from there', () => {
    const [PLAN, ITEM] = ['01890000-0000-7000-8000-00000000f00c', '01890000-0000-7000-8000-00000000f00d']
    const estate = made(smallEstate())
    const auk = aukIn(estate)
    const { guestId, commands } = proposeTarget(estate, auk, get(estate, 'host', idOf('fulmar')), {}, context)
    const planned = run(
      estate,
      { type: 'guest.power', guestId: auk.id, state: 'stopped' },
      { type: 'plan.add', record: { id: PLAN, name: 'Monday' } },
      {
        type: 'item.write',
        id: ITEM,
        planId: PLAN,
        kind: 'move',
        title: 'Take over auk',
        commands: [...commands, { type: 'guest.migrate', guestId: auk.id, becomesId: guestId, method: 'image and restore' }],
      } as unknown as Command,
    )
    const begun = run(planned, { type: 'migration.begin', id: MOVE, itemId: ITEM })
    expect([moveOf(begun).becomesId, get(begun, 'guest', guestId).state]).toEqual([guestId, 'being copied'])
  })
})
