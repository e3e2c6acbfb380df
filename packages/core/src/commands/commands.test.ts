import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { GiB } from '../units/index.js'
import { macRows } from '../addresses/index.js'
import { lineages } from '../clones/index.js'
import { proposeMigration } from '../migrations/index.js'
import { apply, applyAll, commandDoc, type Command } from './index.js'
import { CommandError, kinds, makeIds, migrationNames, recordTitle, seededRandom, type Kind } from '../estate/index.js'
import { commandTypes } from '../verbs.js'

const start = smallEstate()
const after = (...commands: Command[]) => applyAll(start, commands, testContext(3)).estate
function refusal(command: unknown): CommandError {
  try {
    apply(start, command as Command, testContext(4))
  } catch (error) {
    if (error instanceof CommandError) return error
    throw error
  }
  throw new Error('was not refused')
}
const guestNamed = (estate: ReturnType<typeof smallEstate>, name: string) => {
  const guest = estate.byKey('guest', { name })[0]
  if (!guest) throw new Error(name)
  return guest
}

describe('add, update, remove', () => {
  it('every kind has its commands and every command a line of doc', () => {
    for (const type of commandTypes) expect(commandDoc(type)).toMatch(/\.$/)
    expect(commandTypes).toContain('adapter.add')
    expect(commandTypes).not.toContain('estate.add')
  })
  it('each kind’s defaults are valid values of their fields', () => {
    const wrong = (Object.keys(kinds) as Kind[]).flatMap((kind) =>
      Object.entries(kinds[kind].fields).flatMap(([name, field]) =>
        field.type === 'choice' && 'default' in field && !field.options.includes(field.default as never) ? [`${kind}.${name}`] : [],
      ),
    )
    expect(wrong).toEqual([])
  })
  it('fills defaults and trims, and keeps what is not named', () => {
    const estate = after({
      type: 'guest.add',
      record: { name: '  spare ', hostId: idOf('gannet'), vcpu: 1, memoryMiB: 512, tags: ['B', 'a', 'b'] },
    })
    expect(guestNamed(estate, 'spare')).toMatchObject({ kind: 'machine', state: 'planned', tags: ['a', 'b'], note: '' })
    const changed = apply(estate, { type: 'guest.update', id: guestNamed(estate, 'spare').id, changes: { vcpu: 2 } }, testContext())
    expect(Object.values(changed.difference.updated)[0]).toMatchObject({ from: { vcpu: 1 }, to: { vcpu: 2, memoryMiB: 512 } })
  })
  it.each([
    [
      { type: 'guest.add', record: { name: 'x', vcpu: 0, memoryMiB: 1e9, colour: 'red' } },
      'invalid',
      ['record.vcpu', 'record.memoryMiB', 'record.colour'],
    ],
    [{ type: 'guest.add', record: { name: 'PLAYOUT-1', vcpu: 1, memoryMiB: 512 } }, 'not-unique', ['record.name']],
    [
      { type: 'guest.add', record: { name: 'x', vcpu: 1, memoryMiB: 512, hostId: idOf('office') } },
      'dangling-reference',
      ['record.hostId'],
    ],
    [{ type: 'guest.add', record: { id: idOf('news'), name: 'x', vcpu: 1, memoryMiB: 512 } }, 'id-taken', ['record.id']],
    [{ type: 'guest.add', record: { id: 'seven', name: 'x', vcpu: 1, memoryMiB: 512 } }, 'invalid', ['record.id']],
    [{ type: 'guest.update', id: idOf('estate'), changes: {} }, 'not-found', ['id']],
    [{ type: 'guest.update', id: idOf('news'), changes: { id: idOf('estate') } }, 'invalid', ['changes.id']],
    [{ type: 'guest.update', id: idOf('news'), changes: { kind: 'external' } }, 'invalid', ['changes.hostId']],
    [{ type: 'guest.update', id: idOf('template'), changes: { state: 'running' } }, 'invalid', ['changes.state']],
    [{ type: 'guest.explode' }, 'unknown-command', ['type']],
    [{ type: 'estate.remove', id: idOf('estate') }, 'unknown-command', ['type']],
    [{ type: 'host.update', id: idOf('gannet'), changes: { kind: 'nested' } }, 'invalid', ['changes.outerGuestId']],
    [
      { type: 'host.update', id: idOf('gannet'), changes: { kind: 'nested', outerGuestId: idOf('playout') } },
      'invalid',
      ['changes.outerGuestId'],
    ],
    [{ type: 'pool.update', id: idOf('pool'), changes: { last: '10.61.31.5' } }, 'invalid', ['changes.last']],
    [{ type: 'pool.update', id: idOf('pool'), changes: { last: '10.61.30.1' } }, 'invalid', ['changes.last']],
    [{ type: 'policy.update', id: idOf('policy'), changes: { storeWarnPercent: 99 } }, 'invalid', ['changes.storeWarnPercent']],
    [{ type: 'store.add', record: { name: 's', capacityBytes: 1 } }, 'invalid', ['record.hostId']],
    [{ type: 'address.assign' }, 'invalid', ['adapterId']],
    [{ type: 'address.assign', hostId: idOf('gannet') }, 'invalid', ['subnetId']],
    [{ type: 'address.assign', adapterId: idOf('playoutAdapter'), ip: '10.61.40.2' }, 'not-unique', ['ip']],
    [{ type: 'adapter.update', id: idOf('newsAdapter'), changes: { mac: '02-1A-4B-00-00-01' } }, 'not-unique', ['changes.mac']],
    [{ type: 'adapter.update', id: idOf('newsAdapter'), changes: { mac: '01:00:5e:00:00:01' } }, 'invalid', ['changes.mac']],
    [{ type: 'guest.power', guestId: idOf('template'), state: 'running' }, 'invalid', ['state']],
    [{ type: 'guest.resize', guestId: idOf('playout'), diskId: idOf('playoutDisk'), sizeBytes: GiB }, 'not-allowed', ['sizeBytes']],
    [{ type: 'guest.resize', guestId: idOf('playout'), diskId: idOf('newsDisk'), sizeBytes: 900 * GiB }, 'invalid', ['diskId']],
    [{ type: 'guest.migrate', guestId: idOf('playout'), toHostId: idOf('gannet') }, 'wrong-state', ['toHostId']],
    [{ type: 'guest.migrate', guestId: idOf('playout'), toHostId: idOf('fulmar') }, 'invalid', [`stores.${idOf('playoutDisk')}`]],
    [
      { type: 'guest.migrate', guestId: idOf('playout'), toHostId: idOf('fulmar'), stores: { [idOf('newsDisk')]: idOf('nvme2') } },
      'invalid',
      [`stores.${idOf('newsDisk')}`],
    ],
    [{ type: 'guest.clone', guestId: idOf('template'), name: 'newsroom' }, 'not-unique', ['name']],
  ])('refuses %j with a code, a sentence and the path', (command, code, paths) => {
    const error = refusal(command)
    expect([error.code, error.problems.map((p) => p.path)]).toEqual([code, paths])
    expect(error.message).toMatch(/^\S.*\.$/)
  })

  it('a nested host that would run inside itself through another is refused', () => {
    const nested = after({
      type: 'host.add',
      record: {
        id: idOf('ola').replace('8000', '9000'),
        name: 'petrel',
        kind: 'nested',
        outerGuestId: idOf('news'),
        platformId: idOf('marram'),
        coresPerSocket: 2,
        memoryMiB: 2048,
      },
    })
    expect(() =>
      apply(nested, { type: 'guest.update', id: idOf('news'), changes: { hostId: idOf('ola').replace('8000', '9000') } }, testContext()),
    ).toThrow('would run inside itself')
  })

  it('removing what others refer to lists them, or takes its parts along and clears the rest when asked', () => {
    const error = refusal({ type: 'guest.remove', id: idOf('playout') })
    expect(error.code).toBe('referred-to')
    expect(error.problems.map((p) => p.message)).toEqual(['disk 1 (system) of playout-1', 'adapter 1 of playout-1'])
    const gone = apply(start, { type: 'guest.remove', id: idOf('playout'), withReferring: true }, testContext()).difference
    expect(
      Object.values(gone.removed)
        .map((p) => p.kind)
        .sort(),
    ).toEqual(['adapter', 'address', 'disk', 'guest'])
    const store = apply(start, { type: 'store.remove', id: idOf('vaultStore'), withReferring: true }, testContext())
    expect(store.estate.find('guest', idOf('news'))?.backupStoreId).toBeNull()
    expect(() => apply(start, { type: 'platform.remove', id: idOf('marram'), withReferring: true }, testContext())).toThrow(
      'used by host tern',
    )
  })
})

