import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { apply, applyAll, type Command } from './index.js'
import { CommandError } from '../estate/index.js'
import { GiB } from '../units/index.js'

const estate = smallEstate()
const outcome = (...commands: Command[]): string => {
  try {
    applyAll(estate, commands, testContext(41))
    return 'taken'
  } catch (error) {
    if (error instanceof CommandError) return error.message
    throw error
  }
}
const spare = '01890000-0000-7000-8000-00000000abcd'

const drive = (host: string, more: object): Command => ({
  type: 'drive.add',
  record: { hostId: idOf(host), position: 9, labelBytes: 480e9, ...more },
})

describe('what must hold', () => {
  it.each<[string, Command[], string]>([
    ['one set of policies', [{ type: 'policy.add', record: {} }], 'An estate has one set of policies; change the one it has.'],
    [
      'warning before error',
      [{ type: 'policy.update', id: idOf('policy'), changes: { storeErrorPercent: 80 } }],
      'Store warning (85 %) comes before store error (80 %); make it the smaller.',
    ],
    [
      'a physical host runs in no guest',
      [{ type: 'host.update', id: idOf('gannet'), changes: { outerGuestId: idOf('news') } }],
      'A physical host does not run in a guest; make it nested, or clear the guest.',
    ],
    [
      'a local store names its host',
      [{ type: 'store.update', id: idOf('nvme1'), changes: { hostId: null } }],
      'A local store is in a host; choose the host.',
    ],
    [
      'a shared store is in no host',
      [{ type: 'store.update', id: idOf('nvme1'), changes: { kind: 'shared' } }],
      'A shared store belongs to a site, not to one host; clear the host.',
    ],
    [
      'a shared store names its site',
      [{ type: 'store.update', id: idOf('nvme1'), changes: { kind: 'shared', hostId: null } }],
      'A shared store needs the site whose hosts reach it.',
    ],
    [
      'a gateway is of the subnet’s family',
      [{ type: 'subnet.update', id: idOf('officeNet'), changes: { gateway: '2001:db8::1' } }],
      'Gateway 2001:db8::1 is of another address family than 10.61.30.0/24.',
    ],
    [
      'a gateway outside the prefix is a matter for a finding',
      [{ type: 'subnet.update', id: idOf('officeNet'), changes: { gateway: '10.99.0.1' } }],
      'taken',
    ],
    [
      'a pool lies in its subnet',
      [{ type: 'pool.update', id: idOf('pool'), changes: { first: '10.61.29.250' } }],
      '10.61.29.250 is not in 10.61.30.0/24; a DHCP range must be inside its subnet.',
    ],
    [
      'an address has one owner',
      [{ type: 'address.update', id: idOf('playoutAddress'), changes: { hostId: idOf('gannet') } }],
      'An address belongs to an adapter or to a host, not to both.',
    ],
    [
      'an address is of its subnet’s family',
      [{ type: 'address.update', id: idOf('playoutAddress'), changes: { ip: '2001:db8::7' } }],
      '2001:db8::7 is of another address family than 10.61.40.0/28.',
    ],
    [
      'a device is not on the broadcast address',
      [{ type: 'address.add', record: { subnetId: idOf('officeNet'), ip: '10.61.30.255', kind: 'reserved', name: 'printer' } }],
      '10.61.30.255 is the broadcast address of 10.61.30.0/24, which no machine has; choose another one.',
    ],
    [
      'nor on the network’s own, known by its MAC alone',
      [
        {
          type: 'address.add',
          record: { subnetId: idOf('officeNet'), ip: '10.61.30.0', kind: 'reserved', mac: '02:00:00:00:00:09' },
        },
      ],
      '10.61.30.0 is the network’s own address of 10.61.30.0/24, which no machine has; choose another one.',
    ],
    [
      'an external machine is on no host',
      [{ type: 'guest.update', id: idOf('news'), changes: { kind: 'external' } }],
      'An external machine is on no host; clear the host, or change its kind to machine.',
    ],
    [
      'a running guest is on a host',
      [{ type: 'guest.update', id: idOf('news'), changes: { hostId: null } }],
      'newsroom is running and would be on no host; move it, or record it as stopped first.',
    ],
    [
      'a stopped one may be unplaced, its disks with it',
      [
        { type: 'guest.update', id: idOf('news'), changes: { hostId: null, state: 'stopped' } },
        { type: 'disk.update', id: idOf('newsDisk'), changes: { storeId: null } },
      ],
      'taken',
    ],
    [
      'a disk of a placed guest lies on a store',
      [{ type: 'disk.update', id: idOf('newsDisk'), changes: { storeId: null } }],
      'Disk 1 of newsroom is on no store; choose the store.',
    ],
    [
      'a guest that becomes an external machine takes its disks off the stores',
      [{ type: 'guest.update', id: idOf('news'), changes: { hostId: null, kind: 'external' } }],
      'Disk 1 of newsroom is on a store; the disks of an external machine are its own, so clear the store.',
    ],
    [
      'an external machine that becomes a guest of a host brings its disks to a store',
      [
        { type: 'guest.update', id: idOf('news'), changes: { hostId: null, state: 'stopped' } },
        { type: 'disk.update', id: idOf('newsDisk'), changes: { storeId: null } },
        { type: 'guest.update', id: idOf('news'), changes: { hostId: idOf('fulmar') } },
      ],
      'Disk 1 of newsroom is on no store; choose the store.',
    ],
    [
      'a guest’s disk is not in another host',
      [{ type: 'disk.update', id: idOf('newsDisk'), changes: { storeId: idOf('nvme1') } }],
      'Disk 1 of newsroom would be on nvme-1, which is in gannet, while the guest is on fulmar; move both together, or choose a store of fulmar.',
    ],
    [
      'a guest is not recorded on another host without its disks',
      [{ type: 'guest.update', id: idOf('news'), changes: { hostId: idOf('gannet') } }],
      'Disk 1 of newsroom would be on nvme-2, which is in fulmar, while the guest is on gannet; move both together, or choose a store of gannet.',
    ],
    [
      'a store does not change its host under a disk',
      [{ type: 'store.update', id: idOf('nvme2'), changes: { hostId: idOf('gannet') } }],
      'Disk 1 of newsroom would be on nvme-2, which is in gannet, while the guest is on fulmar; move both together, or choose a store of fulmar.',
    ],
    [
      'a guest and its disk may change host together',
      [
        { type: 'guest.update', id: idOf('news'), changes: { hostId: idOf('gannet') } },
        { type: 'disk.update', id: idOf('newsDisk'), changes: { storeId: idOf('nvme1') } },
      ],
      'taken',
    ],
    [
      'a disk is not made smaller than what it holds',
      [
        { type: 'disk.update', id: idOf('newsDisk'), changes: { usedBytes: 10 * GiB } },
        { type: 'disk.update', id: idOf('newsDisk'), changes: { sizeBytes: 10 * GiB - 1 } },
      ],
      'Disk 1 of newsroom holds 10 GiB; 10737418239 B is too small. Free space on it first, or correct what is recorded as used.',
    ],
    [
      'a disk may be made just as large as what it holds',
      [{ type: 'disk.update', id: idOf('newsDisk'), changes: { sizeBytes: 10 * GiB, usedBytes: 10 * GiB } }],
      'taken',
    ],
    [
      'two drives do not share a serial',
      [drive('gannet', { serial: 'K-1' }), drive('fulmar', { serial: 'K-1' })],
      'Serial K-1 is that of drive in bay 9 of fulmar; drives are told apart by it before they are wiped, so look again at both.',
    ],
    [
      'makers count serials each for themselves',
      [drive('gannet', { serial: 'K-1', model: 'Kelp 480' }), drive('fulmar', { serial: 'K-1', model: 'Whelk 2T' })],
      'taken',
    ],
    [
      'one of an unknown make may be any',
      [drive('gannet', { serial: 'K-1' }), drive('fulmar', { serial: 'K-1', model: 'Whelk 2T' })],
      'Serial K-1 is that of drive in bay 9 of fulmar; drives are told apart by it before they are wiped, so look again at both.',
    ],
    [
      'two of one make do not share a serial',
      [drive('gannet', { serial: 'K-1', model: 'Whelk 2T' }), drive('fulmar', { serial: 'K-1', model: 'Whelk 2T' })],
      'Serial K-1 is that of drive in bay 9 of fulmar; drives are told apart by it before they are wiped, so look again at both.',
    ],
    [
      'an external machine’s disk lies on its own drive',
      [
        { type: 'guest.add', record: { id: spare, name: 'auk', kind: 'external', state: 'running', vcpu: 1, memoryMiB: 512 } },
        { type: 'disk.add', record: { guestId: spare, sizeBytes: 1e9 } },
      ],
      'taken',
    ],
    [
      'two disks of a guest have two numbers',
      [{ type: 'disk.add', record: { guestId: idOf('news'), storeId: idOf('nvme2'), sizeBytes: 1e9 } }],
      'Number 1 is already used by disk 1 (system) of newsroom; choose another.',
    ],
    [
      'two networks have two names',
      [{ type: 'network.add', record: { name: 'Office' } }],
      'Name Office is already used by network office; choose another.',
    ],
    [
      'one prefix stands once on a network',
      [{ type: 'subnet.add', record: { networkId: idOf('office'), prefix: '10.61.30.0/24' } }],
      'Prefix 10.61.30.0/24 is already used by 10.61.30.0/24; choose another.',
    ],
    ['and may stand on another', [{ type: 'subnet.add', record: { networkId: idOf('studio'), prefix: '10.61.30.0/24' } }], 'taken'],
  ])('%s', (_, commands, words) => expect(outcome(...commands)).toBe(words))

  it('a host goes with its stores and attachments; stopped guests on it stay, unplaced', () => {
    const stopped: Command[] = [{ type: 'guest.power', guestId: idOf('playout'), state: 'stopped' }]
    const { estate: after, difference } = applyAll(
      estate,
      [...stopped, { type: 'host.remove', id: idOf('gannet'), withReferring: true }],
      testContext(42),
    )
    expect(
      Object.values(difference.removed)
        .map(({ kind }) => kind)
        .sort(),
    ).toEqual(['attachment', 'attachment', 'host', 'store'])
    expect(after.find('guest', idOf('playout'))).toMatchObject({ hostId: null, state: 'stopped' })
    expect(after.find('disk', idOf('playoutDisk'))?.storeId).toBeNull()
    expect(outcome({ type: 'host.remove', id: idOf('gannet'), withReferring: true })).toContain(
      'playout-1 is running and would be on no host',
    )
  })

  it('a network goes with its subnets, pools and addresses; adapters are unplugged', () => {
    const { estate: after, difference } = apply(
      estate,
      { type: 'network.remove', id: idOf('studio'), withReferring: true },
      testContext(43),
    )
    expect(
      Object.values(difference.removed)
        .map(({ kind }) => kind)
        .sort(),
    ).toEqual(['address', 'attachment', 'attachment', 'network', 'subnet'])
    expect(after.find('adapter', idOf('playoutAdapter'))?.networkId).toBeNull()
  })
})
