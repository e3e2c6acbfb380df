import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { kinds, readFields, type System, type Workload } from '../estate/index.js'
import { GiB } from '../units/index.js'
import { smallEstate } from '../testing/small-estate.js'
import { checkDevices, modeReach, shippedSystems, shippedWorkloads, sizeFor, workloadsOf, type DevicePlan } from './index.js'

const system = (name: string): System => ({
  id: 's',
  ...readFields(kinds.system.fields, shippedSystems.find((one) => one.name.startsWith(name)) ?? { name }),
})
const workload = (name: string): Workload => {
  const found = workloadsOf(smallEstate()).find((one) => one.name === name)
  if (!found) throw new Error(`no profile ${name}`)
  return found
}

describe('sizing', () => {
  it('is system minimum + workload + headroom, with the working', () => {
    const size = sizeFor(system('Text-only'), workload('web'), 'start small', 25)
    // 512 of the system, 40 % of 1536 is 614.4, a quarter of that 153.6: 1280.
    expect(size.memory.inputs.map(({ value }) => Number(value.toFixed(3)))).toEqual([512, 614.4, 153.6])
    expect([size.vcpu.value, size.memory.value]).toEqual([1, 1280])
    expect(sizeFor(system('Text-only'), workload('web'), 'for the peak', 25)).toMatchObject({ vcpu: { value: 3 }, memory: { value: 2560 } })
  })

  // Facts of the trade, common practice, no source: the first small server, the desktop, the backup server, the nested host.
  it.each([
    ['Text-only', 'small database', 2, 2048],
    ['Desktop', 'desktop', 2, 4096],
    ['Text-only', 'backup', 2, 4096],
    ['Nested host', 'nested host', 4, 16_384],
  ] as const)('%s with %s at the peak is no smaller than the trade’s order of magnitude', (of, work, vcpu, memoryMiB) => {
    const size = sizeFor(system(of), workload(work), 'for the peak', 25)
    expect(size.vcpu.value).toBeGreaterThanOrEqual(vcpu)
    expect(size.memory.value).toBeGreaterThanOrEqual(memoryMiB)
  })

  it('has a data disk with room for its growth, a year at the peak and three months to start with', () => {
    const year = sizeFor(system('Text-only'), workload('file service'), 'for the peak', 0)
    const months = sizeFor(system('Text-only'), workload('file service'), 'start small', 0)
    expect(year.disks.map(({ use, size }) => [use, size.value / GiB])).toEqual([
      ['system', 10],
      ['data', 680],
    ])
    expect(months.disks[1]?.size.value).toBe(545 * GiB)
  })

  it('is never under the system’s minimum, its parts add up, and the peak is never less than the start', () =>
    fc.assert(
      fc.property(
        fc.constantFrom(...shippedSystems),
        fc.constantFrom(...shippedWorkloads),
        fc.integer({ min: 0, max: 200 }),
        (given, work, headroom) => {
          const one: System = { id: 's', ...readFields(kinds.system.fields, given) }
          const [small, peak] = (['start small', 'for the peak'] as const).map((school) =>
            sizeFor(one, workload(work.name), school, headroom),
          )
          for (const size of [small, peak])
            for (const figure of [size?.vcpu, size?.memory, ...(size?.disks.map((disk) => disk.size) ?? [])])
              expect(figure?.inputs.reduce((sum, { value }) => sum + value, 0)).toBeCloseTo(figure?.value ?? NaN, 3)
          expect(small?.memory.value).toBeGreaterThanOrEqual(one.minMemoryMiB ?? 0)
          expect(small?.vcpu.value).toBeGreaterThanOrEqual(one.minVcpu ?? 1)
          expect(peak?.memory.value).toBeGreaterThanOrEqual(small?.memory.value ?? NaN)
          expect(peak?.vcpu.value).toBeGreaterThanOrEqual(small?.vcpu.value ?? NaN)
        },
      ),
    ))
})

const plan = (guest: Partial<DevicePlan['guest']> = {}, more: Partial<DevicePlan> = {}): DevicePlan => ({
  guest: {
    vcpu: 2,
    sockets: 1,
    memoryMiB: 4096,
    memoryMinMiB: null,
    firmware: 'UEFI',
    secureBoot: false,
    trustedModule: false,
    machineType: 'PCIe',
    processorMode: 'host',
    ...guest,
  },
  disks: [{ use: 'system', bus: 'paravirtual', sizeBytes: 60 * GiB, cache: 'none' }],
  adapters: [{ model: 'paravirtual' }],
  ...more,
})

