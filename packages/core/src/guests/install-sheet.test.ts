import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { type Estate, type Step } from '../estate/index.js'
import type { FoundHost } from '../found/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { compareGuest, takeOverGuest } from '../found/index.js'
import { finishInstall, installSheet, verificationSteps } from './index.js'

const id = idOf('playout')
const guestIn = (estate: Estate) => {
  const guest = estate.find('guest', id)
  if (!guest) throw new Error('no guest')
  return guest
}
const with_ = (...commands: Command[]) => applyAll(smallEstate(), commands, testContext()).estate
const stepOf = (estate: Estate, key: string) => installSheet(estate, guestIn(estate)).steps.find((step) => step.key === key)

describe('the install sheet', () => {
  it('has the plan’s own values, and the traps at the step where they bite', () => {
    const estate = with_(
      { type: 'system.add', record: { id: idOf('array'), name: 'Old one', paravirtualDisk: 'none', minStorageBytes: 900 * GiB } },
      { type: 'guest.update', id, changes: { systemId: idOf('array'), installer: 'network installer', packages: 'ssh server' } },
    )
    expect(stepOf(estate, 'image')?.gap).toBe('No install image is chosen.')
    expect(stepOf(estate, 'devices')?.gap).toContain('the installer sees no disk')
    expect(stepOf(estate, 'disk-layout')?.gap).toContain('needs at least 900 GiB')
    expect(stepOf(estate, 'disk-layout')?.caution).toContain('wipes the disk')
    expect(stepOf(estate, 'network')?.lines[0]).toBe('Name playout-1.skerry.example.')
    expect(stepOf(estate, 'network')?.lines[1]).toContain('Address 10.61.40.2/28, fixed; gateway 10.61.40.1')
    expect(stepOf(estate, 'packages')).toMatchObject({ lines: ['ssh server'] })
    expect(stepOf(estate, 'account')?.lines[1]).toContain('The clock in UTC')
    expect(stepOf(estate, 'verify-address')?.lines).toEqual(['ip address shows 10.61.40.2'])
    expect(
      installSheet(estate, guestIn(estate))
        .steps.slice(-9)
        .map(({ key }) => key),
    ).toEqual(verificationSteps.map(([key]) => key))
  })

  it('lists every device that is set: memory, stores, networks, VLANs, MACs', () => {
    const estate = smallEstate()
    const guest = guestIn(estate)
    const lines = stepOf(estate, 'devices')?.lines.join('\n') ?? ''
    const disk = estate.find('disk', idOf('playoutDisk'))
    const adapter = estate.find('adapter', idOf('playoutAdapter'))
    const network = estate.find('network', adapter?.networkId)
    expect(lines).toContain(`Memory ${guest.memoryMiB / 1024} GiB.`)
    expect(lines).toContain(`on ${estate.find('store', disk?.storeId)?.name ?? 'none'}`)
    expect(lines).toContain(`MAC ${adapter?.mac ?? 'none'}`)
    expect(lines).toContain(`on ${network?.name ?? 'none'}, VLAN ${network?.vlanId ?? 'none'}`)
    const loose = with_({ type: 'adapter.update', id: idOf('playoutAdapter'), changes: { networkId: null, isConnected: false } })
    expect(stepOf(loose, 'devices')?.lines.join('\n')).toContain('on no network yet, not connected at power-on')
  })

  it('a network installer without a network is said', () => {
    const estate = with_(
      { type: 'guest.update', id, changes: { installer: 'network installer' } },
      { type: 'adapter.update', id: idOf('playoutAdapter'), changes: { networkId: null } },
    )
    expect(stepOf(estate, 'power-on')?.gap ?? '').toMatch(/without a network|not planned/)
  })

  it('an appliance without a disk has nothing to lay out or to eject', () => {
    const estate = with_({ type: 'disk.remove', id: idOf('playoutDisk') })
    expect(installSheet(estate, guestIn(estate)).steps.some(({ key }) => ['disk-layout', 'eject', 'verify-boot'].includes(key))).toBe(false)
  })

  it('is verified only when no check failed or was skipped', () => {
    const estate = with_({ type: 'sheet.add', record: { id: idOf('port'), guestId: id, startedAt: '2027-01-18T08:00:00Z' } })
    const sheet = estate.find('sheet', idOf('port'))
    if (!sheet) throw new Error('no sheet')
    const states = (last: Step['state']) =>
      new Map(verificationSteps.map(([key], index) => [key as string, index === 8 ? last : 'done'] as const))
    const at = '2027-01-18T09:00:00.000Z'
    const after = (last: Step['state']) =>
      guestIn(applyAll(estate, finishInstall(guestIn(estate), sheet, states(last), at), testContext()).estate)
    expect(after('done').verifiedAt).toBe(at)
    expect(after('skipped').verifiedAt).toBeNull()
  })

  it('a sheet is of a host or of a guest', () =>
    expect(() => with_({ type: 'sheet.add', record: { startedAt: '2027-01-18T08:00:00Z' } })).toThrow('for one thing'))
})

