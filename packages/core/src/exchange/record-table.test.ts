import Papa from 'papaparse'
import { expect, it } from 'vitest'
import { kinds, type Field } from '../estate/index.js'
import { applyAll } from '../commands/index.js'
import { smallEstate, testContext } from '../testing/index.js'
import { recordsCsv, recordTables } from './record-table.js'

// RFC 4180, section 2: each record on its own line, ended by CRLF; quotes around what holds commas, quotes or line breaks.
it.each(recordTables)('every %s is a line of the table, each field a column', (kind) => {
  const { data, errors } = Papa.parse<Record<string, string>>(recordsCsv(smallEstate(), kind), { header: true, skipEmptyLines: true })
  expect(errors).toEqual([])
  expect(data.map((row) => row['Name'])).toEqual(
    smallEstate()
      .all(kind)
      .map(({ name }) => name)
      .sort(),
  )
  expect(Object.keys(data[0] ?? {})).toEqual(Object.values<Field>(kinds[kind].fields).map(({ label }) => label))
})

it('names what a field refers to, leaves out what is not recorded, and defuses formulas', () => {
  const [host] = smallEstate().all('host')
  const { estate } = applyAll(
    smallEstate(),
    [{ type: 'host.update', id: host?.id ?? '', changes: { note: '=1+1, "quoted"', model: null } }],
    testContext(),
  )
  const row = Papa.parse<Record<string, string>>(recordsCsv(estate, 'host'), { header: true }).data.find(
    (one) => one['Name'] === host?.name,
  )
  expect(row).toMatchObject({ Note: `'=1+1, "quoted"`, Model: '', Platform: estate.find('platform', host?.platformId)?.name })
})
