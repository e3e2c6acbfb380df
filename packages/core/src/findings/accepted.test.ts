import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { CommandError, Estate } from '../estate/index.js'
import { idOf, smallEstate, testContext, TODAY } from '../testing/small-estate.js'
import { Findings, partAccepted } from './index.js'

let seed = 900
const done = (estate: Estate, ...commands: Command[]) =>
  applyAll(estate, commands, { ...testContext(++seed), personId: idOf('ola') }).estate
const parted = (estate: Estate, today = TODAY) => partAccepted(estate, Findings.of(estate, today).list(), today)
const accept = (finding: string, until = '2027-02-18'): Command => ({
  type: 'finding.accept',
  finding,
  reason: 'until the new disks',
  until,
})
const refusalOf = (estate: Estate, ...commands: Command[]) => {
  try {
    done(estate, ...commands)
    return ''
  } catch (error) {
    if (error instanceof CommandError) return error.message
    throw error
  }
}

/** A store that has promised more than it holds, and a guest without a backup. */
const start = done(
  smallEstate(),
  { type: 'guest.resize', guestId: idOf('playout'), diskId: idOf('playoutDisk'), sizeBytes: 1200 * 2 ** 30 },
  { type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } },
)
const promise = `store.thin-promise:${idOf('nvme1')}`
const backup = parted(start).open.find(({ ruleId }) => ruleId.includes('backup'))?.id ?? ''