describe('a history', () => {
  it('outlives what it tells of, and keeps the names', () => {
    const moved = after({
      type: 'guest.migrate',
      guestId: idOf('playout'),
      toHostId: idOf('fulmar'),
      stores: { [idOf('playoutDisk')]: idOf('nvme2') },
    })
    const gone = applyAll(
      moved,
      [
        { type: 'guest.remove', id: idOf('playout'), withReferring: true },
        { type: 'guest.remove', id: idOf('news'), withReferring: true },
        { type: 'host.remove', id: idOf('fulmar'), withReferring: true },
      ],
      testContext(5),
    ).estate
    const [migration] = gone.all('migration')
    expect(migration).toMatchObject({
      guestId: null,
      guestName: 'playout-1',
      toHostId: null,
      toHostName: 'fulmar',
      fromHostId: idOf('gannet'),
    })
    expect(migration && migrationNames(gone, migration)).toEqual({ guest: 'playout-1', from: 'gannet', to: 'fulmar', becomes: null })
    expect(migration && recordTitle(gone, 'migration', migration)).toBe('migration of playout-1 to fulmar')
  })
  it('adapters of machines that nobody asked have no MAC, as many as there are', () => {
    const unknown = after(
      { type: 'adapter.update', id: idOf('newsAdapter'), changes: { mac: null } },
      { type: 'adapter.update', id: idOf('playoutAdapter'), changes: { mac: null } },
    )
    expect(unknown.all('adapter').filter(({ mac }) => mac === null)).toHaveLength(2)
    expect(macRows(unknown).map(({ id }) => id)).not.toContain(idOf('newsAdapter'))
  })
})

