import { expect, it } from 'vitest'
import { databaseFault } from './database-fault.js'

const withCode = (code: string, message = 'x') => Object.assign(new Error(message), { code })
const faultOf = (error: unknown) => databaseFault(error)?.fault

// PostgreSQL manual, appendix A.
it('a fault of the database is told by what it means, wherever in an error it is; any other is none', () => {
  expect([withCode('53300'), withCode('57P03'), new Error('timeout expired')].map(faultOf)).toEqual(['not-asked', 'not-asked', 'not-asked'])
  expect([withCode('57P01'), withCode('INSEL_SILENT'), new Error('Connection terminated unexpectedly')].map(faultOf)).toEqual([
    'no-answer',
    'no-answer',
    'no-answer',
  ])
  // What knex 3 says of a transaction whose connection was ended between two of its statements.
  expect(faultOf(new Error('Transaction query already complete, run with DEBUG=knex:tx for more info'))).toBe('no-answer')
  expect([withCode('53100'), withCode('53200'), withCode('40P01')].map(faultOf)).toEqual(['full', 'refused', 'refused'])
  // One of several tries, and one that another error was made of.
  expect(faultOf(new AggregateError([new Error('other'), withCode('ECONNREFUSED')]))).toBe('not-asked')
  expect(faultOf(new Error('outer', { cause: withCode('53100') }))).toBe('full')
  // A client that goes away in the middle of its own request is none of the database's.
  expect([new Error('request aborted'), withCode('23505'), undefined].map(faultOf)).toEqual([undefined, undefined, undefined])
})
