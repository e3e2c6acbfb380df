import { describe, expect, it } from 'vitest'
import { sizeFor, sizingSchools, workloadsOf } from '../guests/index.js'
import { generateEstate } from '../testing/generate-estate.js'
import { addedUp, notAddingUp } from '../testing/worked-figures.js'
import { smallEstate } from '../testing/small-estate.js'
import { shownWorking, sumFigure, type Figure } from './index.js'

describe('a working as it is shown', () => {
  const memory = (...values: readonly number[]) =>
    sumFigure(
      'left',
      'MiB',
      values.map((value, at) => ({
        label: `${at}`,
        value: Math.abs(value),
        unit: 'MiB' as const,
        sign: value < 0 ? ('−' as const) : ('+' as const),
        from: 'x',
      })),
      'common practice',
    )
  const said = (figure: Figure) => [...shownWorking(figure).terms.map(({ sign, text }) => `${sign}${text}`), shownWorking(figure).result]

  it('has the digits that make it add up: 32 − 7.25 − 10 = 14.75, not 7.3 and 14.8', () =>
    expect(said(memory(32_768, -7424, -10_240))).toEqual(['32 GiB', '−7.25 GiB', '−10 GiB', '14.75 GiB']))
  it('goes to a smaller unit rather than to many digits', () =>
    expect(said(memory(7782, -1434, -6916))).toEqual(['7782 MiB', '−1434 MiB', '−6916 MiB', '−568 MiB']))
  it('lets no small term vanish', () => expect(said(memory(1_048_576, 1))).toEqual(['1024 GiB', '+0.001 GiB', '1024.001 GiB']))
  it('of shares that no decimals end are parts of one, where decimals do not add up', () => {
    const share = (value: number) => ({ label: 'x', value, unit: 'cores' as const, sign: '−' as const, from: 'x' })
    const cores = (...values: readonly number[]) => sumFigure('left', 'cores', [{ ...share(8), sign: '+' }, ...values.map(share)], 'x')
    expect(said(cores(13 / 3, 2 / 3))).toEqual(['8 cores', '−4.33 cores', '−0.67 cores', '3 cores'])
    expect(said(cores(1 / 3, 1 / 3))).toEqual(['24/3 cores', '−1/3 cores', '−1/3 cores', '22/3 cores'])
    expect(said(cores(0.25, 1.5))).toEqual(['8 cores', '−0.25 cores', '−1.5 cores', '6.25 cores'])
  })
  it('of many terms is shortened by one that adds up the rest', () => {
    const { terms, result } = shownWorking(memory(...Array.from({ length: 40 }, (_, at) => at + 1)))
    expect([terms.length, terms.at(-1)?.text, terms.at(-1)?.label, result]).toEqual([14, '729 MiB', '27 more', '820 MiB'])
  })

  it.each([
    ['the small estate', smallEstate()],
    ['1,000 guests', generateEstate({ hosts: 50, guests: 1000, adapters: 1500 })],
  ])('adds up for every figure of %s', (_, estate) => {
    const { count, wrong } = notAddingUp(estate)
    expect(count).toBeGreaterThan(20)
    expect(wrong).toEqual([])
  })

  it('adds up for every size that is worked out from what a guest is for', () => {
    const wrong: string[] = []
    for (const workload of workloadsOf(smallEstate()))
      for (const school of sizingSchools)
        for (const headroom of [0, 15, 25, 33]) {
          const { vcpu, memory, disks } = sizeFor(undefined, workload, school, headroom)
          for (const figure of [vcpu, memory, ...disks.map(({ size }) => size)]) {
            const shown = shownWorking(figure)
            const { sum, said: result } = addedUp(shown)
            if (sum !== result)
              wrong.push(`${workload.name} ${shown.terms.map(({ sign, text }) => `${sign} ${text}`).join(' ')} = ${shown.result}`)
          }
        }
    expect(wrong).toEqual([])
  })
})
