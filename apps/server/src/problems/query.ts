import { malformed } from './problem.js'

/** A whole number from a query's text. @throws ProblemError 400 */
export function wholeNumber(text: string, name: string, { min = 0, max = 2 ** 31 - 1 } = {}): number {
  const value = /^\d{1,10}$/.test(text) ? Number(text) : NaN
  if (Number.isNaN(value) || value < min || value > max)
    throw malformed(`${name} is a whole number from ${min} to ${max}; “${text}” is not.`, [
      { path: name, code: 'invalid', message: `${name} is a whole number from ${min} to ${max}.` },
    ])
  return value
}

/** A time from a query's text. @throws ProblemError 400 */
export function instant(text: string, name: string): Date {
  const time = Date.parse(text)
  if (Number.isNaN(time))
    throw malformed(`${name} is a date or time such as 2027-03-09T22:00:00Z; “${text}” is not.`, [
      { path: name, code: 'invalid', message: `${name} is no time.` },
    ])
  return new Date(time)
}
