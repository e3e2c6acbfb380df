import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import type { Estate } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/index.js'
import { differingCells, differingIps, prefixOf } from '../index.js'

const estate = smallEstate()
const subnetIn = (of: Estate) => {
  const found = of.find('subnet', idOf('officeNet'))
  if (!found) throw new Error('The small estate has a network for the office.')
  return found
}
const subnet = subnetIn(estate)
const after = (...commands: Command[]) => applyAll(estate, commands, testContext())
const ADDRESS = '01890000-0000-7000-8000-0000000000b1'
const give: Command = { type: 'address.assign', id: ADDRESS, adapterId: idOf('newsAdapter'), ip: '10.61.30.150' }

describe('addresses that differ', () => {
  const given = after(give)
  const cells = (of = given.estate, before = estate) => Object.fromEntries(differingCells(before, of, subnetIn(of), prefixOf(subnet)))

  it('are none where nothing changed', () => expect(cells(estate)).toEqual({}))

  it('are new where one is assigned, and changed where it is released or its machine has another name', () => {
    expect(cells()).toEqual({ '10.61.30.150': 'new' })
    expect(cells(estate, given.estate)).toEqual({ '10.61.30.150': 'changed' })
    const renamed = after(give, { type: 'guest.update', id: idOf('news'), changes: { name: 'desk' } })
    expect(cells(renamed.estate, given.estate)).toEqual({ '10.61.30.150': 'changed' })
  })

  it('are one mark for a run that changed its ground, and one for each that is held', () => {
    const longer = after({ type: 'pool.update', id: idOf('pool'), changes: { last: '10.61.30.119' } })
    expect(cells(longer.estate)).toEqual({ '10.61.30.100': 'changed' })
    const kept = after({ type: 'address.reserve', subnetId: subnet.id, first: '10.61.30.200', last: '10.61.30.202', note: 'cameras' })
    expect(cells(kept.estate)).toEqual({ '10.61.30.200': 'new', '10.61.30.201': 'new', '10.61.30.202': 'new' })
  })

  it('are not told one by one where the subnet is new or has another prefix', () => {
    const moved = after({ type: 'subnet.update', id: subnet.id, changes: { prefix: '10.61.30.0/25' } })
    expect(cells(moved.estate)).toEqual({})
  })

  it('are named by a difference, by subnet', () => {
    expect(differingIps(given.difference, subnet.id)).toEqual(['10.61.30.150'])
    expect(differingIps(given.difference, idOf('studioNet'))).toEqual([])
    const moved = applyAll(given.estate, [{ type: 'address.update', id: ADDRESS, changes: { ip: '10.61.30.151' } }], testContext())
    expect(differingIps(moved.difference, subnet.id)).toEqual(['10.61.30.150', '10.61.30.151'])
  })
})