describe('guest verbs', () => {
  it('a clone has a new name, new ids, new MACs, no address, and its lineage', () => {
    const { estate, difference } = apply(start, { type: 'guest.clone', guestId: idOf('playout'), name: 'playout-2' }, testContext(8))
    const clone = guestNamed(estate, 'playout-2')
    const adapter = estate.referring('adapter', 'guestId', clone.id)[0]
    expect(clone).toMatchObject({ clonedFromId: idOf('playout'), state: 'stopped', backupStoreId: null, memoryMiB: 8192 })
    expect(adapter?.mac).not.toBe('02:1a:4b:00:00:01')
    expect(estate.referring('address', 'adapterId', adapter?.id ?? '')).toEqual([])
    expect(estate.referring('disk', 'guestId', clone.id)[0]).toMatchObject({ sizeBytes: 200 * GiB, storeId: idOf('nvme1') })
    expect(Object.keys(difference.added)).toHaveLength(3)
    expect(Object.keys(difference.updated)).toEqual([])
  })
  it('a clone can go to another host with its disks on a store there', () => {
    const estate = after({
      type: 'guest.clone',
      guestId: idOf('template'),
      name: 'copy',
      hostId: idOf('fulmar'),
      stores: { [idOf('templateDisk')]: idOf('nvme2') },
    })
    expect(guestNamed(estate, 'copy')).toMatchObject({ hostId: idOf('fulmar'), kind: 'machine' })
    expect(lineages(estate).map((l) => [l.guest.name, l.copies.map((c) => c.guest.name)])).toEqual([['tpl-server', ['copy']]])
  })
  it('a migration moves disks and adapters, releases addresses of networks left, and is recorded', () => {
    const estate = after({
      type: 'guest.migrate',
      guestId: idOf('playout'),
      toHostId: idOf('fulmar'),
      stores: { [idOf('playoutDisk')]: idOf('nvme2') },
      networks: { [idOf('playoutAdapter')]: idOf('office') },
      method: 'cold copy',
    })
    expect(estate.find('guest', idOf('playout'))?.hostId).toBe(idOf('fulmar'))
    expect(estate.find('disk', idOf('playoutDisk'))?.storeId).toBe(idOf('nvme2'))
    expect(estate.find('address', idOf('playoutAddress'))).toBeUndefined()
    expect(estate.all('migration')).toMatchObject([
      { fromHostId: idOf('gannet'), toHostId: idOf('fulmar'), method: 'cold copy', state: 'closed' },
    ])
  })
  it('a proposed migration applies as it is, and says in words what fits', () => {
    const [guest, host] = [start.find('guest', idOf('playout')), start.find('host', idOf('fulmar'))]
    if (!guest || !host) throw new Error('small estate')
    const { command, fit } = proposeMigration(start, guest, host)
    expect(fit.verdict).toBe('fits')
    expect(fit.lines.map((line) => line.about)).toEqual(['memory', 'processors', 'store', 'network'])
    expect(apply(start, command, testContext()).estate.find('disk', idOf('playoutDisk'))?.storeId).toBe(idOf('nvme2'))
    const tern = start.find('host', idOf('tern'))
    const tight = tern && proposeMigration(start, guest, tern)
    expect(tight?.fit.verdict).toBe('no')
    expect(tight?.fit.lines.map((line) => line.sentence)).toContain('Network studio is not attached to tern yet')
  })
  it('power and resize', () => {
    const estate = after(
      { type: 'guest.power', guestId: idOf('news'), state: 'stopped' },
      { type: 'guest.resize', guestId: idOf('news'), vcpu: 8, diskId: idOf('newsDisk'), sizeBytes: 80 * GiB },
    )
    expect(estate.find('guest', idOf('news'))).toMatchObject({ state: 'stopped', vcpu: 8, memoryMiB: 4096 })
    expect(estate.find('disk', idOf('newsDisk'))?.sizeBytes).toBe(80 * GiB)
  })
})

describe('ids', () => {
  // RFC 9562, section 5.7: 48 bits of milliseconds, version 7, variant 10.
  it('are UUIDv7: ordered, unique, with version and variant', () => {
    const newId = makeIds(() => 1_700_000_000_000, seededRandom(1))
    const list = Array.from({ length: 10_000 }, newId)
    expect(new Set(list).size).toBe(list.length)
    expect([...list].sort()).toEqual(list)
    for (const id of list.slice(0, 50)) expect(id).toMatch(/^018bcfe5-68\d\d-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/)
  })
})
