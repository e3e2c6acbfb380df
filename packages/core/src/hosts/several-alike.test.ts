import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import type { Host } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { alikeDrives, alikeModules, alikePorts, fieldsOfLike, partsOfLike, partsOfNewHost, readHostLine, type Alike } from './index.js'

const hostId = idOf('gannet')
const with_ = (...commands: Command[]) => applyAll(smallEstate(), commands, testContext(81)).estate
const bare = with_({ type: 'host.update', id: hostId, changes: { memorySlots: 8 } })
const hostIn = (estate: typeof bare, id = hostId) => estate.find('host', id) as Host
const context = testContext(82)
const said = (alike: Alike) => ('sentence' in alike ? alike.sentence : alike.says)
const added = (estate: typeof bare, alike: Alike) => {
  if ('sentence' in alike) throw new Error(alike.sentence)
  return applyAll(estate, alike.commands, testContext(83)).estate
}

describe('several alike in one line', () => {
  it.each([
    ['4 x 16 GiB', '4 of 16 GiB, in slots 1 to 4'],
    ['4x16G 3200', '4 of 16 GiB, 3200 MT/s, in slots 1 to 4'],
    ['2 × 32 GB 4800 MT/s planned in 1,5', '2 of 32 GiB, 4800 MT/s, planned, in slots 1, 5'],
    ['1x8G from 8', '1 of 8 GiB, in slot 8'],
    ['9x8G', '9 are to be added, and 8 slots are free.'],
    ['4x16G in 1,2', '4 are to be added, and 2 places are named.'],
    ['2x16G in 8-9', 'There is no slot 9.'],
    ['4x16G fast', '“fast” is not understood; behind the size write the speed in MT/s, planned, from 5, or in 1,3.'],
    ['2x16G in slots 2, 4', '2 of 16 GiB, in slots 2, 4'],
    ['2x16G slot 5 planned', '2 of 16 GiB, planned, in slots 5 to 6'],
    ['2x16G in slot', '“in slot” says no places; write from 5, or in 1,3,5-6.'],
    ['4x16G in', '“in” says no places; write from 5, or in 1,3,5-6.'],
    ['16G', 'Write how many and what each is, such as 4 x 16 GiB.'],
    ['0x16G', '0 is too many or none; write 1 to 128.'],
    ['4 x many', expect.stringContaining('many')],
  ])('modules: %s', (text, says) => expect(said(alikeModules(bare, hostIn(bare), text, context))).toEqual(says))

  it.each([
    ['6 x 3.84 TB', '6 of 3.84 TB, solid state, in bays 1 to 6'],
    ['4x4T hdd from 3', '4 of 4 TB, hard disk, in bays 3 to 6'],
    ['2 x 960 GB in bays 4,7 NVMe Kelp', '2 of 960 GB, NVMe, Kelp, in bays 4, 7'],
    ['2 x 960 GB bay 4', '2 of 960 GB, solid state, in bays 4 to 5'],
    ['2 x 960 GB NVMe Kelp 960 in 0,1', '2 of 960 GB, NVMe, Kelp 960, in bays 0 to 1'],
    ['4x4Q', expect.stringContaining('is not a unit of size')],
  ])('drives: %s', (text, says) => expect(said(alikeDrives(bare, hostIn(bare), text, context))).toEqual(says))

  it.each([
    ['4 x 10G eno1', '4 of 10 Gbit/s, copper: eno1 to eno4'],
    ['2 x 25 Gbit/s fibre cabled ens1f0', '2 of 25 Gbit/s, fibre, cabled: ens1f0, ens1f1'],
    ['2x1G', '2 of 1 Gbit/s, copper: eno1, eno2'],
    ['1x1G ipmi', '1 of 1 Gbit/s, copper: ipmi'],
    ['2x1G ipmi', 'ipmi ends without a number, from which the others would be counted; write ipmi1.'],
    ['2x1G from 3', 'Ports have names: write the first of them, such as 4 x 10G eno1.'],
    ['2x1G eno1 eno2', '“eno1 eno2” is more than one name; write the first, such as eno1.'],
    ['2xfast', expect.stringContaining('fast')],
  ])('ports: %s', (text, says) => expect(said(alikePorts(bare, hostIn(bare), text, context))).toEqual(says))

  it('go on where those that are there end', () => {
    let estate = added(bare, alikeModules(bare, hostIn(bare), '2x16G in 2,4', context))
    expect(said(alikeModules(estate, hostIn(estate), '2x16G', context))).toBe('2 of 16 GiB, in slots 1, 3')
    expect(said(alikeModules(estate, hostIn(estate), '1x16G in 4', context))).toBe('There is something in slot 4 already.')
    estate = added(estate, alikeDrives(estate, hostIn(estate), '2 x 4T', context))
    expect(said(alikeDrives(estate, hostIn(estate), '1 x 4T', context))).toBe('1 of 4 TB, solid state, in bay 3')
    estate = added(estate, alikePorts(estate, hostIn(estate), '2 x 1G', context))
    expect(said(alikePorts(estate, hostIn(estate), '2 x 10G', context))).toBe('2 of 10 Gbit/s, copper: eno3, eno4')
    expect(said(alikePorts(estate, hostIn(estate), '2 x 10G eno2', context))).toBe('There is a port eno2 already.')
  })
})

