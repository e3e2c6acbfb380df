import { parse } from 'yaml'
import { describe, expect, it } from 'vitest'
import { applyAll } from '../../commands/index.js'
import { nameTable } from '../../names/index.js'
import { testContext } from '../../testing/index.js'
import { idOf, smallEstate } from '../../testing/small-estate.js'
import { ansibleInventory, sshConfig, toolMachines } from './index.js'

const context = testContext()
const estate = smallEstate()
const network = estate.find('network', idOf('office'))
const machinesOf = (of: typeof estate) => toolMachines(of, { hosts: of.all('host'), guests: of.all('guest') })

describe('machines for other tools', () => {
  it('a host and a guest of one name are two machines of an inventory', () => {
    const both = applyAll(
      estate,
      [{ type: 'guest.add', record: { name: 'Gannet', vcpu: 1, memoryMiB: 512, tags: ['odd'] } }],
      context,
    ).estate
    const { all } = parse(ansibleInventory(machinesOf(both))) as {
      all: { hosts: Record<string, unknown>; children: Record<string, { hosts: Record<string, unknown> }> }
    }
    expect(Object.keys(all.hosts)).toEqual(expect.arrayContaining(['gannet', 'Gannet.guest']))
    expect(all.children['tag_odd']?.hosts).toEqual({ 'Gannet.guest': {} })
    // It has no group, no purpose and no address: it is in no group of those, and nowhere to be reached.
    expect(Object.entries(all.children).flatMap(([name, { hosts }]) => ('Gannet.guest' in hosts ? [name] : []))).toEqual([
      'guests',
      'tag_odd',
    ])
    expect(sshConfig(machinesOf(both))).not.toContain('Gannet')
    expect(sshConfig(machinesOf(both))).toContain('playout-1')
    expect(Object.keys(all.hosts)).toHaveLength(machinesOf(both).length)
  })

  // RFC 4007: it is good with a zone only, which whoever asks has and no file knows; RFC 4472, 2.1: nor does DNS.
  it('a link-local address is not where a machine is found, and has no name', () => {
    const subnetId = '01890000-0000-7000-8000-00000000aaac'
    const added = applyAll(
      estate,
      [
        { type: 'subnet.add', record: { id: subnetId, networkId: network?.id ?? '', prefix: '2001:db8:61::/64' } },
        { type: 'guest.add', record: { id: '01890000-0000-7000-8000-00000000aaaa', name: 'shore', vcpu: 1, memoryMiB: 512 } },
        {
          type: 'adapter.add',
          record: {
            id: '01890000-0000-7000-8000-00000000aaab',
            guestId: '01890000-0000-7000-8000-00000000aaaa',
            networkId: network?.id ?? null,
          },
        },
        { type: 'address.add', record: { subnetId, ip: 'fe80::7', adapterId: '01890000-0000-7000-8000-00000000aaab' } },
      ],
      context,
    ).estate
    expect(machinesOf(added).find(({ name }) => name === 'shore')?.ip).toBeUndefined()
    expect(sshConfig(machinesOf(added))).not.toContain('fe80')
    expect(nameTable(added).unnamed).toContainEqual({ what: 'fe80::7', reason: expect.stringContaining('RFC 4472') as string })
    expect(nameTable(added).names.some(({ ip }) => ip === 'fe80::7')).toBe(false)
  })
})
