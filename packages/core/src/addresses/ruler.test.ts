import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { NetworkEstate } from '../testing/network-estate.js'
import { addressCells, longestGap, parsePrefix, placeNames, rulerLines } from '../index.js'

const net = new NetworkEstate()
  .net('office', '10.61.40.0/24', '10.61.40.1')
  .pool('office', '10.61.40.100', '10.61.40.199')
  .host('gannet', 'office', { legs: [{ net: 'office', ip: '10.61.40.11' }] })
  .guest('desk', 'gannet', [{ net: 'office', ip: '10.61.40.120' }])
const subnetId = net.id('office/subnet')
for (const last of [20, 21, 22, 30])
  net.record('address', { subnetId, ip: `10.61.40.${last}`, kind: 'reserved', name: last < 30 ? 'printers' : 'spare' })
const estate = net.estate()
const subnet = estate.find('subnet', subnetId)
if (!subnet) throw new Error('no subnet')
const cells = addressCells(estate, subnet, parsePrefix('10.61.40.0/24'))
const lines = rulerLines(cells, 32)

describe('a subnet on ruled lines', () => {
  it('has a line for each stretch of 32, each with its marks', () => {
    expect(lines.map(({ cells: [first] }) => first?.ip)).toEqual([0, 32, 64, 96, 128, 160, 192, 224].map((last) => `10.61.40.${last}`))
    expect(lines[0]?.marks.map(({ at, cell }) => [at, cell.state, cell.machine])).toEqual([
      [1, 'gateway', undefined],
      [11, 'fixed', 'gannet'],
    ])
    expect(lines[3]?.marks.map(({ at, cell }) => [at, cell.state, cell.machine])).toEqual([[24, 'conflict', 'desk']])
  })
  it('shows what each stretch is: kept by the prefix, reserved by name, free', () =>
    expect(lines[0]?.spans.map(({ ground, says, from, count, runCount }) => [ground, says, from, count, runCount])).toEqual([
      ['not assignable', '', 0, 1, 1],
      ['used', '', 1, 1, 1],
      ['free', '', 2, 9, 9],
      ['used', '', 11, 1, 1],
      ['free', '', 12, 8, 8],
      ['reserved', 'printers', 20, 3, 3],
      ['free', '', 23, 7, 7],
      ['reserved', 'spare', 30, 1, 1],
      // Goes on over two lines more, as far as the DHCP range.
      ['free', '', 31, 1, 69],
    ]))
  it('a DHCP range is one run, whoever is in it, and names itself where no mark stands', () => {
    const spans = lines.flatMap((line) => line.spans).filter(({ ground }) => ground === 'DHCP range')
    expect(new Set(spans.map(({ runFrom, runCount }) => `${runFrom} ${runCount}`))).toEqual(new Set(['100 100']))
    const [line] = lines.slice(3)
    const span = line?.spans.find(({ ground }) => ground === 'DHCP range')
    expect(line && span && longestGap(span, line.marks)).toEqual({ from: 4, count: 20 })
  })
  it('loses no address, however long the lines are', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 300 }), (perLine) => {
        const drawn = rulerLines(cells, perLine)
        expect(drawn.flatMap((line) => line.cells)).toEqual(cells)
        for (const line of drawn) {
          // Side by side, from the first to the last.
          let next = 0
          for (const span of line.spans) {
            expect(span.from).toBe(next)
            next += span.count
          }
          expect(next).toBe(line.cells.length)
        }
        const runs = new Map(drawn.flatMap(({ spans }) => spans.map((span) => [span.runFrom, span.runCount] as const)))
        expect([...runs.values()].reduce((sum, count) => sum + count, 0)).toBe(cells.length)
      }),
    ))
})

describe('names beside their marks', () => {
  it('stand on the lowest row that has room, and are cut short where none has', () =>
    expect(
      placeNames(
        [
          { at: 0, length: 50 },
          { at: 20, length: 30 },
          { at: 30, length: 40 },
          { at: 60, length: 60 },
        ],
        100,
        2,
      ),
    ).toEqual([
      { at: 0, row: 1, room: 30 },
      { at: 20, row: 0, room: 30 },
      { at: 30, row: 1, room: 40 },
      { at: 60, row: 0, room: 40 },
    ]))
  it('are never over each other, nor over the end of the line', () =>
    fc.assert(
      fc.property(
        fc.array(fc.record({ at: fc.integer({ min: 0, max: 800 }), length: fc.integer({ min: 5, max: 200 }) }), { maxLength: 40 }),
        fc.integer({ min: 1, max: 4 }),
        (wanted, rows) => {
          const marks = [...wanted].sort((a, b) => a.at - b.at)
          const places = placeNames(marks, 900, rows)
          expect(places.map(({ at }) => at)).toEqual(marks.map(({ at }) => at))
          for (let row = 0; row < rows; row++) {
            let end = 0
            for (const place of places.filter((one) => one.row === row)) {
              expect(place.at).toBeGreaterThanOrEqual(end)
              end = place.at + place.room
            }
            expect(end).toBeLessThanOrEqual(900)
          }
        },
      ),
    ))
})
