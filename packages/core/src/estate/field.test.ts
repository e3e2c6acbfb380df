import { runs } from '../testing/tier.js'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bool, choice, integer, optional, real, ref, refMap, refs, tags, text, textMap, type Field, type TextShape } from './field.js'
import { readField } from './read-field.js'

const id = '01890000-0000-7000-8000-000000000001'
const wording = { label: 'It', doc: 'A field.' }
const shaped = (shape: TextShape) => text({ ...wording, shape })
const sentence = (field: Field, value: unknown) => {
  const reading = readField(field, value)
  return reading.ok ? undefined : reading.sentence
}
const value = (field: Field, given: unknown) => {
  const reading = readField(field, given)
  if (!reading.ok) throw new Error(reading.sentence)
  return reading.value
}

describe('texts', () => {
  it.each<[TextShape, string, string]>([
    ['line', '  a line  ', 'a line'],
    ['name', 'playout-1', 'playout-1'],
    ['name', 'a', 'a'],
    ['domain', 'Skerry.Example', 'skerry.example'],
    ['ip', '10.61.30.47', '10.61.30.47'],
    ['ip', '2001:DB8:0:0::1', '2001:db8::1'],
    ['prefix', '10.61.30.0/24', '10.61.30.0/24'],
    ['prefix', '2001:DB8:61:0::/64', '2001:db8:61::/64'],
    ['prefix', '0.0.0.0/0', '0.0.0.0/0'],
    ['subnet', '10.61.30.0/24', '10.61.30.0/24'],
    ['subnet', 'fe80::/64', 'fe80::/64'],
    ['mac', '02-1A-4B-30-00-2F', '02:1a:4b:30:00:2f'],
    ['mac', '021a.4b30.002f', '02:1a:4b:30:00:2f'],
    ['macPrefix', '02:1A:4B', '02:1a:4b'],
    ['date', '2028-02-29', '2028-02-29'],
    ['instant', '2027-03-09T23:00:00+01:00', '2027-03-09T22:00:00.000Z'],
    ['moment', '2027-03-09', '2027-03-09T00:00:00.000Z'],
    ['moment', '2027-03-09T23:00:00+01:00', '2027-03-09T22:00:00.000Z'],
    ['timeZone', 'Europe/London', 'Europe/London'],
  ])('%s: “%s” is stored as “%s”', (shape, typed, stored) => expect(value(shaped(shape), typed)).toBe(stored))

  it.each<[TextShape, string]>([
    ['line', 'two\nlines'],
    ['name', 'two words'],
    ['name', '-starts'],
    ['name', 'ends.'],
    ['name', 'n'.repeat(64)],
    ['domain', 'skerry_example'],
    ['domain', `${'l'.repeat(64)}.example`],
    ['domain', 'a..b'],
    ['ip', '10.61.30'],
    ['ip', '10.61.030.1'],
    ['ip', '::ffff:10.61.30.1.5'],
    ['prefix', '10.61.30.0'],
    ['prefix', '10.61.30.0/33'],
    ['prefix', '10.61.30.0/024'],
    ['prefix', '10.61.30.0/24/8'],
    ['prefix', '10.61.30.1/24'],
    ['subnet', '0.0.0.0/0'],
    ['subnet', '::/0'],
    ['subnet', '127.0.0.0/8'],
    ['subnet', '127.8.0.0/16'],
    ['subnet', '::1/128'],
    ['subnet', '239.1.0.0/16'],
    ['subnet', 'ff02::/16'],
    ['subnet', '10.61.30.1/24'],
    ['ip', 'fe80::1%eth0'],
    ['mac', '02:1a:4b:30:00'],
    ['mac', '01:00:5e:00:00:fb'],
    ['macPrefix', '02:1a'],
    ['date', '2027-02-29'],
    ['date', '9.3.2027'],
    ['instant', '2027-03-09'],
    ['instant', 'now'],
    ['instant', '2027-02-30T10:00:00Z'],
    ['instant', '2027-02-29T10:00:00+01:00'],
    ['instant', '2027-03-09T22:00:00'],
    ['instant', '2027-03-09T25:00:00Z'],
    ['date', '0000-01-01'],
    ['instant', '0000-01-01T00:00:00Z'],
    // Within the years there are as it is written, and beyond them in UTC.
    ['instant', '9999-12-31T23:59:59-01:00'],
    ['instant', '0001-01-01T00:00:00+01:00'],
    ['moment', '2027-02-30'],
    ['moment', '+275760-09-13T00:00:00Z'],
    ['moment', '-271821-04-20T00:00:00Z'],
    ['moment', 'March 2027'],
    ['mac', '00:00:00:00:00:00'],
    ['line', 'two\u2028lines'],
    ['timeZone', 'Mars/Olympus'],
  ])('%s: “%s” is refused in a sentence that begins with the label', (shape, typed) =>
    expect(sentence(shaped(shape), typed)).toMatch(/^(It |“).*\.$/s),
  )

  it('refuses control characters, too much, and what is no text', () => {
    expect(sentence(shaped('note'), 'bell\u0007')).toContain('control character')
    expect(sentence(text({ ...wording, max: 5 }), 'longer')).toBe('It can have at most 5 characters; it has 6.')
    expect(sentence(shaped('line'), 7)).toBe('It must be text, not 7.')
    expect(value(shaped('note'), 'two\n\tlines')).toBe('two\n\tlines')
    // What turns the direction of writing: The Unicode Standard, PropList.txt, Bidi_Control.
    for (const code of [0x061c, 0x200e, 0x200f, 0x202a, 0x202b, 0x202c, 0x202d, 0x202e, 0x2066, 0x2067, 0x2068, 0x2069])
      expect(sentence(shaped('line'), `a${String.fromCharCode(code)}b`)).toMatch(
        /^It contains .*direction.* \(U\+[0-9A-F]{4}, at place 2\)/,
      )
    expect(sentence(shaped('note'), 'half \ud83d of it')).toBe('It contains half of a character (U+D83D, at place 6); remove it.')
    expect(value(shaped('note'), 'whole \u{1f5a5}, Büro, مكتب')).toBe('whole \u{1f5a5}, Büro, مكتب')
    expect(value(shaped('note'), '')).toBe('')
  })

  it('any text at all is read or refused, never thrown at', () =>
    fc.assert(
      fc.property(
        fc.constantFrom<TextShape>('line', 'note', 'name', 'ip', 'prefix', 'mac', 'macPrefix', 'date', 'instant', 'timeZone', 'domain'),
        fc.string({ unit: 'binary', maxLength: 60 }),
        (shape, typed) => {
          const reading = readField(shaped(shape), typed)
          // What was stored once is stored the same again.
          if (reading.ok && reading.value !== null) expect(value(shaped(shape), reading.value)).toBe(reading.value)
        },
      ),
      { numRuns: runs(150, 2000) },
    ))
})

