import { describe, expect, it } from 'vitest'
import { applyAll, type Command } from '../commands/index.js'
import { type Estate, type Host, storeReach, storesForDisks } from '../estate/index.js'
import { generateEstate } from '../testing/generate-estate.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { leftToPromise, storeSpace, failoverReserve, guestOverhead, logicalCpus, memoryBudget, storeBudget, vcpuBudget } from './index.js'

const estate = smallEstate()
const host = (name: string): Host => {
  const found = estate.find('host', idOf(name))
  if (!found) throw new Error(name)
  return found
}

describe('memory of a host', () => {
  // Common practice, no source: 1.4 of 7.6 GiB in use by an idle platform is 18.4 %.
  it('an idle 8 GB machine has 7.6 GiB, of which the platform takes 1.4', () => {
    const { availableForGuests, ownMiB } = memoryBudget(estate, host('tern'))
    expect(availableForGuests.value).toBe(7782 - 1434)
    expect((ownMiB / 7782) * 100).toBeCloseTo(18.4, 1)
  })
  it('every figure is the sum its working says', () => {
    for (const name of ['gannet', 'fulmar', 'tern']) {
      const { availableForGuests, committed, left } = memoryBudget(estate, host(name))
      for (const figure of [availableForGuests, committed, left]) {
        const sum = figure.inputs.reduce((total, input) => total + (input.sign === '−' ? -input.value : input.value), 0)
        expect(figure.value).toBe(sum)
        expect(figure.formula).not.toBe('')
        expect(figure.source).not.toBe('')
      }
      expect(left.value).toBe(availableForGuests.value - committed.value)
    }
  })
  // From memory, editable on the platform: 64 MiB + 1 % of its memory.
  it('a guest of 8 GiB costs 146 MiB more than its own', () =>
    expect(guestOverhead({ guestOverheadMiB: 64, guestOverheadPercent: 1 }, 8192)).toBe(146))
  it('templates take no memory; over-commit stretches the part available for guests', () => {
    expect(memoryBudget(estate, host('gannet')).committed.inputs.map((i) => i.label)).toEqual(['playout-1'])
    const loose = applyAll(estate, [{ type: 'policy.update', id: idOf('policy'), changes: { memoryCeiling: 1.5 } }], testContext()).estate
    expect(memoryBudget(loose, host('gannet')).left.value).toBe(Math.round((32768 - 1434) * 1.5) - (8192 + 146))
  })
  it('the reserve is the host’s own figure, or the policy’s share', () => {
    const shared = applyAll(
      estate,
      [{ type: 'policy.update', id: idOf('policy'), changes: { failoverReservePercent: 25 } }],
      testContext(),
    ).estate
    expect(failoverReserve(shared, host('gannet'))).toBe(8192)
    expect(failoverReserve(shared, { ...host('gannet'), failoverReserveMiB: 100 })).toBe(100)
  })
})

describe('processors of a host', () => {
  // Common practice, no source: two 6-core processors with 2 threads are 12 cores, 24 logical CPUs.
  it('two 6-core processors have 24 logical CPUs', () => expect(logicalCpus({ sockets: 2, coresPerSocket: 6, threadsPerCore: 2 })).toBe(24))
  // Common practice, no source: 4 vCPU per core in general, 1 for steady guests, 8 in a lab.
  it('vCPUs count by their class', () => {
    const mixed = applyAll(
      estate,
      [
        { type: 'guest.clone', guestId: idOf('template'), name: 'lab-1' },
        { type: 'guest.update', id: idOf('playout'), changes: { latency: 'steady' } },
      ],
      testContext(),
    ).estate
    const clone = mixed.byKey('guest', { name: 'lab-1' })[0]
    const lab = applyAll(mixed, [{ type: 'guest.update', id: clone?.id ?? '', changes: { latency: 'lab', vcpu: 8 } }], testContext()).estate
    const { load, left, ceilingVcpu } = vcpuBudget(lab, host('gannet'))
    expect(load.value).toBe(4 / 1 + 8 / 8)
    expect(left.value).toBe(8 - 5)
    expect(ceilingVcpu).toBe(32)
  })
})

describe('stores', () => {
  const store = (name: string) => {
    const found = estate.find('store', idOf(name))
    if (!found) throw new Error(name)
    return found
  }
  it('use, promise and exposure: thin disks as last seen, thick ones whole', () => {
    const thick = applyAll(
      estate,
      [{ type: 'disk.update', id: idOf('templateDisk'), changes: { provisioning: 'thick' } }],
      testContext(),
    ).estate
    const { used, promised, freeBytes, exposure, promiseRatio } = storeBudget(thick, store('nvme1'))
    expect(used.value).toBe((80 + 40) * GiB)
    expect(promised.value).toBe((200 + 40) * GiB)
    expect(freeBytes).toBe(880 * GiB)
    expect(promiseRatio).toBeCloseTo(0.24)
    expect(exposure.value).toBe((240 - 120 - 880) * GiB)
  })
  it('what lies beside disks is used and promised too: images, backups, files', () => {
    const full = applyAll(
      estate,
      [
        { type: 'store.update', id: idOf('nvme1'), changes: { otherBytes: 100 * GiB } },
        { type: 'image.add', record: { name: 'server.iso', sizeBytes: 3 * GiB, storeId: idOf('nvme1') } },
      ],
      testContext(),
    ).estate
    const [before, after] = [estate, full].map((one) => storeBudget(one, one.find('store', idOf('nvme1')) ?? store('nvme1')))
    expect((after?.used.value ?? 0) - (before?.used.value ?? 0)).toBe(103 * GiB)
    expect((after?.promised.value ?? 0) - (before?.promised.value ?? 0)).toBe(103 * GiB)
    expect((after?.freeBytes ?? 0) - (before?.freeBytes ?? 0)).toBe(-103 * GiB)
    expect(after?.used.inputs.map(({ label }) => label)).toEqual(expect.arrayContaining(['server.iso', 'backups, files']))
  })
  it('are reached by their host, or by the hosts of their site', () => {
    expect(storeReach(store('nvme1'), host('gannet'))).toBe(true)
    expect(storeReach(store('nvme1'), host('fulmar'))).toBe(false)
    const shared = { ...store('nvme1'), hostId: null, kind: 'shared' as const, site: 'studio' }
    expect(storeReach(shared, host('fulmar'))).toBe(true)
    expect(storeReach(shared, host('tern'))).toBe(false)
  })
  it('may be chosen for a disk unless they are kept for backups', () => {
    const names = (of: Estate) => storesForDisks(of, host('gannet')).map(({ name }) => name)
    const kept = applyAll(estate, [{ type: 'store.update', id: idOf('nvme1'), changes: { kind: 'backup' } }], testContext()).estate
    expect(names(estate)).toContain(store('nvme1').name)
    expect(names(kept)).toEqual(names(estate).filter((name) => name !== store('nvme1').name))
  })
})

