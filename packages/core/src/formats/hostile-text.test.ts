import { describe, expect, it } from 'vitest'
import {
  compareGuest,
  importTables,
  importNames,
  kinds,
  levelOf,
  mapObservations,
  parseSize,
  readDriveList,
  readEstateFile,
  readField,
  readFound,
  readTables,
  rowsIn,
  readHostLine,
  readManifest,
  readNames,
  readNumber,
  readObservationTable,
  readOvf,
  readSeen,
  readShownNetwork,
  readSpecLine,
  readXml,
  unitInHeading,
  type Field,
  guestNameOf,
} from '../index.js'
import { readOsinfo } from './index.js'
import { HOSTILE_LENGTH, hostileTexts } from '../testing/hostile-texts.js'
import { processorMs } from '../testing/processor-time.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { isLong } from '../testing/tier.js'

const estate = smallEstate()
const NOW = '2027-01-18T08:00:00.000Z'
const playout = estate.find('guest', idOf('playout'))
const newId = () => idOf('array')
const names = { hosts: ['gannet'], networks: ['office'], stores: ['nvme-1'], platforms: ['Brackwater 5'] }

/** Everything in the core that reads what a person, a file or a machine wrote. */
const readers: Readonly<Record<string, (text: string) => unknown>> = {
  'names, zone files and hosts lines': (text) => [readNames(text), readNames(text, 'skerry.example')],
  'names as commands': (text) => importNames(estate, text, newId),
  'what tools print': (text) => {
    const { found } = readFound(text)
    return playout && compareGuest(estate, playout, found)
  },
  'an installer’s screen': (text) => readShownNetwork(text),
  'seen addresses': (text) => readSeen(estate, text, NOW, newId),
  'a guest’s line': (text) => readSpecLine(text, names),
  'a host’s line': (text) => readHostLine(text, names),
  'drives on paper': (text) => readDriveList(text),
  'a table of observations': (text) => {
    const table = readObservationTable(text)
    return 'rows' in table ? mapObservations(estate, table, table.proposed, idOf('playout'), NOW) : table
  },
  'a table': (text) => {
    const { tables } = readTables([{ name: text.slice(0, 30), rows: rowsIn(text) }])
    return importTables(estate, tables, testContext())
  },
  'a descriptor': (text) => readOvf(text),
  'a manifest': (text) => readManifest(text),
  'an estate’s file': (text) => readEstateFile(text),
  XML: (text) => readXml(text),
  'the dataset of systems': (text) => readOsinfo([{ name: 'a.xml', text }], 'test'),
  'flags of a processor': (text) => levelOf(text),
  'sizes and numbers': (text) => [
    ...(['memory', 'disk', 'label'] as const).map((context) => parseSize(text, context)),
    readNumber(text),
    unitInHeading(text),
  ],
  'a name for a guest': (text) => guestNameOf(estate, text),
  'every text field': (text) =>
    Object.values(kinds).flatMap(({ fields }) => Object.values<Field>(fields).map((field) => readField(field, text))),
}

/** What a text may take at the most, milliseconds of the processor, with room for a slow one. */
const WITHIN_MS = 1000

describe(`no text of ${HOSTILE_LENGTH} characters holds up a reader`, () => {
  it.each(Object.keys(readers))(
    '%s',
    (name) => {
      const slow: string[] = []
      for (const { name: what, text } of hostileTexts()) {
        const took = processorMs(() => readers[name]?.(text))
        if (took > WITHIN_MS) slow.push(`${what}: ${took.toFixed(0)} ms`)
      }
      expect(slow).toEqual([])
    },
    120_000,
  )

  // What costs most at a hundredth of the length is what could grow faster than its length.
  it.runIf(isLong).each(Object.keys(readers).filter((name) => name !== 'every text field'))(
    'one and two megabytes of what costs %s most take time that grows with them, and less than two seconds',
    (name) => {
      const once = (text: string) => processorMs(() => readers[name]?.(text))
      // The quicker of two: what clears memory away in between is not the reader's.
      const read = (text: string) => Math.min(once(text), once(text))
      const worst = [...hostileTexts()]
        .map((one) => ({ ...one, took: read(one.of(20_000)) }))
        .toSorted((a, b) => b.took - a.took)
        .slice(0, 8)
      const slow: string[] = []
      for (const one of worst) {
        const [first, second] = [read(one.of(1_000_000)), read(one.of(2_000_000))]
        if (second > 2000 || (second > 600 && second > 3 * first))
          slow.push(`${one.name}: ${first.toFixed(0)}, then ${second.toFixed(0)} ms`)
      }
      expect(slow).toEqual([])
    },
    300_000,
  )

  it('the 88 bytes that once stopped the server', () => {
    const read = () => expect(readNames('$TTL 1\nh 1111111111111111111111111111111111111111! A 10.0.0.1').rejected).toHaveLength(1)
    expect(processorMs(read)).toBeLessThan(WITHIN_MS)
  })

  it('times to live are still read: RFC 1035, and the units of name servers', () => {
    for (const ttl of ['300', '1h30m', '1W', '2d12H'])
      expect(readNames(`$ORIGIN skerry.example.\nh ${ttl} IN A 10.61.40.9`).entries).toHaveLength(1)
    expect(readNames('$ORIGIN skerry.example.\nh hour IN A 10.61.40.9').rejected).toHaveLength(1)
  })
})
