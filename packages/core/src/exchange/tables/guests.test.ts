import { describe, expect, it } from 'vitest'
import { applyAll } from '../../commands/index.js'
import { workloadsOf, shippedWorkloads } from '../../guests/index.js'
import { idOf, smallEstate, testContext } from '../../testing/small-estate.js'
import { GiB } from '../../units/index.js'
import { rowsIn } from '../../formats/index.js'
import { guestColumns, guestsCsv, importTables, readTables, summaryOf, type MappedTable } from '../index.js'

const estate = smallEstate()
type Mapping = MappedTable['mapping']
const tableIn = (text: string) => {
  const { tables, none } = readTables([{ name: '', rows: rowsIn(text) }], 'guest')
  const [table] = tables
  if (!table) throw new Error(none[0]?.sentence)
  return table
}
const importOf = (text: string, chosen: Partial<Mapping> = {}, of = estate) => {
  const table = tableIn(text)
  const imported = importTables(of, [{ ...table, mapping: { ...table.mapping, ...chosen } }], testContext())
  return { ...imported, ...summaryOf(imported) }
}
const read = (text: string, chosen: Partial<Mapping> = {}) => importOf(text, chosen)
const reasonOf = (row: string, headings = 'name,host,vcpu,memory,disks,networks') => read(`${headings}\n${row}`).rejected[0]?.reason

describe('columns', () => {
  // Headings as tables of the trade have them; common practice, no source.
  it.each([
    ['Name,CPUs,RAM,Storage,IP address', ['name', 'vCPU', 'memory', 'disks', 'addresses']],
    ['server;node;status;OS;comment', ['name', 'host', 'state', 'system', 'note']],
    ['Server;Name;CPUs', ['host', 'name', 'vCPU']],
    ['Nom;Serveur;Mémoire (Go)', ['name', 'host', 'memory']],
    ['Serveur;Mémoire (Go)', ['name', 'memory']],
    ['Name;Datenspeicher;Arbeitsspeicher (GB)', ['name', 'leave out', 'memory']],
    ['Hostname;Betriebssystem;Betrieb', ['name', 'system', 'state']],
    ['VM,Provisioned Space,Provisioned memory,Used Space', ['name', 'disks', 'memory', 'leave out']],
    ['Name;Anzahl Festplatten;Disk type', ['name', 'leave out', 'leave out']],
    ['colour,weight', ['leave out', 'leave out']],
    ['name,name', ['name', 'leave out']],
  ])('%s', (headings, columns) => {
    expect(tableIn(`${headings}\n${headings}`).proposed.columns).toEqual(columns)
  })

  it('what a person says counts: a column may be left out', () => {
    const text = 'name,vcpu\nplayout-1,2'
    expect(read(text).changed).toEqual(['playout-1'])
    expect(read(text, { columns: ['name', 'leave out'] })).toMatchObject({ changed: [], same: 1 })
    expect(read(text, { columns: ['leave out', 'vCPU'] }).rejected[0]?.reason).toContain('Choose the column with the names')
    expect(guestColumns.at(-1)).toBe('leave out')
  })
})

it.each([
  ['2.0', 2],
  ['2,00', 2],
  ['2.5', '“2.5” is not a whole number.'],
  // May be two thousand.
  ['2.000', '“2.000” is not a whole number.'],
  ['-1', 'Processors must be at least 1 vCPU.'],
  ['1e1', '“1e1” is not a whole number.'],
])('%s processors are %s', (said, is) => {
  const { commands, rejected } = read(`name;vcpu;memory\nx-9;${said};2G`)
  const [add] = commands
  expect(add?.type === 'guest.add' ? add.record.vcpu : rejected[0]?.reason).toBe(typeof is === 'number' ? is : `x-9: ${is}`)
})

it.each([
  // How the states are called in German, French and Spanish; from memory.
  ['läuft', 'running'],
  ['Laeuft', 'running'],
  ['En marche', 'running'],
  ['arrete', 'stopped'],
  ['Arrêté', 'stopped'],
  ['En ejecución', 'running'],
  ['apagada', 'stopped'],
  ['geplant', 'planned'],
])('the state “%s” is %s', (said, state) => {
  const { commands } = read(`name;host;vcpu;memory;state\nx-9;gannet;1;2G;${said}`)
  expect(commands).toContainEqual(expect.objectContaining({ type: 'guest.add', record: expect.objectContaining({ state }) as unknown }))
})