describe('a new host with what is in it', () => {
  const names = { platforms: ['Brackwater 5'], networks: ['office'] }
  it('comes of one line: modules, drives in the bays that are left, ports', () => {
    const { spec, parts } = readHostLine(
      'skua 2x16 4x32G drives 2x960G:nvme drives 6x3.84T ports 2x1G ports 2x10G:ens1f0 runs Brackwater-5',
      names,
    )
    expect(parts.filter(({ problem }) => problem)).toEqual([])
    expect(spec.memoryMiB).toBe(131_072)
    const host = {
      id: '01890000-0000-7000-8000-0000000000da',
      name: 'skua',
      platformId: idOf('brackwater'),
      sockets: 2,
      coresPerSocket: 16,
      memoryMiB: 131_072,
    }
    const after = with_({ type: 'host.add', record: host }, ...partsOfNewHost({ id: host.id, memorySlots: null }, spec, context))
    expect(after.referring('module', 'hostId', host.id).map(({ slot, sizeMiB }) => [slot, sizeMiB])).toEqual(
      [1, 2, 3, 4].map((slot) => [slot, 32_768]),
    )
    expect(after.referring('drive', 'hostId', host.id).map(({ position, kind }) => `${position} ${kind}`)).toEqual([
      '1 NVMe',
      '2 NVMe',
      ...[3, 4, 5, 6, 7, 8].map((bay) => `${bay} solid state`),
    ])
    expect(after.referring('port', 'hostId', host.id).map(({ name }) => name)).toEqual(['eno1', 'eno2', 'ens1f0', 'ens1f1'])
  })

  it.each([
    ['skua 2x16 4xmanyG', 'many'],
    ['skua drives 6', 'Write how many and what each is'],
    ['skua ports 4xfast', 'fast'],
  ])('%s is asked back', (line, words) =>
    expect(
      readHostLine(line, names)
        .parts.flatMap(({ problem }) => problem ?? [])
        .join(' '),
    ).toContain(words),
  )
})

describe('a host like another', () => {
  const [array, bridge, made] = ['d1', 'd2', 'd3'].map((end) => `01890000-0000-7000-8000-0000000000${end}`) as [string, string, string]
  const full = with_(
    { type: 'array.add', record: { id: array, hostId, name: 'data', level: '1' } },
    { type: 'drive.add', record: { hostId, position: 1, labelBytes: 4e12, serial: 'K-1', use: 'member', arrayId: array } },
    { type: 'drive.add', record: { hostId, position: 2, labelBytes: 4e12, serial: 'K-2', use: 'member', arrayId: array } },
    { type: 'module.add', record: { hostId, slot: 1, sizeMiB: 16_384 } },
    { type: 'switch.add', record: { id: bridge, hostId, name: 'br0', bond: 'none' } },
    {
      type: 'port.add',
      record: { hostId, name: 'eno1', speedMbps: 10_000, mac: '02:1a:4b:00:00:77', farEnd: 'sw-1 port 3', switchId: bridge },
    },
    { type: 'store.add', record: { name: 'gannet-data', hostId, arrayId: array, capacityBytes: 4e12 } },
  )
  const like = hostIn(full)
  const after = applyAll(
    full,
    [
      { type: 'host.add', record: { ...(fieldsOfLike(like) as object), id: made, name: 'skua', state: 'on order' } as never },
      ...partsOfLike(full, like, { id: made, name: 'skua' }, context),
    ],
    testContext(84),
  ).estate

  it('has the same in it and around it, and nothing that is only that one’s', () => {
    expect(hostIn(after, made)).toMatchObject({
      name: 'skua',
      sockets: like.sockets,
      memoryMiB: like.memoryMiB,
      serial: null,
      managementMac: null,
    })
    const drives = after.referring('drive', 'hostId', made)
    expect(drives.map(({ position, serial, use }) => [position, serial, use])).toEqual([
      [1, null, 'member'],
      [2, null, 'member'],
    ])
    const [own] = after.referring('array', 'hostId', made)
    expect(new Set(drives.map(({ arrayId }) => arrayId))).toEqual(new Set([own?.id]))
    expect(after.referring('port', 'hostId', made)).toMatchObject([{ name: 'eno1', mac: null, farEnd: null, cable: 'missing' }])
    expect(after.referring('port', 'hostId', made)[0]?.switchId).toBe(after.referring('switch', 'hostId', made)[0]?.id)
    expect(after.referring('store', 'hostId', made).map(({ name }) => name)).toContain('skua-data')
    expect(after.referring('attachment', 'hostId', made).map(({ networkId }) => networkId)).toEqual(
      full.referring('attachment', 'hostId', hostId).map(({ networkId }) => networkId),
    )
  })

  it('with drives, modules and ports of its own has those instead', () => {
    const own = { modules: ['2x32G'], drives: ['4x8T'], ports: ['2x25G'] }
    const kindsOf = (parts: readonly Command[]) => new Set(parts.map(({ type }) => type))
    expect([...kindsOf(partsOfLike(full, like, { id: made, name: 'skua' }, context, own))].sort()).toEqual([
      'attachment.add',
      'store.add',
      'switch.add',
    ])
  })

  it('leaves the other as it is', () =>
    expect(after.referring('drive', 'hostId', hostId)).toEqual(full.referring('drive', 'hostId', hostId)))
})
