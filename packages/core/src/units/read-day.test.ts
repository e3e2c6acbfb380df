import { describe, expect, it } from 'vitest'
import { readDay } from './index.js'

const TODAY = '2027-01-18'

describe('a day as people write it', () => {
  // ISO 8601 the first; the others common practice, no source.
  it.each([
    ['2027-03-09', '2027-03-09'],
    ['2027/03/09', '2027-03-09'],
    ['20270309', '2027-03-09'],
    ['9.3.2027', '2027-03-09'],
    [' 09.03.2027 ', '2027-03-09'],
    ['9 Mar 2027', '2027-03-09'],
    ['9 march 2027', '2027-03-09'],
    ['March 9, 2027', '2027-03-09'],
    ['9-Mar-2027', '2027-03-09'],
    ['31/3/2027', '2027-03-31'],
    ['3/31/2027', '2027-03-31'],
    ['3/3/2027', '2027-03-03'],
    ['29.2.2028', '2028-02-29'],
    ['today', '2027-01-18'],
    ['tomorrow', '2027-01-19'],
    ['yesterday', '2027-01-17'],
    ['+30', '2027-02-17'],
    ['+2 weeks', '2027-02-01'],
    ['in 3 days', '2027-01-21'],
    ['-1 d', '2027-01-17'],
  ])('%s', (text, day) => expect(readDay(text, TODAY)).toEqual({ ok: true, day }))

  it.each([
    ['9/3/2027', '2027-03-09 or 2027-09-03'],
    ['30.2.2027', 'is not a day'],
    ['29.2.2027', 'is not a day'],
    ['2027-13-01', 'is not a day'],
    ['9.3.27', 'is not a day'],
    ['constructor', 'is not a day'],
    ['', 'is not a day'],
    ['1.1.0001', 'is not a day'],
  ])('%s is asked back', (text, words) => {
    const reading = readDay(text, TODAY)
    expect(!reading.ok && reading.sentence).toContain(words)
  })
})
