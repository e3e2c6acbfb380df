import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { processorMs } from '../testing/processor-time.js'
import { jsonShapeFault } from './index.js'

const bytesOf = (text: string) => new TextEncoder().encode(text)
const countOf = (value: unknown): number =>
  typeof value === 'object' && value !== null ? Object.values(value).reduce<number>((sum, inner) => sum + 1 + countOf(inner), 0) : 0
const depthOf = (value: unknown): number =>
  typeof value === 'object' && value !== null ? 1 + Math.max(0, ...Object.values(value).map(depthOf)) : 0

describe('the shape of a JSON text', () => {
  it('is judged by depth and count, and the sentence names the limit', () => {
    expect(jsonShapeFault(bytesOf('[[1]]'), { values: 10, depth: 1 })).toBe('The JSON nests deeper than 1 level.')
    expect(jsonShapeFault(bytesOf('['.repeat(65)), { values: 1000 })).toBe('The JSON nests deeper than 64 levels.')
    expect(jsonShapeFault(bytesOf(`[${'0,'.repeat(10_000)}0]`), { values: 10_000 })).toBe('The JSON holds more than 10\u2009000 values.')
    expect(jsonShapeFault(bytesOf('[[1]]'), { values: 10, depth: 2 })).toBeUndefined()
  })

  it('takes no bracket or comma inside a text for one of its own', () => {
    expect(jsonShapeFault(bytesOf(JSON.stringify({ a: '[[[,,,{"\\' })), { values: 2, depth: 1 })).toBeUndefined()
    expect(jsonShapeFault(bytesOf('["\\\\",["\\"["]]'), { values: 5, depth: 2 })).toBeUndefined()
  })

  it('is what the parsed value has: as many members and elements, as deep', () =>
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        const bytes = bytesOf(JSON.stringify(value))
        expect(jsonShapeFault(bytes, { values: countOf(value), depth: Math.max(depthOf(value), 1) })).toBeUndefined()
        if (countOf(value) > 0) expect(jsonShapeFault(bytes, { values: countOf(value) - 1 })).toMatch(/more than/)
        if (depthOf(value) > 1) expect(jsonShapeFault(bytes, { values: 1e9, depth: depthOf(value) - 1 })).toMatch(/deeper/)
      }),
    ))

  it('60 MB of any shape are judged in time that follows their length', () => {
    const units = ['[],', '{"a":', '"', '\\"', '"\\\\",', '0,', ' ', 'é']
    for (const unit of units) {
      const bytes = bytesOf(unit.repeat(Math.floor(60e6 / bytesOf(unit).length)))
      const took = processorMs(() => jsonShapeFault(bytes, { values: 1e9, depth: 1e9 }))
      expect([unit, took < 2000]).toEqual([unit, true])
    }
  })
})
