import { runs } from '../testing/tier.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applyAll } from '../commands/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { composeGuest, printSpecLine, probablyMeant, readSpecLine, specOf, type GuestSpec } from './index.js'

const names = { hosts: ['gannet', 'fulmar', 'kittiwake'], networks: ['office', 'storage', 'studio'], stores: ['nvme-1', 'bulk-1'] }
const disks = (...gib: number[]) => gib.map((size) => ({ sizeBytes: size * GiB }))

it('an address stands behind its network, and is printed there again', () => {
  const line = 'playout-3 4cpu 8G net office,storage=10.61.20.7'
  const { spec } = readSpecLine(line, names)
  expect([spec.networks, spec.ips]).toEqual([['office', 'storage'], { 1: '10.61.20.7' }])
  expect(printSpecLine(spec)).toBe(line)
})

describe('the spec line', () => {
  it('reads a guest as it is said', () => {
    const { spec, parts } = readSpecLine('playout-3 4cpu 8G 40G+200G on gannet net office,storage', names)
    expect(spec).toEqual({
      name: 'playout-3',
      vcpu: 4,
      memoryMiB: 8192,
      disks: disks(40, 200),
      host: 'gannet',
      networks: ['office', 'storage'],
      tags: [],
    })
    expect(parts.every((part) => !part.problem)).toBe(true)
  })

  it('reads the long way round as well', () =>
    expect(readSpecLine('web-1 4 CPUs, 8 gigs, 60-gig disk, on the office network on fulmar', names).spec).toEqual({
      name: 'web-1',
      vcpu: 4,
      memoryMiB: 8192,
      disks: disks(60),
      host: 'fulmar',
      networks: ['office'],
      tags: [],
    }))

  it('the first size is memory, the rest are disks, unless they are named', () => {
    expect(readSpecLine('a 2cpu 60G disk 4G').spec).toMatchObject({ memoryMiB: 4096, disks: disks(60) })
    expect(readSpecLine('a 2cpu 4G 60G 200G').spec).toMatchObject({ memoryMiB: 4096, disks: disks(60, 200) })
    expect(readSpecLine('a 2cpu 20G+30G 8 GB memory').spec).toMatchObject({ memoryMiB: 8192, disks: disks(20, 30) })
    expect(readSpecLine('a 2cpu 8192 60').spec).toMatchObject({ memoryMiB: 8192, disks: disks(60) })
  })

  it('options, purpose, store and tags', () =>
    expect(readSpecLine('tpl 2cpu 2G 20G thick bios steady template store nvme-1 for playout #gold', names).spec).toMatchObject({
      provisioning: 'thick',
      firmware: 'BIOS',
      latency: 'steady',
      kind: 'template',
      store: 'nvme-1',
      purpose: 'playout',
      tags: ['gold'],
    }))

  it('what it cannot read it names, with its place and the nearest word', () => {
    const line = 'playout-3 4cpu steddy on gannit net offic'
    const troubled = readSpecLine(line, names).parts.filter((part) => part.problem)
    expect(troubled.map((part) => [part.text, part.suggestion])).toEqual([
      ['steddy', 'steady'],
      ['on gannit', 'gannet'],
      ['net offic', 'office'],
    ])
    for (const part of troubled) expect(line.slice(part.start, part.end)).toBe(part.text)
  })

  it.each([
    ['a 4cpu 8cpu', 'twice'],
    ['a on', 'name of a host'],
    ['a net', 'names of networks'],
    ['a net office=10.61.40', 'not an address'],
    ['-bad 4cpu', 'start and end with a letter or digit'],
    ['a 0cpu', 'at least 1 vCPU'],
    ['a 8XG', 'is not a size'],
    ['a constructor', 'the words are cpu, on, net, store, for, thin, thick, general, steady, lab, uefi, bios, template'],
    // Nobody gives a guest 8 MiB: both readings are named.
    ['a 4cpu 8', 'Write 8G for 8 GiB, or 8M for 8 MiB'],
    ['a 4cpu 8,192', '8192 or 8.192'],
    [`a ${'8G '.repeat(1000)}`, 'at most 2000 are read'],
  ])('“%s” says what is wrong', (line, words) =>
    expect(
      readSpecLine(line)
        .parts.map((part) => part.problem)
        .join(),
    ).toContain(words),
  )

  it('a size after memory that is asked about is a disk, and not taken for the memory', () => {
    const { spec } = readSpecLine('a 2cpu 496 40G')
    expect([spec.memoryMiB, spec.disks]).toEqual([undefined, disks(40)])
  })

  it('any line at all is read without failing, every part in its place', () =>
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), (line) => {
        for (const part of readSpecLine(line, names).parts) expect(line.slice(part.start, part.end)).toBe(part.text)
      }),
    ))

  it('what is printed reads back as the same guest', () => {
    const word = fc
      .stringMatching(/^[a-z][a-z0-9]{2,8}$/)
      .filter((w) => !['the', 'and', 'with', 'net', 'network', 'networks', 'nets', 'disk', 'disks', 'ram', 'mem', 'memory'].includes(w))
    const option = <T>(arbitrary: fc.Arbitrary<T>) => fc.option(arbitrary, { nil: undefined })
    const specs = fc
      .record({
        name: word.map((w) => `${w}-1`),
        vcpu: option(fc.integer({ min: 1, max: 64 })),
        memoryMiB: option(fc.integer({ min: 4, max: 2 ** 20 })),
        disks: fc.array(fc.record({ sizeBytes: fc.integer({ min: 1, max: 4096 }).map((gib) => gib * GiB) }), { maxLength: 4 }),
        provisioning: option(fc.constantFrom('thin' as const, 'thick' as const)),
        host: option(word),
        networks: fc.array(word, { maxLength: 3 }),
        store: option(word),
        purpose: option(word),
        latency: option(fc.constantFrom('general' as const, 'steady' as const, 'lab' as const)),
        firmware: option(fc.constantFrom('UEFI' as const, 'BIOS' as const)),
        tags: fc.uniqueArray(word, { maxLength: 3 }),
      })
      .map((spec) => Object.fromEntries(Object.entries(spec).filter(([, value]) => value !== undefined)) as unknown as GuestSpec)
    fc.assert(
      fc.property(specs, (spec) => {
        expect(readSpecLine(printSpecLine(spec)).spec).toEqual(spec)
      }),
      { numRuns: runs(150, 2000) },
    )
  })

  it('a recorded guest prints as a line', () => {
    const estate = smallEstate()
    const guest = estate.find('guest', idOf('playout'))
    expect(guest && printSpecLine(specOf(estate, guest))).toBe('playout-1 4cpu 8G 200G thin on gannet net studio store nvme-1 general UEFI')
  })
})

