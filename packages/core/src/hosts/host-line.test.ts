import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readHostLine } from './host-line.js'

const names = { platforms: ['Brackwater 5', 'Marram 2'], networks: ['mgmt', 'office'] }

describe('the host line', () => {
  it('reads a host as it is said', () =>
    expect(readHostLine('kittiwake 2x16x2, 128G, +7.68T +960G at studio runs brackwater net mgmt,office ordered', names)).toMatchObject({
      spec: {
        name: 'kittiwake',
        sockets: 2,
        coresPerSocket: 16,
        threadsPerCore: 2,
        memoryMiB: 131072,
        site: 'studio',
        platform: 'Brackwater 5',
        stores: [7.68e12, 960e9],
        networks: ['mgmt', 'office'],
        state: 'on order',
      },
      parts: Array.from({ length: 9 }, () => expect.not.objectContaining({ problem: expect.anything() as string }) as object),
    }))
  it('several stores alike, and a host that is only planned', () =>
    expect(readHostLine('h 2x16 128G +4x4T +480G planned', names).spec).toMatchObject({
      stores: [4e12, 4e12, 4e12, 4e12, 480e9],
      state: 'planned',
    }))
  it.each([
    ['h 2x16 runs Shingle', 'no platform “Shingle”'],
    ['h net dmz', 'no network “dmz”'],
    ['h 2x16 lots', 'not understood'],
    ['h 0x16', 'Sockets must be at least 1'],
    ['h +many', 'not a size'],
    ['h +4xmany', 'not a size'],
    ['h 12Q', 'not a unit'],
    ['h 2x16 8', 'Write 8G for 8 GiB'],
    ['h 2x16 128G 7.68T', 'Write +7.68T for a store of 7.68 TB'],
    ['h 2x16 7.68T', 'Write +7.68T for a store'],
    ['h 2x16 4x4T', 'would be 4 memory modules of 4 TiB. Write drives 4x4T for drives, or +4x4T for stores'],
    ['h 2x16 2x960G', 'Write drives 2x960G for drives'],
    ['h 2x16 32x256G', 'would be 32 memory modules of 256 GiB'],
    [`h ${'1x1 '.repeat(600)}`, 'at most 2000 are read'],
    ['_ 2x16', 'start and end with a letter or digit'],
  ])('“%s” says what is wrong', (line, words) =>
    expect(
      readHostLine(line, names)
        .parts.map((part) => part.problem)
        .join(),
    ).toContain(words),
  )
  it('any line is read without failing, every part in its place', () =>
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (line) => {
        for (const part of readHostLine(line, names).parts) expect(line.slice(part.start, part.end)).toBe(part.text)
      }),
    ))
})