describe('units', () => {
  const memoryOf = (headings: string, row: string, chosen?: Partial<Mapping>) => {
    const { commands, rejected } = read(`${headings}\n${row}`, chosen)
    const made = applyAll(estate, commands, testContext(8)).estate.byKey('guest', { name: 'a' })[0]
    return made?.memoryMiB ?? rejected[0]?.reason
  }

  it.each([
    ['name,vcpu,Memory (GB)', 'a,1,8', 8192],
    ['name,vcpu,RAM MB', 'a,1,"8,192"\nb,1,"1,024.5"', 8192],
    ['name;vcpu;RAM MB', 'a;1;8.192\nb;1;1.024,5', 8192],
    ['name;vcpu;RAM MB', 'a;1;8 192', 8192],
    ['name,vcpu,memory', 'a,1,8G', 8192],
    ['name,vcpu,memory_gib', 'a,1,8', 8192],
    ['name,vcpu,memory', 'a,1,8 GB', 8192],
    ['Nom;Processeurs;Mémoire (Go)', 'a;1;8', 8192],
    ['Nom;Processeurs;RAM Mo', 'a;1;8192', 8192],
    ['Nom;Processeurs;RAM', 'a;1;8 Go', 8192],
  ])('%s: %s', (headings, row, memoryMiB) => expect(memoryOf(headings, row)).toBe(memoryMiB))

  it('what has no unit is asked, and what has two readings', () => {
    expect(memoryOf('name,vcpu,memory', 'a,1,8')).toContain('has no unit')
    expect(memoryOf('name,vcpu,memory', 'a,1,8', { units: [undefined, undefined, 'GiB'] })).toBe(8192)
    expect(memoryOf('name,vcpu,RAM MB', 'a,1,"8,192"')).toContain('8192 or 8.192')
    expect(memoryOf('name,vcpu,RAM MB', 'a,1,"8,192"', { style: 'point' })).toBe(8192)
    expect(memoryOf('name,vcpu,Memory %', 'a,1,70')).toContain('not a size')
    // Never 0 MiB.
    expect(memoryOf('name,vcpu,Memory (KB)', 'a,1,8')).toContain('Memory')
  })

  it('own exports read back with the same sizes', () => {
    expect(importOf(guestsCsv(estate))).toMatchObject({ commands: [], rejected: [] })
  })
})

describe('rows', () => {
  it.each([
    ['a,nowhere,1,1G,,', 'There is no host “nowhere”'],
    ['a,gannet,many,1G,,', 'not a whole number'],
    ['a,gannet,1,lots,,', 'not a size'],
    ['a,gannet,1,1G,big,', 'not a size'],
    ['a,gannet,1,1G,,attic', 'There is no network “attic”'],
    ['a,gannet,,1G,,', 'It is new, and needs processors.'],
  ])('%s is left out with its reason', (row, words) => expect(reasonOf(row)).toContain(words))

  it('a host without a store of its own takes no disks by a table', () => {
    const bare = applyAll(estate, [{ type: 'store.remove', id: idOf('ssd4'), withReferring: true }], testContext()).estate
    expect(importOf('name,host,vcpu,memory,disks\na,tern,1,1G,10G', {}, bare).rejected[0]?.reason).toContain('no local store')
  })

  it.each([
    ['powered on, as others say it', 'poweredOn', 'running'],
    ['shut off', 'shut off', 'stopped'],
    ['as it is called here', 'planned', 'planned'],
  ])('%s', (_, word, state) => {
    const { commands } = read(`name,host,vcpu,memory,state\na,gannet,1,1G,${word}`)
    const made = applyAll(estate, commands, testContext(8)).estate.byKey('guest', { name: 'a' })[0]
    expect(made).toMatchObject({ state, hostId: idOf('gannet') })
  })

  it('a template, and an external machine without a host', () => {
    const { commands } = read('name,vcpu,memory,state,disks\nt,1,1G,external,20G + 30G')
    const after = applyAll(estate, commands, testContext(8)).estate
    const made = after.byKey('guest', { name: 't' })[0]
    expect(made).toMatchObject({ kind: 'external', hostId: null })
    expect(after.referring('disk', 'guestId', made?.id ?? '').map(({ sizeBytes }) => sizeBytes / GiB)).toEqual([20, 30])
    expect(() => read('name,state\nplayout-1,asleep')).not.toThrow()
    expect(reasonOf('playout-1,asleep', 'name,state')).toContain('is none of planned')
  })
})

it('a recorded workload profile takes the place of the shipped one of its name', () => {
  const own = applyAll(estate, [{ type: 'workload.add', record: { name: 'Web', vcpu: 9, memoryMiB: 1 } }], testContext()).estate
  expect(workloadsOf(own)).toHaveLength(shippedWorkloads.length)
  expect(
    workloadsOf(own)
      .filter(({ name }) => name.toLowerCase() === 'web')
      .map(({ vcpu }) => vcpu),
  ).toEqual([9])
})