describe('a finding that is accepted', () => {
  it('leaves the count, with who accepted it, why and until when', () => {
    const estate = done(start, accept(promise))
    expect(parted(start).open.map(({ id }) => id)).toContain(promise)
    const { open, accepted } = parted(estate)
    expect(open.map(({ id }) => id)).not.toContain(promise)
    expect(accepted).toMatchObject([{ finding: { id: promise }, acceptance: { personId: idOf('ola'), reason: 'until the new disks' } }])
    expect(open.length + accepted.length).toBe(parted(start).open.length)
  })

  it('returns the day after its last', () => {
    const estate = done(start, accept(promise))
    expect(parted(estate, '2027-02-18').accepted).toHaveLength(1)
    expect(parted(estate, '2027-02-19').accepted).toHaveLength(0)
  })

  it('returns when its figure got worse, not when it got better, and can be accepted as it is then', () => {
    const estate = done(start, accept(promise))
    const grown = (gib: number): Command => ({
      type: 'guest.resize',
      guestId: idOf('playout'),
      diskId: idOf('playoutDisk'),
      sizeBytes: gib * 2 ** 30,
    })
    const worse = done(estate, grown(1300))
    expect(parted(worse).open.map(({ id }) => id)).toContain(promise)
    expect(parted(done(worse, accept(promise))).accepted).toHaveLength(1)
    // Less is promised: the other way.
    const better = done(estate, { type: 'store.update', id: idOf('nvme1'), changes: { capacityBytes: 1050 * 2 ** 30 } })
    expect(parted(better).accepted).toHaveLength(1)
  })

  it('returns with any change of its evidence where its rule names no figure, but not because a day went by', () => {
    const estate = done(start, accept(backup))
    expect(parted(estate, '2027-02-01').accepted.map(({ finding }) => finding.id)).toEqual([backup])
    const changed = { ...parted(estate).accepted[0]?.finding, evidence: [{ label: 'backed up to', value: 'a stick' }] }
    expect(partAccepted(estate, [changed as never], TODAY).open).toHaveLength(1)
  })

  it('is one that there is, by somebody, until a day to come', () => {
    expect(refusalOf(start, accept('store.thin-promise:nothing'))).toContain('There is no such finding')
    expect(refusalOf(start, accept('no-rule:x'))).toContain('There is no such finding')
    expect(refusalOf(start, accept(promise, '2027-01-01'))).toContain('Until is over: today is 2027-01-18')
    expect(() => applyAll(start, [accept(promise)], testContext())).toThrow('say who you are')
    const twice = done(start, accept(promise), accept(promise, '2027-03-01'))
    expect(twice.all('acceptance').map(({ until }) => until)).toEqual(['2027-03-01'])
    const [acceptance] = twice.all('acceptance')
    expect(parted(done(twice, { type: 'acceptance.remove', id: acceptance?.id ?? '' })).accepted).toEqual([])
  })

  /** Two hosts whose guests have no room elsewhere if they fail. */
  const lost = done(
    smallEstate(),
    { type: 'guest.update', id: idOf('playout'), changes: { memoryMiB: 30_000 } },
    { type: 'guest.update', id: idOf('news'), changes: { memoryMiB: 29_000 } },
  )
  const lostHosts = (estate: Estate) => parted(estate).open.filter(({ ruleId }) => ruleId === 'host.lost-means-guests-lost')

  it('stays accepted when another of its rule is mended: its id says what it is about, not its place', () => {
    const ids = lostHosts(lost).map(({ id }) => id)
    expect(ids.toSorted()).toEqual(
      [`host.lost-means-guests-lost:${idOf('gannet')}`, `host.lost-means-guests-lost:${idOf('fulmar')}`].toSorted(),
    )
    // A large host whose guest goes nowhere, and a small one whose guest does once it needs less.
    for (const [large, small] of [
      [
        { host: 'gannet', guest: 'playout' },
        { host: 'fulmar', guest: 'news' },
      ],
      [
        { host: 'fulmar', guest: 'news' },
        { host: 'gannet', guest: 'playout' },
      ],
    ] as const) {
      const memory = (guest: string, memoryMiB: number): Command => ({ type: 'guest.update', id: idOf(guest), changes: { memoryMiB } })
      const both = done(
        smallEstate(),
        { type: 'host.update', id: idOf(small.host), changes: { memoryMiB: 16_384 } },
        memory(large.guest, 28_000),
        memory(small.guest, 10_000),
      )
      expect(lostHosts(both)).toHaveLength(2)
      const estate = done(both, accept(`host.lost-means-guests-lost:${idOf(large.host)}`), memory(small.guest, 2000))
      expect(parted(estate).accepted.map(({ finding }) => finding.id)).toEqual([`host.lost-means-guests-lost:${idOf(large.host)}`])
      expect(lostHosts(estate)).toEqual([])
    }
  })

  it('stays accepted that was accepted when its id had its place in a list in it', () => {
    const placed = (estate: Estate, old: string): Estate => {
      const records = estate.toRecords()
      return Estate.fromRecords({ ...records, acceptance: records.acceptance.map((one) => ({ ...one, finding: old })) })
    }
    const one = done(lost, accept(`host.lost-means-guests-lost:${idOf('fulmar')}`))
    for (const old of [`host.lost-means-guests-lost:${idOf('fulmar')}:2`, `host.lost-means-guests-lost:${idOf('fulmar')}:7`])
      expect(parted(placed(one, old)).accepted.map(({ finding }) => finding.id)).toEqual([`host.lost-means-guests-lost:${idOf('fulmar')}`])
    // Of several of a rule on one thing the one that says the same is meant, and only that.
    const devices = done(
      smallEstate(),
      {
        type: 'system.add',
        record: { id: idOf('system'), name: 'Old one', family: 'other', paravirtualDisk: 'none', paravirtualNet: 'none' },
      },
      { type: 'guest.update', id: idOf('playout'), changes: { systemId: idOf('system') } },
    )
    const [disk, adapter] = parted(devices)
      .open.filter(({ ruleId }) => ruleId === 'guest.no-driver')
      .map(({ id }) => id)
    for (const [id, place] of [
      [disk, ''],
      [adapter, ':2'],
      [adapter, ''],
    ] as const)
      expect(
        parted(placed(done(devices, accept(id ?? '')), `guest.no-driver:${idOf('playout')}${place}`)).accepted.map(
          ({ finding }) => finding.id,
        ),
      ).toEqual([id])
  })
})