describe('composing', () => {
  it('records guest, disks, adapters with new MACs and addresses in one list of commands', () => {
    const estate = smallEstate()
    const context = testContext(11)
    const commands = composeGuest(
      estate,
      {
        guest: { name: 'playout-2', hostId: idOf('fulmar'), vcpu: 4, memoryMiB: 8192 },
        disks: [{ use: 'system', sizeBytes: 40 * GiB, provisioning: 'thin', storeId: idOf('nvme2') }],
        adapters: [
          { networkId: idOf('studio'), ip: null, addressing: 'fixed' },
          { networkId: idOf('office'), ip: '10.61.30.200', addressing: 'fixed' },
        ],
      },
      context,
    )
    const after = applyAll(estate, commands, context).estate
    const guest = after.byKey('guest', { name: 'PLAYOUT-2' })[0]
    const adapters = after.referring('adapter', 'guestId', guest?.id ?? '')
    expect(new Set(adapters.map((a) => a.mac)).size).toBe(2)
    expect(adapters.flatMap((a) => after.referring('address', 'adapterId', a.id).map((x) => x.ip))).toEqual(['10.61.40.3', '10.61.30.200'])
  })

  // Common practice, no source: 496 typed for 4096.
  it.each([
    [496, 4096],
    [819, 8192],
    [4096, undefined],
    [512, undefined],
    [3000, undefined],
  ])('%d MiB was probably meant as %s', (typed, meant) => expect(probablyMeant(typed)).toBe(meant))
})
