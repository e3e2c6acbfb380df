import { describe, expect, it } from 'vitest'
import { applyAll } from '../commands/index.js'
import { type Disk, type Estate } from '../estate/index.js'
import { storeBudget } from '../capacity/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { reprovision } from './index.js'

const diskOf = (estate: Estate): Disk => {
  const disk = estate.find('disk', idOf('playoutDisk'))
  if (!disk) throw new Error('no disk')
  return disk
}
const used = (estate: Estate) => {
  const store = estate.find('store', idOf('nvme1'))
  if (!store) throw new Error('no store')
  return storeBudget(estate, store)
}

// A thin disk grows as data is written and does not shrink by itself: common practice, no source.
describe('thin and thick', () => {
  const estate = smallEstate()
  it('a thin disk made thick takes the rest of its size at once', () => {
    const made = reprovision(estate, diskOf(estate))
    expect(made).toMatchObject({ to: 'thick', takesBytes: 120 * GiB })
    const after = applyAll(estate, made?.commands ?? [], testContext()).estate
    expect(used(after).used.value - used(estate).used.value).toBe(120 * GiB)
    expect(used(after).freeBytes).toBe(made?.freeBytes)
    expect(used(after).promised.value).toBe(used(estate).promised.value)
  })
  it('and made thin again gives nothing back by itself', () => {
    const thick = applyAll(estate, reprovision(estate, diskOf(estate))?.commands ?? [], testContext()).estate
    const made = reprovision(thick, diskOf(thick))
    expect(made).toMatchObject({ to: 'thin', takesBytes: 0 })
    expect(used(applyAll(thick, made?.commands ?? [], testContext()).estate).used.value).toBe(used(thick).used.value)
  })
  it('says by how much it does not go', () => {
    const full = applyAll(
      estate,
      [{ type: 'store.update', id: idOf('nvme1'), changes: { otherBytes: used(estate).freeBytes - 20 * GiB } }],
      testContext(),
    ).estate
    expect(reprovision(full, diskOf(full))?.freeBytes).toBe(-100 * GiB)
  })
  it('a disk on no store has nothing to take', () => expect(reprovision(estate, { ...diskOf(estate), storeId: null })).toBeUndefined())
})
