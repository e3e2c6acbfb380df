import { addDays, format, isValid, parse } from 'date-fns'

/** A day as it was read, `YYYY-MM-DD`, or a sentence that says what was expected. */
export type DayReading = { readonly ok: true; readonly day: string } | { readonly ok: false; readonly sentence: string }

/** Forms that mean one day: the year first, the day first with dots, the month as a word. */
const PLAIN = [
  'yyyy-MM-dd',
  'yyyy/MM/dd',
  'yyyyMMdd',
  'd.M.yyyy',
  'd MMM yyyy',
  'd MMMM yyyy',
  'MMM d yyyy',
  'MMMM d yyyy',
  'd-MMM-yyyy',
] as const
const WORDS: Readonly<Record<string, number>> = { yesterday: -1, today: 0, now: 0, tomorrow: 1 }
const DAYS_OF = { d: 1, day: 1, days: 1, w: 7, week: 7, weeks: 7 } as const

const inForm = (text: string, form: string): string | undefined => {
  const day = parse(text, form, new Date(2000, 0, 1))
  return isValid(day) && day.getFullYear() >= 1900 && day.getFullYear() <= 2200 ? format(day, 'yyyy-MM-dd') : undefined
}

/**
 * Reads a day in the forms that people write: `2027-03-09`, `9.3.2027`, `9 Mar 2027`, `March 9, 2027`, `today`, `+30 days`. With slashes
 * the day comes first in one country and the month in another: `9/3/2027` is asked back where both are possible.
 *
 * @param today the day it is, `YYYY-MM-DD`
 * @example readDay('9.3.2027', '2027-01-18') // { ok: true, day: '2027-03-09' }
 * @example readDay('+2 weeks', '2027-01-18') // { ok: true, day: '2027-02-01' }
 */
export function readDay(text: string, today: string): DayReading {
  const typed = text.trim().toLowerCase().replace(/,/g, '').replace(/\s+/g, ' ')
  const from = (days: number): DayReading => ({ ok: true, day: format(addDays(new Date(`${today}T12:00:00`), days), 'yyyy-MM-dd') })
  const word = WORDS[typed]
  if (word !== undefined && Object.hasOwn(WORDS, typed)) return from(word)
  const [, sign, count, unit] = /^([+-]|in )\s?(\d{1,4}) ?(d|day|days|w|week|weeks)?$/.exec(typed) ?? []
  if (count) return from((sign === '-' ? -1 : 1) * Number(count) * DAYS_OF[(unit ?? 'd') as keyof typeof DAYS_OF])
  for (const form of PLAIN) {
    const day = inForm(typed, form)
    if (day !== undefined) return { ok: true, day }
  }
  const [dayFirst, monthFirst] = [inForm(typed, 'd/M/yyyy'), inForm(typed, 'M/d/yyyy')]
  if (dayFirst !== undefined && monthFirst !== undefined && dayFirst !== monthFirst)
    return { ok: false, sentence: `“${text.trim()}” is ${dayFirst} or ${monthFirst}: write the one that is meant` }
  const only = dayFirst ?? monthFirst
  if (only !== undefined) return { ok: true, day: only }
  return { ok: false, sentence: `“${text.trim().slice(0, 40)}” is not a day. Write 2027-03-09, 9.3.2027, 9 Mar 2027, today or +30 days` }
}
