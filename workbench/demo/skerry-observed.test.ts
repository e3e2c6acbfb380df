import { sampleProblem, summarise } from '@insel/core'
import { describe, expect, it } from 'vitest'
import { skerryObserved } from './skerry-observed.js'

const until = Date.UTC(2027, 0, 18, 8, 20)
const now = new Date(until).toISOString()
const samples = skerryObserved((name) => name, until)
const of = (name: string) => samples.filter(({ subjectId }) => subjectId === name)

describe('what was seen of the demo’s guests', () => {
  it('is a quarter of a year, once an hour, up to the last full hour', () => {
    const files = of('files')
    expect(files).toHaveLength(90 * 24)
    expect([files[0]?.at, files.at(-1)?.at]).toEqual(['2026-10-20T09:00:00.000Z', '2027-01-18T08:00:00.000Z'])
    expect(new Set(files.map(({ at }) => at)).size).toBe(files.length)
  })

  it('is the same for the same hour, and nothing of it would be refused', () => {
    expect(skerryObserved((name) => name, until + 1000)).toEqual(samples)
    expect(samples.flatMap((sample) => sampleProblem(sample, now) ?? [])).toEqual([])
  })

  it('has one that is idle, one not seen for long, and disks that grow', () => {
    expect(summarise(of('trial-a'), 30)?.cpu?.p95).toBeLessThan(3)
    expect(of('build').at(-1)?.at.slice(0, 10)).toBe('2026-12-08')
    const growth = summarise(of('cam-store'), 90)?.disk?.perDay
    // 4.5 GiB a day were put in as the mean, more on one day and less on another.
    expect(Math.abs((growth?.value ?? 0) / 2 ** 30 - 4.5)).toBeLessThan(0.45)
    expect(growth?.low).toBeLessThan(growth?.value ?? 0)
    expect(growth?.high).toBeGreaterThan(growth?.value ?? 0)
    const ended = of('cam-store').at(-1)?.diskBytes ?? 0
    expect((ended - (of('cam-store')[0]?.diskBytes ?? 0)) / 2 ** 30).toBeCloseTo(4.5 * 90, -1)
  })

  it('sees the stores that hold more than disks once a day, growing', () => {
    const vault = of('vault-disks')
    expect(vault).toHaveLength(90)
    expect(vault.every(({ cpuPercent, memoryMiB }) => cpuPercent === undefined && memoryMiB === undefined)).toBe(true)
    expect(vault.every(({ diskBytes }, index) => index === 0 || (diskBytes ?? 0) >= (vault[index - 1]?.diskBytes ?? 0))).toBe(true)
  })

  it('an office is quiet on Sundays', () => {
    const onDay = (day: number) => {
      const values = of('newsroom').filter(({ at }) => new Date(at).getUTCDay() === day && at.slice(11, 13) === '14')
      return values.reduce((sum, { cpuPercent }) => sum + (cpuPercent ?? 0), 0) / values.length
    }
    expect(onDay(0)).toBeLessThan(onDay(3) / 2)
  })

  it('a guest that is not there is left out', () => expect(skerryObserved(() => undefined, until)).toEqual([]))
})
