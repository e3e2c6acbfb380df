import { readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { apply, applyAll, type Command } from '../commands/index.js'
import { addressOwner, Estate, type Kind, kindNames, kinds, recordPhrase, recordTitle, referencesOf, referrersOf } from './index.js'

const estate = smallEstate()
const after = (...commands: Command[]) => applyAll(estate, commands, testContext(31)).estate

describe('finding records', () => {
  it('by id, and only of the kind that is asked for', () => {
    expect(estate.find('guest', idOf('news'))?.name).toBe('newsroom')
    expect(estate.find('host', idOf('news'))).toBeUndefined()
    expect(estate.find('host', null)).toBeUndefined()
    expect(estate.find('host', undefined)).toBeUndefined()
    expect(estate.kindOf(idOf('news'))).toBe('guest')
    expect(estate.kindOf('nothing')).toBeUndefined()
  })
  it('by who refers to them', () => {
    expect(
      estate
        .referring('guest', 'hostId', idOf('gannet'))
        .map((guest) => guest.name)
        .sort(),
    ).toEqual(['playout-1', 'tpl-server'])
    expect(estate.referring('guest', 'hostId', idOf('tern'))).toEqual([])
    const moved = after(
      { type: 'guest.update', id: idOf('news'), changes: { hostId: idOf('tern') } },
      { type: 'disk.update', id: idOf('newsDisk'), changes: { storeId: idOf('ssd4') } },
    )
    expect(moved.referring('guest', 'hostId', idOf('tern')).map((guest) => guest.name)).toEqual(['newsroom'])
    expect(moved.referring('guest', 'hostId', idOf('fulmar'))).toEqual([])
    expect(estate.referring('guest', 'hostId', idOf('fulmar'))).toHaveLength(1)
  })
  it('by key: names without case, keys of several fields, never by an empty field', () => {
    expect(estate.byKey('guest', { name: 'NEWSROOM' })).toHaveLength(1)
    expect(estate.byKey('attachment', { hostId: idOf('gannet'), networkId: idOf('office') })).toHaveLength(1)
    expect(estate.byKey('attachment', { hostId: idOf('tern'), networkId: idOf('office') })).toEqual([])
    expect(estate.byKey('disk', { guestId: idOf('news'), position: 1 })).toHaveLength(1)
    expect(estate.byKey('disk', { guestId: idOf('news'), position: 2 })).toEqual([])
    expect(estate.byKey('address', { subnetId: idOf('studioNet'), ip: '10.61.40.2' })).toHaveLength(1)
    expect(estate.byKey('address', { subnetId: idOf('officeNet'), ip: '10.61.40.2' })).toEqual([])
    expect(estate.byKey('host', { managementMac: null })).toEqual([])
    expect(() => estate.byKey('guest', { vcpu: 4 })).toThrow('No index finds a guest by vcpu')
    const renamed = after({ type: 'guest.update', id: idOf('news'), changes: { name: 'desk' } })
    expect([renamed.byKey('guest', { name: 'newsroom' }), renamed.byKey('guest', { name: 'Desk' }).length]).toEqual([[], 1])
  })
  it('an empty estate has nothing, and says so', () => {
    for (const kind of kindNames) expect([Estate.empty.count(kind), Estate.empty.all(kind)]).toEqual([0, []])
  })
  it('a table is the same object for as long as none of its records change', () => {
    const resized = apply(estate, { type: 'guest.resize', guestId: idOf('news'), vcpu: 4 }, testContext()).estate
    expect(resized.tableOf('adapter')).toBe(estate.tableOf('adapter'))
    expect(resized.tableOf('guest')).not.toBe(estate.tableOf('guest'))
  })
})

describe('the definitions', () => {
  it('refer to kinds that there are, and have fields for their keys and parts', () => {
    for (const kind of kindNames) {
      const fields = kinds[kind].fields as Readonly<Record<string, { type: string; to?: string; label: string; doc: string }>>
      for (const field of Object.values(fields)) {
        expect(field.label).not.toBe('')
        expect(field.doc).toMatch(/\.$/)
        if (field.type === 'ref') expect(kindNames).toContain(field.to)
      }
      for (const name of [...kinds[kind].keys.flatMap((key) => key.fields), ...(kinds[kind].partOf ?? [])])
        expect(Object.keys(fields)).toContain(name)
      for (const name of kinds[kind].partOf ?? []) expect(referencesOf(kind).map((reference) => reference.field)).toContain(name)
      // The wire tells commands from records by this word.
      expect(Object.keys(fields)).not.toContain('type')
    }
  })
})

describe('names of records', () => {
  it.each([
    ['guest', idOf('news'), 'newsroom', 'guest newsroom'],
    ['disk', idOf('newsDisk'), 'disk 1 (system) of newsroom', 'disk 1 (system) of newsroom'],
    ['adapter', idOf('newsAdapter'), 'adapter 1 of newsroom', 'adapter 1 of newsroom'],
    ['address', idOf('playoutAddress'), '10.61.40.2', '10.61.40.2'],
    ['subnet', idOf('officeNet'), '10.61.30.0/24', '10.61.30.0/24'],
    ['pool', idOf('pool'), 'DHCP range 10.61.30.2 to 10.61.30.99', 'DHCP range 10.61.30.2 to 10.61.30.99'],
    ['policy', idOf('policy'), 'the policies', 'the policies'],
  ] as const)('%s', (kind, id, title, phrase) => {
    const record = estate.find(kind, id)
    if (!record) throw new Error(kind)
    expect([recordTitle(estate, kind, record), recordPhrase(estate, kind, record)]).toEqual([title, phrase])
  })
  it('of what hangs between two others, and of a part whose whole is gone', () => {
    const [attachment] = estate.byKey('attachment', { hostId: idOf('gannet'), networkId: idOf('office') })
    const disk = estate.find('disk', idOf('newsDisk'))
    if (!attachment || !disk) throw new Error('small estate')
    expect(recordTitle(estate, 'attachment', attachment)).toBe('office on gannet')
    // Every kind has a title of its own: a change of one is told from a change of another.
    const filled = (kind: Kind) => Object.fromEntries(Object.keys(kinds[kind].fields).map((field) => [field, 'gull'])) as never
    expect(kindNames.filter((kind) => recordTitle(estate, kind, filled(kind)) === kinds[kind].label)).toEqual([])
    expect(recordTitle(Estate.empty, 'attachment', attachment)).toBe('a removed network on a removed host')
    expect(recordTitle(Estate.empty, 'disk', disk)).toBe('disk 1 (system) of a removed guest')
  })
  it('of who has an address', () => {
    const owned = after(
      { type: 'address.assign', hostId: idOf('gannet'), subnetId: idOf('officeNet'), kind: 'fixed' },
      { type: 'address.add', record: { subnetId: idOf('officeNet'), ip: '10.61.30.250', kind: 'reserved' } },
    )
    expect(
      owned
        .all('address')
        .map((address) => addressOwner(owned, address))
        .sort(),
    ).toEqual(['adapter 1 of playout-1', 'host gannet', 'unassigned'])
  })
  it('of all that refers to a record', () => {
    expect(
      referrersOf(estate, 'host', idOf('gannet'))
        .map(({ kind, field }) => `${kind}.${field}`)
        .sort(),
    ).toEqual(['attachment.hostId', 'attachment.hostId', 'guest.hostId', 'guest.hostId', 'store.hostId'])
  })
})

it('what is worked out is asked for by the same function each time: one made at the call is a new one, and nothing is kept', () => {
  const folder = new URL('..', import.meta.url)
  const asks = readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.ts') && !file.endsWith('.test.ts'))
    .flatMap((file) =>
      [...readFileSync(new URL(file, folder), 'utf8').matchAll(/\.derive(?:For)?\(([^;]*?)\)/g)].map(([, given]) => ({ file, given })),
    )
  expect(asks.length).toBeGreaterThan(10)
  expect(asks.filter(({ given }) => /,\s*\(|=>|function/.test(given ?? ''))).toEqual([])
})
