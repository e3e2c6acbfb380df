import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { kinds, moveMethods, type Estate } from '../estate/index.js'
import { idOf, illSaid, smallEstate, testContext, TODAY } from '../testing/index.js'
import { GiB } from '../units/index.js'
import { adviseMethods, checkMove, moveSheet, moveView, sayLeftovers, wayBack, wholeMove, type Mapping } from './index.js'

const id = (number: number) => `01890000-0000-7000-8000-00000000e${number.toString(16).padStart(3, '0')}`
const [AUK, AUK_DISK, AUK_DATA, AUK_ADAPTER, TARGET, TARGET_DISK, TARGET_DATA, TARGET_ADAPTER, DETAILS, MOVE] = Array.from(
  { length: 10 },
  (_, number) => id(number),
) as [string, string, string, string, string, string, string, string, string, string]
const context = { ...testContext(9), personId: idOf('ola'), openChecks: () => [] }
const run = (estate: Estate, ...commands: readonly Command[]) => applyAll(estate, commands, context).estate

/** A physical machine of which everything is recorded, and the guest it becomes. */
const machine = run(
  smallEstate(),
  { type: 'guest.add', record: { id: AUK, name: 'auk', kind: 'external', state: 'running', vcpu: 4, memoryMiB: 8192, firmware: 'BIOS' } },
  { type: 'disk.add', record: { id: AUK_DISK, guestId: AUK, sizeBytes: 250_059_350_016, usedBytes: 60 * GiB, provisioning: 'thick' } },
  { type: 'disk.add', record: { id: AUK_DATA, guestId: AUK, position: 2, use: 'data', sizeBytes: 100 * GiB, provisioning: 'thick' } },
  { type: 'volume.add', record: { diskId: AUK_DISK, name: '/', sizeBytes: 200 * GiB, usedBytes: 20 * GiB } },
  { type: 'volume.add', record: { diskId: AUK_DATA, name: '/srv', sizeBytes: 60 * GiB, usedBytes: 40 * GiB } },
  { type: 'volume.add', record: { diskId: AUK_DATA, name: '/scratch', sizeBytes: 30 * GiB, usedBytes: 9 * GiB, isTaken: false } },
  {
    type: 'adapter.add',
    record: { id: AUK_ADAPTER, guestId: AUK, networkId: idOf('office'), mac: '02:1a:4b:00:00:77', deviceName: 'eth0' },
  },
  { type: 'address.assign', adapterId: AUK_ADAPTER, ip: '10.61.30.200' },
  { type: 'dependency.add', record: { guestId: idOf('playout'), needsId: AUK } },
  { type: 'hardware.add', record: { id: DETAILS, guestId: AUK } },
  { type: 'guest.add', record: { id: TARGET, name: 'scheduler', hostId: idOf('fulmar'), vcpu: 4, memoryMiB: 8192, firmware: 'UEFI' } },
  { type: 'disk.add', record: { id: TARGET_DISK, guestId: TARGET, storeId: idOf('nvme2'), sizeBytes: 234 * GiB } },
  {
    type: 'disk.add',
    record: { id: TARGET_DATA, guestId: TARGET, position: 2, use: 'data', storeId: idOf('nvme2'), sizeBytes: 120 * GiB },
  },
  { type: 'adapter.add', record: { id: TARGET_ADAPTER, guestId: TARGET, networkId: idOf('office'), mac: '02:1a:4b:00:00:78' } },
)
const detailed = (changes: object, estate = machine): Estate => run(estate, { type: 'hardware.update', id: DETAILS, changes })
const auk = (method: Mapping['method']): Mapping => ({ guestId: AUK, becomesId: TARGET, method })
const viewOf = (estate: Estate, mapping: Mapping) => {
  const view = moveView(estate, mapping, TODAY)
  if (!view) throw new Error('nothing to look at')
  return view
}
const begun = (estate: Estate, mapping: Mapping): Estate => run(estate, { ...mapping, type: 'migration.begin', id: MOVE })
const sheetOf = (estate: Estate) => moveSheet(estate, estate.all('migration').find((move) => move.id === MOVE) as never, TODAY)
const linesOf = (estate: Estate, key: string) => sheetOf(estate).steps.find((step) => step.key === key)?.lines ?? []

/** Each value that a field of a machine's details may have, alone. */
const details: readonly (readonly [string, object])[] = Object.entries(kinds.hardware.fields).flatMap(([name, field]) =>
  'options' in field ? (field.options as readonly string[]).map((value) => [`${name} ${value}`, { [name]: value }] as const) : [],
)

