import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { dayAfter, Estate } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/index.js'
import { Findings, fixOf } from './index.js'

const MOVE = '01890000-0000-7000-8000-00000000f101'
const context = { ...testContext(11), personId: idOf('ola'), openChecks: () => [] }
const run = (estate: Estate, ...commands: readonly Command[]) => applyAll(estate, commands, context).estate
const sayOn = (estate: Estate, day: string) =>
  Findings.of(estate, day)
    .list()
    .filter(({ ruleId }) => ruleId.startsWith('migration.'))
    .map(({ ruleId, sentence }) => [ruleId, sentence])

const begin: Command = {
  type: 'migration.begin',
  id: MOVE,
  guestId: idOf('playout'),
  toHostId: idOf('fulmar'),
  stores: { [idOf('playoutDisk')]: idOf('nvme2') },
  decideBy: '2027-01-19T20:00:00.000Z',
  otherwise: 'leave it on gannet',
}
const power = (guestId: string, state: 'running' | 'stopped'): Command => ({ type: 'guest.power', guestId, state })
const over: readonly Command[] = [
  power(idOf('playout'), 'stopped'),
  { type: 'migration.copy', migrationId: MOVE },
  { type: 'migration.cutOver', migrationId: MOVE },
]

describe('moves', () => {
  it('that are late to be decided about are found, until they are cut over', () => {
    const begun = run(smallEstate(), begin)
    expect(sayOn(begun, '2027-01-19')).toEqual([])
    expect(sayOn(begun, '2027-01-21')).toEqual([
      [
        'migration.decide-by-passed',
        'It was to be decided by 2027-01-19 whether playout-1 is cut over, 2 days ago; otherwise: leave it on gannet.',
      ],
    ])
    expect(sayOn(run(begun, ...over), '2027-01-21')).toEqual([])
  })

  it('whose soak time is over ask for the removal of what they left, once they are verified', () => {
    const cut = run(smallEstate(), begin, ...over)
    expect(sayOn(cut, '2027-03-01')).toEqual([])
    const verified = run(cut, power(idOf('playout'), 'running'), { type: 'migration.verify', migrationId: MOVE })
    expect(sayOn(verified, '2027-01-31')).toEqual([])
    expect(sayOn(verified, '2027-02-03')).toEqual([
      ['migration.leftover-due', 'What playout-1 left on gannet, 80 GiB, has been kept past its soak time, which ended on 2027-02-01.'],
    ])
    expect(sayOn(run(verified, { type: 'migration.close', migrationId: MOVE }), '2027-03-01')).toEqual([])
  })

  it('whose source runs beside its copy are an error', () => {
    const [auk, target] = ['01890000-0000-7000-8000-00000000f102', '01890000-0000-7000-8000-00000000f103']
    const both = run(
      smallEstate(),
      { type: 'guest.add', record: { id: auk, name: 'auk', kind: 'external', state: 'stopped', vcpu: 2, memoryMiB: 4096 } },
      { type: 'guest.add', record: { id: target, name: 'scheduler', hostId: idOf('fulmar'), vcpu: 2, memoryMiB: 4096 } },
      { type: 'migration.begin', id: MOVE, guestId: auk, becomesId: target, method: 'image and restore' },
      { type: 'migration.copy', migrationId: MOVE },
      { type: 'migration.cutOver', migrationId: MOVE },
      power(target, 'running'),
    )
    expect(sayOn(both, '2027-01-18')).toEqual([])
    expect(sayOn(run(both, power(auk, 'running')), '2027-01-18')).toMatchObject([
      ['migration.source-runs', expect.stringMatching(/^auk-old is recorded as running, and auk took/)],
    ])
  })

  it('that were faster than a port they passed are found on that port, until one of the two is corrected', () => {
    const PORT = '01890000-0000-7000-8000-00000000f104'
    const moved = (count: number, mbPerSecond: number): readonly Command[] =>
      Array.from({ length: count }, () => ({
        type: 'migration.add',
        record: {
          guestId: idOf('news'),
          fromHostId: idOf('fulmar'),
          toHostId: idOf('gannet'),
          copySeconds: 100,
          movedBytes: mbPerSecond * 1e8,
        },
      }))
    const slow = run(smallEstate(), {
      type: 'port.add',
      record: { id: PORT, hostId: idOf('gannet'), name: 'eth0', speedMbps: 100, cable: 'present' },
    })
    const onPort = (estate: Estate) =>
      Findings.of(estate, '2027-01-19')
        .list()
        .filter(({ ruleId }) => ruleId === 'port.faster-than-recorded')
    // 100 Mbit/s are 12.5 MB/s, whatever they are packed in (IEEE 802.3).
    expect(onPort(run(slow, ...moved(3, 12.4)))).toEqual([])
    const lived = run(slow, ...moved(2, 110))
    expect(onPort(lived)).toMatchObject([
      {
        id: `port.faster-than-recorded:${PORT}`,
        sentence:
          'The move of newsroom carried 110 MB/s over eth0 of gannet, which is recorded with 100 Mbit/s (12.5 MB/s at the most), and 1 other move did so, too.',
      },
    ])
    const before = Findings.of(lived, '2027-01-19')
    const { estate, difference } = applyAll(lived, [{ type: 'port.update', id: PORT, changes: { speedMbps: 1000 } }], context)
    expect(onPort(estate)).toEqual([])
    expect(before.after(estate, difference).list()).toEqual(Findings.of(estate, '2027-01-19').list())
  })

  it('of a backup server onto a host that it protects, recorded as done, are found as if they had been begun', () => {
    const [server, target] = ['01890000-0000-7000-8000-00000000f105', '01890000-0000-7000-8000-00000000f106']
    const backups = (estate: Estate) =>
      Findings.of(estate, '2027-01-19')
        .list()
        .filter(({ ruleId }) => ruleId === 'guest.backup-on-its-host')
        .map(({ sentence }) => sentence)
    const before = run(
      smallEstate(),
      { type: 'guest.add', record: { id: server, name: 'vault', kind: 'external', state: 'stopped', vcpu: 2, memoryMiB: 4096 } },
      { type: 'guest.add', record: { id: target, name: 'vault-vm', hostId: idOf('gannet'), vcpu: 2, memoryMiB: 4096 } },
      { type: 'store.update', id: idOf('vaultStore'), changes: { servedById: server } },
    )
    expect(backups(before)).toEqual([])
    const found = Findings.of(before, '2027-01-19')
    const { estate, difference } = applyAll(
      before,
      [{ type: 'guest.migrate', guestId: server, becomesId: target, method: 'cold copy' }],
      context,
    )
    expect(backups(estate)).toEqual(['playout-1 and vault, which serves its backup store vault-store, both run on gannet.'])
    expect(found.after(estate, difference).list()).toEqual(Findings.of(estate, '2027-01-19').list())
  })

  // EU directive 2000/84/EC: clocks change on the last Sundays of March and October at 01:00 UTC.
  it.each([
    ['2027-03-28T22:30:00.000Z', '2027-03-29'],
    ['2027-10-31T23:30:00.000Z', '2027-11-01'],
    ['2027-10-30T22:30:00.000Z', '2027-10-31'],
  ])('and all else are of the day that it is where the estate is: %s is %s in Oslo', (at, day) => {
    const here = { ...context, now: at }
    const record = { ...smallEstate().all('estate')[0], id: idOf('estate'), name: 'Skerry Sound', timeZone: 'Europe/Oslo' }
    const oslo = Estate.fromRecords({ ...smallEstate().toRecords(), estate: [record as never] })
    const done = applyAll(
      oslo,
      [
        ...[begin, ...over].map((command) => ('decideBy' in command ? { ...command, decideBy: null } : command)),
        {
          type: 'deviation.add',
          record: { hostId: idOf('gannet'), about: 'memory', planned: '32 GiB', found: '16 GiB', seenAt: at, source: 'ipmi' },
        },
        { type: 'lease.add', record: { subnetId: idOf('officeNet'), ip: '10.61.30.150', mac: '00:00:5e:00:53:0a', seenAt: at } },
      ] as Command[],
      here,
    ).estate
    // What is left is kept for 14 days from the day of the cut-over.
    expect(done.all('leftover').map(({ until }) => until)).toEqual([dayAfter(day, 14)])
    const found = Findings.of(done, day).list()
    expect(found.find(({ ruleId }) => ruleId === 'host.not-as-planned')?.evidence).toContainEqual({ label: 'seen', value: `${day}, ipmi` })
    const lease = found.find(({ ruleId }) => ruleId === 'lease.against-plan')
    expect(lease && fixOf(done, lease)).toMatchObject([{ record: { note: `seen ${day}` } }])
    // Late by days that are counted from the day it was to be decided on.
    const late = applyAll(oslo, [{ ...begin, decideBy: at }], here).estate
    expect(
      Findings.of(late, day)
        .list()
        .filter(({ ruleId }) => ruleId.startsWith('migration.')),
    ).toEqual([])
    expect(
      Findings.of(late, dayAfter(day, 1))
        .list()
        .find(({ ruleId }) => ruleId.startsWith('migration.'))?.sentence,
    ).toContain(`by ${day}`)
  })
})
