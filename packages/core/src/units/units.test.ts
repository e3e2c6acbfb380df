import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  counted,
  formatBytes,
  formatDuration,
  formatLabelBytes,
  formatMiB,
  formatNumber,
  formatUnit,
  GiB,
  MiB,
  parseSize,
  tcpPayloadRate,
  TB,
} from './index.js'

const bytesOf = (text: string, context: Parameters<typeof parseSize>[1]) => {
  const reading = parseSize(text, context)
  if (!reading.ok) throw new Error(reading.sentence)
  return reading.bytes
}

describe('sizes', () => {
  // IEC 80000-13: GB = 10^9 bytes, GiB = 2^30 bytes; check values of the same standard's prefixes.
  it.each([
    [250e9, 232.83, 'GiB'],
    [500e9, 465.66, 'GiB'],
  ])('%d bytes are %d GiB', (bytes, gib) => expect(bytes / GiB).toBeCloseTo(gib, 2))
  it('2 TB are 1.819 TiB', () => expect((2 * TB) / 2 ** 40).toBeCloseTo(1.819, 3))

  it('reads a size as it is said in the field where it stands', () => {
    for (const text of ['8G', '8 GB', '8 gigs', '8192', '8 GiB', '8-gig', '8g']) expect(bytesOf(text, 'memory')).toBe(8 * GiB)
    expect(bytesOf('60', 'disk')).toBe(60 * GiB)
    expect(bytesOf('250 GB', 'label')).toBe(250e9)
    expect(bytesOf('1.5T', 'disk')).toBe(1.5 * 2 ** 40)
    expect(bytesOf('1,5 GiB', 'memory')).toBe(1.5 * GiB)
  })

  it.each(['', 'much', '8X', '-4G', '0', '4 4G', '1e9G'])('refuses “%s” in a sentence', (text) => {
    const reading = parseSize(text, 'memory')
    expect(reading.ok).toBe(false)
    if (!reading.ok) expect(reading.sentence).toMatch(/\.$/)
  })

  it('refuses what a number cannot hold exactly', () => expect(parseSize('99999999T', 'disk')).toMatchObject({ ok: false }))

  it('any whole number of MiB survives writing and reading', () =>
    fc.assert(fc.property(fc.integer({ min: 1, max: 2 ** 24 }), (mib) => bytesOf(`${mib} MiB`, 'memory') === mib * MiB)))

  it('writes sizes in the unit that fits', () => {
    expect(formatBytes(250e9)).toBe('232.8 GiB')
    expect(formatBytes(-3 * GiB)).toBe('−3 GiB')
    expect(formatBytes(12)).toBe('12 B')
    expect(formatLabelBytes(250e9)).toBe('250 GB')
    expect(formatMiB(1434)).toBe('1.4 GiB')
    expect(formatNumber(12345.678)).toBe('12\u2009345.7')
  })
})

describe('durations', () => {
  it.each([
    [42, '42 s'],
    [544, '9 min 4 s'],
    [7800, '2 h 10 min'],
    [12_162, '3 h 23 min'],
    [3599.6, '1 h'],
    [86_380, '1 d'],
    [86400 * 3 + 3600, '3 d 1 h'],
  ])('%d s is %s', (seconds, text) => expect(formatDuration(seconds)).toBe(text))
})

describe('link rates', () => {
  // IEEE 802.3 framing, RFC 791 and RFC 9293 header sizes: 1460 of 1538 bytes carry payload at MTU 1500.
  it.each(['8', '63', '65', '100', '200', '300', '496', '500', '511', '4194304', '4194305', '8388608'])(
    '%s MiB of memory are asked about',
    (text) => {
      for (const hints of [{}, { unit: 'MiB', isOfMachine: true }] as const) {
        const reading = parseSize(text, 'memory', hints)
        expect(reading).toMatchObject({ ok: false, needsUnit: true })
      }
      // Said with its unit, or measured, it is what it says.
      expect(parseSize(`${text}M`, 'memory')).toMatchObject({ ok: true })
      expect(parseSize(text, 'memory', { unit: 'MiB' })).toMatchObject({ ok: true })
    },
  )
  it.each(['64', '96', '128', '256', '384', '512', '600', '768', '1000', '1024', '4000', '7782', '8192', '786432', '4194303'])(
    '%s MiB of memory are what machines have',
    (text) => expect(parseSize(text, 'memory')).toEqual({ ok: true, bytes: Number(text) * MiB }),
  )
  it('4096 in a column of GB is asked about: MiB in the wrong column, as often', () =>
    expect(parseSize('4096', 'memory', { unit: 'GiB', isOfMachine: true })).toMatchObject({
      sentence: '“4096” would be 4 TiB of memory. Write its unit with it, such as 4096K or 4096M, or 4 TiB if it is meant.',
    }))
  it('what is asked names both units, and that it may be a slip', () =>
    expect(parseSize('496', 'memory')).toMatchObject({
      sentence:
        '“496” would be 496 MiB of memory, a size that hardly any machine has. Write 496G for 496 GiB, 496M if it is meant, or mend a slip.',
    }))
  it('a 1 Gbit/s link carries 118.66 MB/s of TCP payload', () =>
    expect(tcpPayloadRate({ linkMbps: 1000, mtu: 1500 }) / 1e6).toBeCloseTo(118.66, 2))
  it('a 10 Gbit/s link carries 1186.6 MB/s', () => expect(tcpPayloadRate({ linkMbps: 10000, mtu: 1500 }) / 1e6).toBeCloseTo(1186.6, 1))
  // Same sources: 8960 of 9038 bytes.
  it('MTU 9000 lets 99.14 % through', () => expect(tcpPayloadRate({ linkMbps: 8, mtu: 9000 }) / 1e6).toBeCloseTo(0.9914, 4))
})

it('a number with its noun', () => {
  expect([counted(1, 'guest'), counted(0, 'guest'), counted(12, 'address', 'addresses')]).toEqual(['1 guest', '0 guests', '12 addresses'])
  expect(counted(12_345, 'guest')).toBe('12\u2009345 guests')
})

it.each([
  [1, 'guests', '1 guest'],
  [0, 'guests', '0 guests'],
  [1, 'addresses', '1 address'],
  [1, 'cores', '1 core'],
  [1.04, 'days', '1 day'],
  [1.5, 'cores', '1.5 cores'],
  [-1, 'days', '−1 days'],
  [1, 'vCPU', '1 vCPU'],
  [1434, 'MiB', '1.4 GiB'],
] as const)('%d %s is %s', (value, unit, shown) => expect(formatUnit(value, unit)).toBe(shown))