describe('numbers', () => {
  const memory = integer({ ...wording, unit: 'MiB', min: 4, max: 4096 })
  it.each([
    [3, 'It must be at least 4 MiB.'],
    [8192, 'It must be at most 4 GiB.'],
    [4.5, 'It must be a whole number, not 4.5.'],
    [NaN, 'It must be a number, not NaN.'],
    [Infinity, 'It must be a number, not Infinity.'],
    ['8', 'It must be a number, not “8”.'],
    [[], 'It must be a number, not a list.'],
    [{}, 'It must be a number, not an object.'],
  ])('%s', (given, words) => expect(sentence(memory, given)).toBe(words))
  it('a real one may have a fraction', () => expect(value(real({ ...wording, unit: '%', max: 100 }), 12.5)).toBe(12.5))
})

describe('the other kinds of field', () => {
  it('a choice names its options', () =>
    expect(sentence(choice(['thin', 'thick'], wording), 'fat')).toBe('It must be one of thin, thick, not “fat”.'))
  it('yes or no', () => {
    expect(value(bool(wording), false)).toBe(false)
    expect(sentence(bool(wording), 'no')).toBe('It must be yes or no, not “no”.')
  })
  it('a reference is an id', () => {
    expect(value(ref('host', wording), id)).toBe(id)
    expect(sentence(ref('host', wording), 'gannet')).toBe('It must be the id of a host; “gannet” is not an id.')
    expect(sentence(ref('host', wording), id.toUpperCase().replace('0189', 'ABCD'))).toContain('is not an id')
  })
  it('a map of references', () => {
    expect(value(refMap('disk', 'store', wording), { [id]: id })).toEqual({ [id]: id })
    for (const given of [{ [id]: 'x' }, { x: id }, [id], 'x'])
      expect(sentence(refMap('disk', 'store', wording), given)).toContain('does not fit')
  })
  it('a list of references names each once, in its order', () => {
    const other = id.replace('0189', '0190')
    expect(value(refs('guest', wording), [other, id, other])).toEqual([other, id])
    expect(sentence(refs('guest', wording), [id, 7])).toBe('It must be a list of ids of a guest; 7 is not an id.')
    expect(sentence(refs('guest', wording), id)).toContain('must be a list of ids')
    expect(sentence(refs('guest', wording), new Array(1001).fill(id))).toContain('at most 1000')
  })
  it('a map of texts reads each by its shape', () => {
    const macs = textMap('adapter', { ...wording, shape: 'mac' })
    expect(value(macs, { [id]: '02-1A-4B-00-00-01' })).toEqual({ [id]: '02:1a:4b:00:00:01' })
    expect(sentence(macs, { [id]: 'x' })).toContain('must be twelve hexadecimal digits')
    for (const given of [{ x: '02:1a:4b:00:00:01' }, ['02:1a:4b:00:00:01'], 'x', 7]) expect(sentence(macs, given)).toContain('is not an id')
  })
  it('tags are short words, each once, in order', () => {
    expect(value(tags(wording), [' B ', 'a', 'b', ''])).toEqual(['a', 'b'])
    expect(sentence(tags(wording), ['a b'])).toContain('short words')
    expect(sentence(tags(wording), 'a')).toBe('It must be a list of words, not “a”.')
    expect(
      sentence(
        tags(wording),
        Array.from({ length: 31 }, (_, n) => `t${n}`),
      ),
    ).toBe('It can have at most 30; it has 31.')
  })
  it('missing: a default is taken, an optional one is null, a required one is said', () => {
    expect(value(integer({ ...wording, unit: '', default: 7 }), undefined)).toBe(7)
    expect(value(optional(integer({ ...wording, unit: '' })), '')).toBeNull()
    expect(sentence(integer({ ...wording, unit: '' }), null)).toBe('It is missing.')
    expect(sentence(shaped('name'), '   ')).toBe('It is missing.')
  })
})