describe('devices against the system', () => {
  it('current kernels drive everything', () => expect(checkDevices(plan(), system('Text-only'))).toEqual([]))

  it('an old system has no driver: the alternative is named, and taking it settles the check', () => {
    let current = plan()
    const old = system('Old desktop')
    const traps = checkDevices(current, old)
    expect(traps.filter(({ severity }) => severity === 'error').map(({ trap }) => trap)).toEqual([
      'disk-driver',
      'adapter-driver',
      'firmware',
    ])
    for (const { mend } of traps) {
      if (mend?.what === 'guest') current = { ...current, guest: { ...current.guest, ...mend.changes } }
      if (mend?.what === 'disk')
        current = { ...current, disks: current.disks.map((disk, at) => (at === mend.at ? { ...disk, ...mend.changes } : disk)) }
      if (mend?.what === 'adapter')
        current = { ...current, adapters: current.adapters.map((one, at) => (at === mend.at ? { ...one, ...mend.changes } : one)) }
    }
    // The PCI board has IDE where the PCIe one had SATA; either is driven.
    expect(checkDevices(current, old).filter(({ severity }) => severity === 'error')).toEqual([])
  })

  it.each([
    [
      'a driver image',
      { paravirtualDisk: 'with a driver image', paravirtualNet: 'with a driver image' },
      ['disk-driver-image', 'adapter-driver-image'],
    ],
    ['UEFI only', { firmware: 'UEFI only' }, []],
    [
      'not known, of another family',
      { family: 'appliance', paravirtualDisk: 'not known', paravirtualNet: 'not known' },
      ['disk-driver', 'adapter-driver'],
    ],
    ['not known, but of a family that has the drivers', { paravirtualDisk: 'not known', paravirtualNet: 'not known' }, []],
  ] as const)('%s', (_, changes, traps) =>
    expect(checkDevices(plan(), { ...system('Text-only'), ...changes }).map(({ trap }) => trap)).toEqual(traps),
  )

  it('minimum and recommendation', () => {
    const small = plan({ memoryMiB: 256, vcpu: 1 }, { disks: [{ use: 'system', bus: 'SATA', sizeBytes: 5 * GiB, cache: 'write-back' }] })
    expect(checkDevices(small, system('Text-only')).map(({ trap, severity }) => `${severity} ${trap}`)).toEqual([
      'error below-minimum',
      'error below-minimum',
      'notice below-recommended',
      'notice cache',
    ])
  })

  it('boards, buses and firmware', () => {
    const bus = (name: 'IDE' | 'NVMe', guest: Partial<DevicePlan['guest']> = {}) =>
      checkDevices(plan(guest, { disks: [{ use: 'system', bus: name, sizeBytes: 60 * GiB, cache: 'none' }] }), system('Text-only')).map(
        ({ severity, mend }) => [severity, mend?.what === 'disk' ? mend.changes.bus : undefined],
      )
    expect(bus('IDE')).toEqual([['error', 'SATA']])
    expect(bus('IDE', { machineType: 'PCI' })).toEqual([])
    expect(bus('NVMe', { machineType: 'PCI' })).toEqual([['error', 'SATA']])
    expect(bus('NVMe', { firmware: 'BIOS' })).toEqual([['warning', 'SATA']])
    expect(
      checkDevices(plan({ firmware: 'BIOS', trustedModule: true }), { ...system('Text-only'), firmware: 'UEFI only' }).map(
        ({ trap }) => trap,
      ),
    ).toEqual(['firmware', 'trusted-module'])
  })

  it('limits of the platform, level of the processor, sockets it spans', () => {
    const estate = smallEstate()
    const [platform, host] = [estate.all('platform')[0], estate.all('host')[0]]
    if (!platform || !host) throw new Error('no platform')
    // x86-64 psABI supplement: what is below is x86-64-v1 and one feature of v2.
    const old = { ...host, sockets: 2, cpuFlags: 'fpu cx8 cmov fxsr mmx syscall sse sse2 cx16' }
    const limits = { ...platform, guestVcpuMax: 8, guestDisksMax: 1, guestAdaptersMax: 1, diskMaxBytes: 50 * GiB }
    expect(checkDevices(plan({ vcpu: 16, processorMode: 'x86-64-v2' }), undefined, limits, old).map(({ trap }) => trap)).toEqual([
      'limit',
      'limit',
      'processor-mode',
      'numa',
    ])
    expect(modeReach(old, [old, { ...old, id: 'other', cpuFlags: null }]).map(({ mode, unknown }) => [mode, unknown.length])).toEqual([
      ['host', 1],
      ['x86-64-v1', 1],
    ])
  })
})
