import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { applyAll } from '../commands/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { formatBytes, GiB } from '../units/index.js'
import { arrayLevels, arrayOf, drivesOf, labelAgainstShown, planArray, readDriveList, uncutBytes } from './array.js'

const four = [4e12, 4e12, 4e12, 4e12]
const sizes = fc.array(fc.integer({ min: 1e9, max: 2e13 }), { minLength: 1, maxLength: 12 })

// Linux md(4) manual page, "RAID0" to "RAID10"; SNIA Common RAID Disk Data Format.
describe('arrays', () => {
  it.each([
    ['0', 16e12, 0, 0],
    ['1', 4e12, 3, 3],
    ['5', 12e12, 1, 1],
    ['6', 8e12, 2, 2],
    ['10', 8e12, 1, 2],
  ] as const)('four drives of 4 TB at level %s', (level, usable, mayFail, atBest) => {
    const plan = planArray(four, level)
    expect([plan.usable.value, plan.mayFail, plan.mayFailAtBest]).toEqual([usable, mayFail, atBest])
    expect(plan.problem).toBeUndefined()
  })

  // Measured on this distribution's btrfs with four loop devices of 100 GiB (facts of the trade, references): raid0 398,
  // raid10 199 GiB of payload; 2 GiB go to its own metadata. Equal members only: mixed ones differ from md by design.
  it.each([
    ['0', 398],
    ['10', 199],
  ] as const)('level %s of four equal members agrees with what a file system measured, but for its metadata', (level, measuredGiB) => {
    const plan = planArray(
      [100, 100, 100, 100].map((size) => size * GiB),
      level,
    )
    expect(plan.usable.value / GiB - measuredGiB).toBeGreaterThanOrEqual(0)
    expect(plan.usable.value / GiB - measuredGiB).toBeLessThanOrEqual(2)
  })

  it('unequal members count as the smallest, and what is lost is said', () => {
    const plan = planArray([4e12, 2e12, 4e12], '5')
    expect([plan.usable.value, plan.lostBytes]).toEqual([4e12, 4e12])
    expect(plan.cautions).toContain(`Members are unequal: ${formatBytes(4e12)} of the larger ones stay unused.`)
  })

  it('too few members are a sentence, not a number', () => {
    expect(planArray([4e12, 4e12], '5').problem).toBe('Level 5 needs at least 3 members; there are 2.')
    expect(planArray([4e12, 4e12, 4e12, 4e12], '6', 1).problem).toBe('Level 6 needs at least 4 members; there are 3.')
    expect(planArray([], '0').usable.value).toBe(0)
  })

  // Common practice, no source: the caution above 2 TB.
  it('cautions where single parity guards large members, and not below', () => {
    expect(planArray(four, '5').cautions.join()).toMatch(/second failure/)
    expect(planArray([2e12, 2e12, 2e12], '5').cautions).toEqual([])
    expect(planArray(four, '6').cautions.join()).toMatch(/level 10/)
  })

  it('usable and protection make up the members; a spare adds nothing; a level never gives more than level 0', () =>
    fc.assert(
      fc.property(sizes, fc.constantFrom(...arrayLevels), fc.nat(2), (drives, level, spares) => {
        const plan = planArray(drives, level, spares)
        if (plan.problem) {
          expect(plan.usable.value).toBe(0)
          return
        }
        expect(plan.usable.value + plan.protectionBytes).toBe(plan.members * plan.memberBytes)
        expect(plan.usable.value).toBeLessThanOrEqual(plan.members * plan.memberBytes)
        const members = [...drives].sort((a, b) => a - b).slice(0, drives.length - spares)
        expect(plan.usable.value).toBe(planArray(members, level).usable.value)
        expect(plan.mayFail).toBeLessThanOrEqual(plan.mayFailAtBest)
      }),
    ))

  it('a recorded array: members, spare, stores cut from it', () => {
    const id = '01890000-0000-7000-8000-0000000000b1'
    const estate = applyAll(
      smallEstate(),
      [
        { type: 'array.add', record: { id, hostId: idOf('gannet'), name: 'bulk', level: '5' } },
        ...[1, 2, 3].map((position) => ({
          type: 'drive.add' as const,
          record: { hostId: idOf('gannet'), position, labelBytes: 1e12, use: 'member' as const, arrayId: id },
        })),
        { type: 'drive.add', record: { hostId: idOf('gannet'), position: 4, labelBytes: 5e11, use: 'spare', arrayId: id } },
        { type: 'store.add', record: { name: 'cut-1', hostId: idOf('gannet'), arrayId: id, capacityBytes: 15e11 } },
      ],
      testContext(8),
    ).estate
    const array = estate.find('array', id)
    if (!array) throw new Error('no array')
    expect(arrayOf(estate, array)).toMatchObject({ members: 3, spares: 1, mayFail: 1 })
    expect(arrayOf(estate, array).cautions).toEqual(['The spare in bay 4 is smaller than the members and cannot replace one.'])
    expect(uncutBytes(estate, array)).toBe(5e11)
    expect(drivesOf(estate, array).map(({ position }) => position)).toEqual([1, 2, 3, 4])
  })
})

describe('drives on paper', () => {
  it.each([
    ['4x4T', [4e12, 4e12, 4e12, 4e12]],
    ['2x960G, 1T', [960e9, 960e9, 1e12]],
    ['2×1.92 TB', undefined],
    ['', []],
  ])('%s', (text, bytes) => {
    const reading = readDriveList(text)
    if (bytes) expect(reading).toEqual({ bytes })
    else expect('sentence' in reading).toBe(true)
  })
  it.each(['4x4Q', 'x', '0x4T', '500x1T', '3x0G'])('%s is a sentence', (text) => expect('sentence' in readDriveList(text)).toBe(true))
})

// IEC 80000-13; the values are those of units(1): 250 GB is 232.83 GiB, 2 TB is 1.819 TiB.
describe('label against screen', () => {
  it.each([
    [250e9, '250 GB on the label is 232.8 GiB on the screen: 1 GB is 10⁹ bytes, 1 GiB is 2³⁰, 7.4 % more.'],
    [2e12, '2 TB on the label is 1.819 TiB on the screen: 1 TB is 10¹² bytes, 1 TiB is 2⁴⁰, 10 % more.'],
  ])('%d bytes', (bytes, sentence) => expect(labelAgainstShown(bytes)).toBe(sentence))
})
