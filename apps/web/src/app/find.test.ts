import { applyAll, type Command } from '@insel/core'
import { idOf, smallEstate, testContext } from '@insel/core/testing'
import { describe, expect, it } from 'vitest'
import { find, findable } from './find'

const changes: readonly Command[] = [
  {
    type: 'host.update',
    id: idOf('gannet'),
    changes: { serial: 'SN-4711', assetTag: 'A-12', rack: 'B', tags: ['rack-a'], note: 'noisy fan' },
  },
  { type: 'guest.update', id: idOf('news'), changes: { owner: 'News desk', purpose: 'editing' } },
  { type: 'drive.add', record: { hostId: idOf('tern'), position: 3, labelBytes: 1e12, serial: 'WX-99' } },
]
const { estate } = applyAll(smallEstate(), changes, testContext())
const all = findable(estate)
const found = (query: string) => find(estate, all, query, 24).map(({ title, about }) => `${title}: ${about}`)

describe('what is looked for is found', () => {
  it.each([
    ['gann', 'gannet: host'],
    ['SN-4711', 'gannet: host'],
    ['a-12', 'gannet: host'],
    ['#rack-a', 'gannet: host'],
    ['fan noisy', 'gannet: host'],
    ['studio gannet', 'gannet: host'],
    ['desk news', 'newsroom: guest'],
    ['vlan 30', 'office: network, VLAN 30'],
    ['10.61.30.0/24', '10.61.30.0/24: subnet of office'],
    ['wx-99', 'drive in bay 3: drive of tern'],
    ['02:1a:4b:00:00:01', '02:1a:4b:00:00:01: '],
    ['02-1A-4B-00-00-01', '02:1a:4b:00:00:01: '],
    ['021a.4b00.0001', '02:1a:4b:00:00:01: '],
    ['10.61.40.2', '10.61.40.2: address of playout-1'],
    ['10.61.30.200', '10.61.30.200: free in office'],
    ['10.61.30.7', '10.61.30.7: in a DHCP range in office'],
  ])('%s', (query, is) => expect(found(query).some((one) => one.startsWith(is))).toBe(true))

  it('a device is found by its MAC on the map of its subnet, seen or reserved', () => {
    const device = {
      type: 'address.add',
      record: { subnetId: idOf('officeNet'), ip: '10.61.30.201', name: 'printer', mac: '02:1a:4b:00:00:79' },
    } as const
    const seen = {
      type: 'lease.add',
      record: { subnetId: idOf('officeNet'), ip: '10.61.30.202', mac: '02:1a:4b:00:00:7a', seenAt: '2027-01-18T07:00:00.000Z' },
    } as const
    const { estate: with2 } = applyAll(estate, [device, seen], testContext(40))
    for (const [mac, ip] of [
      ['02:1a:4b:00:00:79', '10.61.30.201'],
      ['02:1a:4b:00:00:7a', '10.61.30.202'],
    ] as const)
      expect(find(with2, findable(with2), mac, 24).map(({ at }) => at)).toEqual([`networks/${idOf('office')}?at=${ip}`])
  })

  it('all words are needed, and a letter alone finds nothing', () => {
    expect(found('gannet nowhere')).toEqual([])
    expect(found('g')).toEqual([])
    expect(found('   ')).toEqual([])
  })
})