describe('found inside a guest', () => {
  const found: FoundHost = {
    name: 'playout-1.skerry.example',
    sockets: 1,
    coresPerSocket: 6,
    threadsPerCore: 1,
    memoryMiB: 7820,
    firmware: 'UEFI',
    modules: [],
    fileSystems: [],
    drives: [{ name: 'vda', bytes: 240 * GiB }],
    ports: [{ name: 'ens3', mac: '02:1a:4b:00:00:99' }],
    addresses: [{ port: 'ens3', ip: '10.61.40.9', length: 24 }],
  }

  it('what differs is said, what agrees is not, and what can be is taken over', () => {
    const estate = smallEstate()
    const lines = compareGuest(estate, guestIn(estate), found)
    const differing = lines.filter(({ isSame }) => !isSame)
    expect(differing.map(({ about }) => about)).toEqual(['processors', 'disk 1 (system)', 'adapter 1', 'address 10.61.40.2'])
    const commands = takeOverGuest(estate, guestIn(estate), differing, lines)
    const after = applyAll(estate, commands, testContext()).estate
    expect(guestIn(after).vcpu).toBe(6)
    expect(after.find('disk', idOf('playoutDisk'))?.sizeBytes).toBe(240 * GiB)
    expect(after.find('adapter', idOf('playoutAdapter'))?.mac).toBe('02:1a:4b:00:00:99')
    expect(
      compareGuest(after, guestIn(after), found)
        .filter(({ isSame }) => !isSame)
        .map(({ about }) => about),
    ).toEqual(['address 10.61.40.2'])
  })

  it('what file systems hold goes to the disk each is on: by name and order, by size where drives were seen, else as a sum', () => {
    const second: Command = {
      type: 'disk.add',
      record: { guestId: idOf('playout'), storeId: idOf('nvme1'), sizeBytes: 500 * GiB, use: 'data', position: 2 },
    }
    const estate = applyAll(smallEstate(), [second], testContext()).estate
    const used = (fileSystems: FoundHost['fileSystems'], drives: FoundHost['drives'] = []) =>
      compareGuest(estate, guestIn(estate), { modules: [], ports: [], addresses: [], drives, fileSystems })
        .filter(({ key }) => key.startsWith('used'))
        .map(({ about, found: seen, byHand, takeOver }) => [about, seen, byHand ?? '', takeOver.length].join(' | '))
    const root = { device: 'vda1', bytes: 39 * GiB, usedBytes: 10 * GiB }
    const data = { device: 'vdb1', bytes: 490 * GiB, usedBytes: 200 * GiB }
    const apart = ['used space of disk 1 (system) | 10 GiB |  | 1', 'used space of disk 2 (data) | 200 GiB |  | 1']
    const together = ['used space | 210 GiB | which disk holds how much is not said | 0']
    expect(used([root, data])).toEqual(apart)
    // Names the other way round, as with two buses: sizes tell.
    expect(
      used([
        { ...root, device: 'sdb2' },
        { ...data, device: 'sda1' },
      ]),
    ).toEqual(together)
    const drives = [
      { name: 'sda', bytes: 500 * GiB },
      { name: 'sdb', bytes: 200 * GiB },
    ]
    expect(
      used(
        [
          { ...root, device: 'sdb2' },
          { ...data, device: 'sda1' },
        ],
        drives,
      ),
    ).toEqual(apart)
    // A volume of several partitions, and a disk without a file system.
    expect(used([{ ...root, device: 'mapper/vg-root' }, data])).toEqual(together)
    expect(used([root])).toEqual(['used space | 10 GiB | which disk holds how much is not said | 0'])
  })

  it('only what was seen is compared', () =>
    expect(
      compareGuest(smallEstate(), guestIn(smallEstate()), { modules: [], drives: [], ports: [], addresses: [], fileSystems: [] }),
    ).toEqual([]))
})