describe('what is said of a move', () => {
  it.each(details)('by any method, of a machine with %s: is said', (_, changes) => {
    const estate = detailed({ ...changes, serial: 'X7', recoveryKeyAt: 'safe', services: 'files', licences: 'a dongle', devices: 'a card' })
    for (const method of moveMethods) {
      const view = viewOf(estate, auk(method))
      const advised = adviseMethods(estate, auk(method), {}, TODAY)
      expect(illSaid([checkMove(view), advised.map(({ reasons, needs, risk }) => ({ reasons, needs, risk }))])).toEqual([])
    }
  })

  it.each(moveMethods)('every step has a title and its lines, another key and a time: %s', (method) => {
    for (const mapping of [
      auk(method),
      { guestId: idOf('playout'), toHostId: idOf('fulmar'), stores: { [idOf('playoutDisk')]: idOf('nvme2') }, method },
    ]) {
      const view = viewOf(machine, mapping)
      if (view.refusal !== undefined || (method === 'live' && mapping.guestId === AUK)) continue
      const { steps } = sheetOf(begun(machine, mapping))
      expect(illSaid(steps.map(({ key, title, lines, caution }) => ({ key, title, lines, caution })))).toEqual([])
      expect(new Set(steps.map(({ key }) => key)).size).toBe(steps.length)
      expect(wholeMove(view).wholeSeconds.p50).toBeGreaterThan(0)
    }
  })

  it('the volumes that go along are named, and those that stay', () =>
    expect(linesOf(begun(machine, auk('agent conversion')), 'install-agent')).toEqual(
      expect.arrayContaining(['Take /, /srv; leave /scratch.']),
    ))

  it('each disk that is larger than its source is extended, in a step of its own', () => {
    const { steps } = sheetOf(begun(machine, auk('image and restore')))
    const extend = steps.filter(({ key }) => key.startsWith('extend'))
    expect(extend.map(({ key, title }) => [key, title])).toEqual([
      ['extend-1', 'Extend the partition'],
      ['extend-2', 'Extend the partition'],
    ])
    expect(extend[1]?.lines).toEqual(['Disk 2 (data): 100 GiB seen of 120 GiB, until its partition and file system are extended.'])
  })

  it('who needs its services is named with them', () =>
    expect(linesOf(begun(machine, auk('agent conversion')), 'services')).toEqual(['As those do who use it.', 'Needed by playout-1.']))

  it('what is configured by an old name of a device is said, with where; so is a system that is not recorded', () => {
    const known = run(
      machine,
      { type: 'system.add', record: { id: id(99), name: 'text-server 12', family: 'linux' } },
      { type: 'guest.update', id: AUK, changes: { systemId: id(99) } },
    )
    const renamed = (estate: Estate) =>
      checkMove(viewOf(estate, auk('cold copy'))).find(({ sentence }) => sentence.includes('by the old name'))
    expect(renamed(known)?.evidence?.[0]).toEqual(['named in', expect.stringMatching(/^\/etc\/network\/interfaces, /)])
    expect(renamed(machine)).toBeUndefined()
    const reasons = (estate: Estate) =>
      adviseMethods(estate, auk('cold copy'), {}, TODAY).find(({ method }) => method === 'rebuild and move the data')?.reasons
    expect([reasons(machine), reasons(known)].map((said) => said?.includes('Its system is not recorded.'))).toEqual([true, false])
  })

  it('a clock in local time is minded where another machine takes over', () => {
    const clock = (estate: Estate, mapping: Mapping) => checkMove(viewOf(estate, mapping)).find(({ title }) => title === 'Clock')?.verdict
    expect([clock(detailed({ clock: 'local time' }), auk('cold copy')), clock(detailed({ clock: 'UTC' }), auk('cold copy'))]).toEqual([
      'warning',
      undefined,
    ])
  })

  it('what is left at the source is named by its place, and by its name of then where that is gone', () => {
    const playout: Mapping = { guestId: idOf('playout'), toHostId: idOf('fulmar'), stores: { [idOf('playoutDisk')]: idOf('nvme2') } }
    const over = run(
      begun(machine, { ...playout, method: 'cold copy' }),
      { type: 'guest.power', guestId: idOf('playout'), state: 'stopped' },
      { type: 'migration.copy', migrationId: MOVE },
      { type: 'migration.cutOver', migrationId: MOVE },
    )
    const said = (estate: Estate) => {
      const move = estate.find('migration', MOVE)
      return move && sayLeftovers(estate, move)
    }
    expect(said(over)).toBe('1 leftover: nvme-1, kept until 2027-02-01')
    expect(said(run(over, { type: 'store.update', id: idOf('nvme1'), changes: { name: 'old' } }))).toMatch(/: old, /)
    expect(said(begun(machine, auk('cold copy')))).toBeUndefined()
    const move = over.find('migration', MOVE)
    expect(move && illSaid(wayBack(over, move))).toEqual([])
  })
})