describe('figures and numbers', () => {
  const generated = generateEstate({ hosts: 20, guests: 300, adapters: 400 })
  const [policy] = generated.all('policy')
  if (!policy) throw new Error('no policies')
  const moving = applyAll(
    estate,
    [{ type: 'migration.begin', guestId: idOf('playout'), toHostId: idOf('fulmar'), stores: { [idOf('playoutDisk')]: idOf('nvme2') } }],
    testContext(6),
  ).estate
  const loose = applyAll(generated, [{ type: 'policy.update', id: policy.id, changes: { memoryCeiling: 1.3 } }], testContext()).estate

  it.each([
    ['the small estate', estate],
    ['a generated one', generated],
    ['one with a memory ceiling', loose],
    ['one with a move under way', moving],
  ])('say the same of %s', (_, of) => {
    for (const one of of.all('host')) {
      const { left } = memoryBudget(of, one)
      const processors = vcpuBudget(of, one)
      const numbers = leftToPromise(of, one)
      expect([left.value, processors.left.value]).toEqual([numbers.memoryMiB, expect.closeTo(numbers.cores, 9)])
    }
    for (const one of of.all('store')) {
      const { used, promised, held, freeBytes } = storeBudget(of, one)
      expect({ usedBytes: used.value, promisedBytes: promised.value, heldBytes: held.value, freeBytes }).toEqual(storeSpace(of, one))
    }
  })
})

it('a move under way holds memory and cores where it arrives', () => {
  const moving = applyAll(
    estate,
    [{ type: 'migration.begin', guestId: idOf('playout'), toHostId: idOf('fulmar'), stores: { [idOf('playoutDisk')]: idOf('nvme2') } }],
    testContext(6),
  ).estate
  const [fulmar] = moving.all('host').filter(({ name }) => name === 'fulmar')
  if (!fulmar) throw new Error('no fulmar')
  // 8 cores less 2 and 4 general vCPUs by four; 32768 MiB less the platform's 1434, less 4201 and 8338 of the two guests.
  expect(leftToPromise(moving, fulmar)).toEqual({ cores: 6.5, memoryMiB: 18_795 })
})

describe('snapshots take room on the stores of their guest’s disks', () => {
  const taken: Command = {
    type: 'snapshot.add',
    record: { guestId: idOf('playout'), name: 'before', takenAt: '2027-01-10T08:00:00Z', sizeBytes: 30 * GiB },
  }
  const of = (at: Estate, name: string) => {
    const store = at.find('store', idOf(name))
    if (!store) throw new Error(name)
    return { space: storeSpace(at, store), budget: storeBudget(at, store) }
  }
  it('whole where its disks are on one store, and say so', () => {
    const { estate: with30 } = applyAll(estate, [taken], testContext())
    const [was, is] = [of(estate, 'nvme1'), of(with30, 'nvme1')]
    expect(is.space.usedBytes - was.space.usedBytes).toBe(30 * GiB)
    expect(is.space.promisedBytes - was.space.promisedBytes).toBe(30 * GiB)
    expect(is.budget.used.value).toBe(is.space.usedBytes)
    expect(is.budget.freeBytes).toBe(was.budget.freeBytes - 30 * GiB)
    expect(is.budget.used.inputs.find(({ label }) => label === 'playout-1 snapshot before')).toMatchObject({
      value: 30 * GiB,
      from: 'snapshot, as last seen',
    })
  })
  it('by the size of its disks where they are on two', () => {
    const size = estate.find('disk', idOf('playoutDisk'))?.sizeBytes ?? 0
    const { estate: spread } = applyAll(
      estate,
      [
        { type: 'store.update', id: idOf('nvme2'), changes: { hostId: null, kind: 'shared', site: 'studio' } },
        { type: 'disk.add', record: { guestId: idOf('playout'), position: 2, storeId: idOf('nvme2'), sizeBytes: size * 2 } },
      ],
      testContext(),
    )
    const { estate: with30 } = applyAll(spread, [taken], testContext(2))
    const more = (name: string) => of(with30, name).space.usedBytes - of(spread, name).space.usedBytes
    expect([more('nvme1') / GiB, more('nvme2') / GiB]).toEqual([10, 20])
  })
})
