import { readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { differenceInCurrentForm, Estate, kindNames, kinds, type AnyRecord } from '../estate/index.js'
import { checkWhole } from '../commands/index.js'
import { keepSchema, SCHEMA, type KeptSchema } from '../testing/kept-schema.js'
import { readEstateFile } from './index.js'

const kept = readdirSync(new URL('kept/', import.meta.url))
  .filter((name) => name.startsWith('schema-'))
  .sort()
  .map((name) => JSON.parse(readFileSync(new URL(`kept/${name}`, import.meta.url), 'utf8')) as KeptSchema)

/** The estate that comes of a kept log. */
const replayed = ({ begins, log }: KeptSchema): Estate => {
  // The description of an estate is the first thing in its log.
  const added = Object.fromEntries(begins.estate.map((record) => [record.id, { kind: 'estate' as const, record }]))
  return [{ added, updated: {}, removed: {} }, ...log].reduce(
    (estate, difference) => estate.with(differenceInCurrentForm(difference)),
    Estate.empty,
  )
}

describe.each(kept.map((one) => [one.schema, one] as const))('what an Insel of schema %i recorded', (_, one) => {
  it('is replayed from its log into records of today that hold together', () => {
    const estate = replayed(one)
    expect(() => checkWhole(estate, (field) => field)).not.toThrow()
    for (const kind of kindNames)
      for (const record of estate.all(kind) as readonly AnyRecord[])
        expect(Object.keys(record).sort()).toEqual(['id', ...Object.keys(kinds[kind].fields)].sort())
    const guest = estate.all('guest').find(({ name }) => name === 'playout-1')
    expect([guest?.note, estate.find('host', guest?.hostId)?.name]).toEqual(['kept', 'fulmar'])
    expect(estate.all('guest').find(({ name }) => name === 'server-1')?.clonedFromId).not.toBeNull()
  })

  it('is read from its file as its log says', () => {
    if (!one.file) return expect(one.schema).toBeLessThan(4)
    const reading = readEstateFile(JSON.stringify(one.file))
    if (!('estate' in reading)) throw new Error(reading.problems.join(' '))
    expect(reading.estate.toRecords()).toEqual(replayed(one).toRecords())
  })
})

it('every schema that there was is kept, and the newest as it is recorded today', async () => {
  // While a schema is new its file may change: `npx vitest run --project core kept -u`. Those before it never do.
  await expect(`${JSON.stringify(keepSchema())}\n`).toMatchFileSnapshot(`kept/schema-${SCHEMA}.json`)
  expect(kept.map(({ schema }) => schema).sort((a, b) => a - b)).toEqual(Array.from({ length: SCHEMA }, (_, index) => index + 1))
})
