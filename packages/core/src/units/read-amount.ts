import { readNumber, type NumberReading } from './read-number.js'

/** Other ways to write a unit, and how many of it one is. In lower case; what differs by case alone is told apart before. */
const written: Readonly<Record<string, Readonly<Record<string, number>>>> = {
  '%': { percent: 1 },
  A: { amp: 1, amps: 1, ampere: 1, amperes: 1 },
  MHz: { ghz: 1000, g: 1000, m: 1 },
  // What memory sticks do in a second is written as MHz on many labels.
  'MT/s': { mts: 1, mhz: 1, 'gt/s': 1000 },
  'Mbit/s': { mbps: 1, 'mb/s': 1, mbit: 1, m: 1, 'gbit/s': 1000, gbps: 1000, 'gb/s': 1000, gbit: 1000, gbe: 1000, g: 1000 },
  V: { volt: 1, volts: 1 },
  W: { watt: 1, watts: 1, kw: 1000 },
  days: { d: 1, day: 1, week: 7, weeks: 7, year: 365, years: 365 },
  minutes: { min: 1, mins: 1, minute: 1, h: 60, hour: 60, hours: 60 },
  seconds: { s: 1, sec: 1, second: 1, min: 60, minute: 60, minutes: 60, h: 3600, hour: 3600, hours: 3600 },
}

/**
 * Reads a number with the unit it is counted in, or one that is turned into it: `310`, `310 W`, `2.1 GHz`, `10G`, `2 weeks`.
 *
 * @param unit the unit the number is counted in
 * @returns the number in that unit, negative where it has a minus, or a sentence
 * @example readAmount('2.1 GHz', 'MHz') // { ok: true, value: 2100 }
 */
export function readAmount(text: string, unit: string): NumberReading {
  const trimmed = text.trim()
  const isNegative = /^[-−]/.test(trimmed)
  const unsigned = isNegative ? trimmed.slice(1) : trimmed
  // The unit is what stands behind the last digit.
  const end = unsigned.split('').findLastIndex((character) => character >= '0' && character <= '9') + 1
  const word = unsigned.slice(end).trim()
  const reading = readNumber(end === 0 ? trimmed : unsigned.slice(0, end))
  if (!reading.ok) return reading
  const times = factorOf(word, unit)
  if (times === undefined)
    return {
      ok: false,
      sentence: unit
        ? `“${word}” is not a unit that fits; this is counted in ${unit}.`
        : `“${word}” does not belong here; this is a number without a unit.`,
    }
  // 0.1 and its like are not exact: what is a whole number on paper is one here.
  const value = Number((reading.value * times).toPrecision(12))
  return { ok: true, value: isNegative ? -value : value }
}

function factorOf(word: string, unit: string): number | undefined {
  if (word === '') return 1
  // Bytes are not bits: MB/s is eight times Mb/s.
  if (unit === 'Mbit/s' && /B/.test(word) && !/^GbE$/.test(word)) return undefined
  const lower = word.toLowerCase()
  const singular = (name: string) => name.toLowerCase().replace(/s$/, '')
  if (unit !== '' && singular(lower) === singular(unit)) return 1
  return Object.hasOwn(written, unit) && Object.hasOwn(written[unit] ?? {}, lower) ? written[unit]?.[lower] : undefined
}
