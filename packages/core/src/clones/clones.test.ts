import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { storeBudget } from '../capacity/index.js'
import { applyAll, type Command, type CommandContext } from '../commands/index.js'
import { CommandError, derivedId, type Copy, type Estate, type Guest } from '../estate/index.js'
import { Findings } from '../findings/index.js'
import { demandOf } from '../placement/index.js'
import { estateAfter, itemsOf, projectPlan } from '../plans/index.js'
import { generateEstate, idOf, smallEstate, testContext, TODAY } from '../testing/index.js'
import { runs } from '../testing/tier.js'
import { GiB } from '../units/index.js'
import { CopyPlacer } from './place-copies.js'
import {
  batchMinutes,
  batchStores,
  composeBatch,
  copySteps,
  expandNames,
  identityClasses,
  patternFor,
  sayIdentity,
  templateSheet,
  usualWish,
  type BatchWish,
  type CloneCommand,
  type RowEdit,
} from './index.js'

const id = (number: number) => `018c0000-0000-7000-8000-${number.toString(16).padStart(12, '0')}`
const [BATCH, PLAN, OTHER, ITEM] = [id(0xb1), id(0xb2), id(0xb3), id(0xb4)]
let seed = 900
const context = (): CommandContext => ({ ...testContext(++seed), personId: idOf('ola') })
const done = (estate: Estate, ...commands: Command[]) => applyAll(estate, commands, context()).estate
const refusalOf = (estate: Estate, ...commands: Command[]): string => {
  try {
    done(estate, ...commands)
    return ''
  } catch (error) {
    if (error instanceof CommandError) return `${error.code}: ${error.message}`
    throw error
  }
}
const estate = smallEstate()
const found = (of: Estate, name: string): Guest => {
  const [guest] = of.byKey('guest', { name })
  if (!guest) throw new Error(`no guest ${name}`)
  return guest
}
const template = found(estate, 'tpl-server')
const wish = (changes: Partial<BatchWish> = {}): BatchWish => ({ ...usualWish(estate, template, false), names: 'edge-{1..5}', ...changes })
const composed = (changes: Partial<BatchWish> = {}, edits: readonly [number, RowEdit][] = [], on = estate, from = 0) =>
  composeBatch(on, wish(changes), (row) => id(from + row), new Map(edits))
const commandsOf = (changes: Partial<BatchWish> = {}): readonly CloneCommand[] => {
  const { commands, rows, problems } = composed(changes)
  if (!commands) throw new Error(JSON.stringify([rows.map(({ findings }) => findings), problems]))
  return commands
}

describe('names', () => {
  it.each([
    ['edge-{01..03}', ['edge-01', 'edge-02', 'edge-03']],
    ['{a..c}-web', ['a-web', 'b-web', 'c-web']],
    ['{web,mail}-{1..2}', ['web-1', 'web-2', 'mail-1', 'mail-2']],
    ['a, b\nc;d', ['a', 'b', 'c', 'd']],
    ['n{8..11}', ['n8', 'n9', 'n10', 'n11']],
    ['n{08..11}', ['n08', 'n09', 'n10', 'n11']],
  ])('%s', (text, names) => expect(expandNames(text)).toEqual({ ok: true, names }))

  it.each([
    ['', /Names are missing/],
    ['edge-{1..', /brace without its other half/],
    ['edge-{}', /cannot be read/],
    ['edge-{5..1}', /backwards/],
    ['edge-{1..9999}', /more than/],
    ['{1..99}-{1..99}', /more than/],
    ['edge-{1...3}', /cannot be read/],
    ['{web mail}-1', /cannot be read/],
  ])('%s is refused in a sentence', (text, sentence) => {
    const reading = expandNames(text)
    expect(reading.ok ? '' : reading.sentence).toMatch(sentence)
  })

  it('any text is read or refused, and quickly', () =>
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom('{', '}', '..', ',', '0', '9', 'a', 'z', ' ', '\n', '-'), maxLength: 40 }), (text) => {
        const reading = expandNames(text)
        if (reading.ok) expect(reading.names.every((name) => name.length > 0 && !/[{}\s]/.test(name))).toBe(true)
        else expect(reading.sentence).not.toBe('')
      }),
      { numRuns: runs(200, 5000) },
    ))
})

describe('a batch is composed', () => {
  it('into a command for each copy, spread over the hosts in turn, with why', () => {
    const { rows, problems } = composed()
    expect(problems).toEqual([])
    expect(rows.map(({ name, place }) => `${name} ${place.host?.name}`)).toEqual([
      'edge-1 fulmar',
      'edge-2 gannet',
      'edge-3 fulmar',
      'edge-4 gannet',
      'edge-5 fulmar',
    ])
    expect(rows[0]?.place.why).toMatch(/fewest of these copies; .* remain/)
    const after = done(estate, ...commandsOf())
    expect(found(after, 'edge-3')).toMatchObject({ clonedFromId: template.id, clonedVersion: '12', identity: 'removed', state: 'stopped' })
  })

  it('with a row changed in place: name, host, size, address', () => {
    const { rows, commands } = composed({ addressing: 'next free, fixed' }, [
      [1, { name: 'front', hostId: idOf('gannet'), memoryMiB: 1024, vcpu: 1, address: '10.61.30.200' }],
    ])
    expect(rows[1]).toMatchObject({ name: 'front', memoryMiB: 1024, vcpu: 1, address: '10.61.30.200', findings: [] })
    const after = done(estate, ...(commands ?? []))
    expect(found(after, 'front')).toMatchObject({ hostId: idOf('gannet'), memoryMiB: 1024, vcpu: 1 })
    // The others have the next free ones after each other, outside of the DHCP range up to .99.
    expect(rows.map(({ address }) => address)).toEqual(['10.61.30.100', '10.61.30.200', '10.61.30.101', '10.61.30.102', '10.61.30.103'])
  })

  it.each<[string, Partial<BatchWish>, readonly [number, RowEdit][], number, RegExp]>([
    ['a name twice', { names: 'a b a' }, [], 2, /already used/],
    ['a name that is taken', { names: 'newsroom' }, [], 0, /already used/],
    ['a name that is none', { names: 'a_b!' }, [], 0, /Name/],
    ['more memory than there is', {}, [[0, { memoryMiB: 2 ** 21 }]], 0, /No host has room: .* short of/],
    ['an address that is taken', {}, [[0, { address: '10.61.30.1' }]], 0, /10\.61\.30\.1/],
    ['an address of nowhere', {}, [[0, { address: '10.99.0.1' }]], 0, /10\.99\.0\.1/],
    ['no address at all', {}, [[0, { address: 'ten' }]], 0, /IP|address/i],
    ['too few listed', { addressing: 'listed, fixed', addressList: '10.61.30.200-201' }, [], 2, /No address is left/],
    ['a host that does not carry the network', {}, [[0, { hostId: idOf('tern') }]], 0, /not attached/],
  ])('%s is said in its row, and nothing is made', (_, changes, edits, row, sentence) => {
    const { rows, commands } = composed(changes, edits)
    expect(rows[row]?.findings.map((one) => one.sentence).join(' ')).toMatch(sentence)
    expect(commands).toBeUndefined()
  })

  it('rows without an address are counted, and those before them have one', () => {
    const { rows, withoutAddress } = composed({ addressing: 'listed, fixed', addressList: '10.61.30.200, 10.61.30.201' })
    expect([withoutAddress, rows.filter(({ address }) => address !== undefined).length]).toEqual([3, 2])
  })

  it('addresses of a subnet that hands out by host are together for each host', () => {
    const byHost = done(estate, { type: 'subnet.update', id: idOf('officeNet'), changes: { handOut: 'by host block' } })
    const { rows, commands } = composed({ addressing: 'next free, fixed', names: 'e-{1..6}' }, [], byHost)
    const blocks = new Map<string, Set<number>>()
    for (const { place, address } of rows) {
      const block = Math.floor(Number(address?.split('.')[3]) / 16)
      blocks.set(place.host?.name ?? '', (blocks.get(place.host?.name ?? '') ?? new Set()).add(block))
    }
    expect([...blocks.values()].map(({ size }) => size)).toEqual([1, 1])
    expect(new Set(rows.map(({ address }) => address)).size).toBe(6)
    expect(done(byHost, ...(commands ?? [])).count('address')).toBe(byHost.count('address') + 6)
  })

  it('apart: no two on one host while there is another, and then it is said', () =>
    expect(composed({ spread: 'apart', names: 'e-{1..3}' }).rows.map(({ place }) => place.verdict)).toEqual(['fits', 'fits', 'remark']))

  it('warns of a template that is not generalised, unless each copy boots isolated first', () => {
    const raw = done(estate, { type: 'template.update', id: idOf('templateVersion'), changes: { hostKeysRemoved: 'unknown' } })
    expect(
      composed({}, [], raw)
        .problems.map(({ sentence }) => sentence)
        .join(),
    ).toMatch(/host keys/)
    expect(composed({ isIsolated: true }, [], raw).problems).toEqual([])
  })

  it('takes what plans would make as used', () => {
    const planned = done(
      estate,
      { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
      {
        type: 'item.write',
        id: ITEM,
        planId: PLAN,
        title: 'Copies',
        kind: 'copies',
        commands: commandsOf({ addressing: 'next free, fixed' }),
      },
    )
    const { rows } = composed({ names: 'edge-1 front', addressing: 'next free, fixed' }, [], planned, 100)
    expect(rows[0]?.findings[0]?.sentence).toMatch(/already used/)
    // The first row has .105, though it cannot be made.
    expect(rows[1]?.address).toBe('10.61.30.106')
  })

  it('space worked out is what the stores’ budgets say after carrying out', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 8 }), fc.constantFrom(null, 'thin' as const, 'thick' as const), (count, provisioning) => {
        const batch = composed({ names: `e-{1..${count}}`, provisioning })
        const after = done(estate, ...(batch.commands ?? []))
        for (const store of batchStores(estate, template, batch.rows, batch.stores)) {
          const record = after.find('store', store.storeId)
          if (!record) throw new Error(store.name)
          const budget = storeBudget(after, record)
          expect([store.usedThenBytes, store.promisedThenBytes]).toEqual([budget.used.value, budget.promised.value])
          expect(store.usedNowBytes).toBe(storeBudget(estate, record).used.value)
        }
      }),
      { numRuns: runs(20, 200) },
    ))

  it('five copies are up sooner than one fresh install takes each', () => {
    // Common practice, no source: five copies of a server template in five to six minutes, less than one fresh install of 10 to 30.
    const minutes = batchMinutes(estate, template, composed().rows, 'template generalised')
    expect(minutes.copying + minutes.booting).toBeLessThanOrEqual(10)
    expect(minutes.installing).toBe(150)
    expect(minutes.from).toBe('common practice')
  })

  it('names, MACs, ids and fixed addresses of batches in two plans never collide, in whichever order they are carried out', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 6 }), fc.boolean(), (a, b, isTurned) => {
        const plans = done(
          estate,
          { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
          { type: 'plan.add', record: { id: OTHER, name: 'Sunday' } },
        )
        const batch = (on: Estate, stem: string, count: number, from: number) => {
          const { commands } = composed({ names: `${stem}-{1..${count}}`, addressing: 'next free, fixed' }, [], on, from)
          if (!commands) throw new Error('composed')
          return commands
        }
        const write = (planId: string, commands: readonly CloneCommand[]): Command => ({
          type: 'item.write',
          id: derivedId(planId, 'item'),
          planId,
          title: 'Copies',
          kind: 'copies',
          commands,
        })
        const first = done(plans, write(PLAN, batch(plans, 'a', a, 0)))
        let now = done(first, write(OTHER, batch(first, 'b', b, 100)))
        for (const planId of isTurned ? [OTHER, PLAN] : [PLAN, OTHER])
          now = done(now, { type: 'batch.begin', name: planId, itemId: itemsOf(now, planId)[0]?.id ?? '' })
        expect(now.count('guest')).toBe(estate.count('guest') + a + b)
        for (const values of [now.all('adapter').map(({ mac }) => mac), now.all('address').map(({ ip }) => ip)])
          expect(new Set(values).size).toBe(values.length)
      }),
      { numRuns: runs(15, 150) },
    ))

  it('200 copies on the large estate keep the reserve where it can be kept', () => {
    const large = generateEstate({ hosts: 200, guests: 5000, adapters: 1 })
    const [original] = large.all('guest')
    if (!original) throw new Error('no guest')
    const { rows } = composeBatch(large, { ...usualWish(large, original, true), names: 'copy-{001..200}' }, (row) => id(row))
    expect(rows).toHaveLength(200)
    expect(rows.every(({ place }) => place.verdict !== 'no' || /No (host|store)/.test(place.why))).toBe(true)
  })
})

describe('a batch that is begun', () => {
  const begun = (changes: Partial<BatchWish> = {}, school?: 'isolated first boot') =>
    done(estate, { type: 'batch.begin', id: BATCH, name: 'Edges', copies: commandsOf(changes), ...(school ? { school } : {}) })
  const copies = (of: Estate): readonly Copy[] => [...of.referring('copy', 'batchId', BATCH)].sort((a, b) => a.position - b.position)
  const copyOf = (of: Estate, name: string) => {
    const copy = copies(of).find(({ guestId }) => guestId === found(of, name).id)
    if (!copy) throw new Error(name)
    return copy
  }
  const settle = (of: Estate, name: string, step: string, state = 'done', note = ''): Command =>
    ({ type: 'copy.settle', copyId: copyOf(of, name).id, step, state, note }) as Command

  it('has each copy recorded as planned, with its key, until it is copied', () => {
    const now = begun()
    expect(copies(now).map(({ state, position }) => `${position} ${state}`)).toEqual([
      '1 planned',
      '2 planned',
      '3 planned',
      '4 planned',
      '5 planned',
    ])
    expect(found(now, 'edge-1').state).toBe('planned')
    const copying = done(now, { type: 'copy.begin', copyId: copyOf(now, 'edge-1').id })
    expect(found(copying, 'edge-1').state).toBe('being copied')
    expect(refusalOf(copying, { type: 'copy.begin', copyId: copyOf(now, 'edge-1').id })).toMatch(/changed-since: edge-1 is under way/)
    expect(found(done(copying, settle(copying, 'edge-1', 'copied')), 'edge-1').state).toBe('stopped')
  })

  it('a copy goes through its steps into service, and gets an identity of its own at its first boot', () => {
    let now = begun()
    for (const { key } of copySteps('template generalised')) now = done(now, settle(now, 'edge-1', key))
    expect(found(now, 'edge-1')).toMatchObject({ state: 'running', identity: 'its own', verifiedAt: '2027-01-18T08:00:00.000Z' })
    expect(copyOf(now, 'edge-1')).toMatchObject({ state: 'in service', reason: null })
    expect(now.find('batch', BATCH)?.endedAt).toBeNull()
    expect(refusalOf(now, settle(now, 'edge-1', 'named', 'open'))).toMatch(/in service already/)
  })

  it('a step in the wrong order, without a note, or settled by somebody else is refused with the reason', () => {
    const now = begun()
    expect(refusalOf(now, settle(now, 'edge-1', 'in-service'))).toMatch(/not in service before copied, attached/)
    expect(refusalOf(now, settle(now, 'edge-1', 'first-boot'))).toMatch(/being copied; it boots once it is copied/)
    expect(refusalOf(now, settle(now, 'edge-1', 'named', 'failed'))).toMatch(/has a note/)
    expect(refusalOf(now, settle(now, 'edge-1', 'dance'))).toMatch(/no step “dance”|not a step|There is no step/)
    const named = done(now, settle(now, 'edge-1', 'named'))
    expect(refusalOf(named, settle(named, 'edge-1', 'named'))).toMatch(/done already, by Ola Berg/)
  })

  it('a failed first boot: the copy is dropped, its keys are free, and another begins in its place', () => {
    const now = begun({ addressing: 'next free, fixed' })
    const failed = done(now, settle(now, 'edge-2', 'copied'), settle(now, 'edge-2', 'first-boot', 'failed', 'no disk found'))
    const copy = copyOf(failed, 'edge-2')
    expect(copy).toMatchObject({ state: 'failed', reason: 'First boot: no disk found' })
    const address = failed.referring('address', 'adapterId', failed.referring('adapter', 'guestId', copy.guestId ?? '')[0]?.id ?? '')[0]
    const dropped = done(failed, { type: 'copy.drop', copyId: copy.id, reason: 'broken' })
    expect(dropped.byKey('guest', { name: 'edge-2' })).toEqual([])
    expect(dropped.byKey('address', { ip: address?.ip })).toEqual([])
    expect(copies(dropped)[1]).toMatchObject({ state: 'dropped', guestName: 'edge-2', guestId: null })
    const again = done(dropped, { type: 'copy.replace', copyId: copy.id })
    expect(copies(again)[5]).toMatchObject({ position: 6, state: 'planned' })
    expect(found(again, 'edge-2').id).not.toBe(copy.guestId)
    expect(again.byKey('address', { ip: address?.ip })).toHaveLength(1)
    expect(refusalOf(again, { type: 'copy.replace', copyId: copyOf(again, 'edge-2').id })).toMatch(/planned; only a copy that was dropped/)
  })

  it('is over with the last copy in service or dropped, and its item with it', () => {
    const planned = done(
      estate,
      { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
      { type: 'item.write', id: ITEM, planId: PLAN, title: 'Copies', kind: 'copies', commands: commandsOf({ names: 'a b' }) },
    )
    let now = done(planned, { type: 'batch.begin', id: BATCH, name: 'Two', itemId: ITEM })
    expect(now.find('item', ITEM)).toMatchObject({ state: 'under way', commands: [] })
    expect(projectPlan(now, PLAN).items.map(({ departures, outcome }) => [departures, outcome.ok])).toEqual([[[], true]])
    for (const { key } of copySteps('template generalised')) now = done(now, settle(now, 'a', key))
    now = done(now, { type: 'copy.drop', copyId: copyOf(now, 'b').id, reason: 'not needed' })
    expect(now.find('batch', BATCH)?.endedAt).not.toBeNull()
    expect([now.find('item', ITEM)?.state, now.find('plan', PLAN)?.state]).toEqual(['done', 'done'])
    expect(refusalOf(planned, { type: 'batch.begin', name: 'x', itemId: ITEM, copies: commandsOf() })).toMatch(/Name an item/)
  })

  it('copy first, generalise after: adapters stay disconnected until that is done', () => {
    const raw = done(estate, { type: 'template.update', id: idOf('templateVersion'), changes: { hostKeysRemoved: 'no' } })
    const { commands } = composed({ isIsolated: true, names: 'a' }, [], raw)
    const now = done(raw, { type: 'batch.begin', id: BATCH, name: 'Isolated', copies: commands ?? [] })
    const [adapter] = now.referring('adapter', 'guestId', found(now, 'a').id)
    expect([now.find('batch', BATCH)?.school, adapter?.isConnected, found(now, 'a').identity]).toEqual([
      'isolated first boot',
      false,
      'copied',
    ])
    const connect: Command = { type: 'adapter.update', id: adapter?.id ?? '', changes: { isConnected: true } }
    expect(refusalOf(now, connect)).toMatch(/still has the identity of what it was copied from/)
    const booted = done(now, settle(now, 'a', 'copied'), settle(now, 'a', 'first-boot'))
    expect(refusalOf(booted, settle(booted, 'a', 'attached'))).toMatch(/generalise it before it is attached/)
    const own = done(booted, settle(booted, 'a', 'generalised'))
    expect(found(own, 'a').identity).toBe('its own')
    const attached = done(own, settle(own, 'a', 'attached'))
    expect(attached.find('adapter', adapter?.id)?.isConnected).toBe(true)
    expect(refusalOf(own, connect)).toBe('')
  })

  it('made alone stays off the network, too, until its identity is its own: by its adapters, and by one that is added', () => {
    const COPY = '01890000-0000-7000-8000-00000000fa01'
    const raw = done(estate, { type: 'template.update', id: idOf('templateVersion'), changes: { hostKeysRemoved: 'no' } })
    const clone = (isIsolated: boolean): Command => ({
      type: 'guest.clone',
      id: COPY,
      guestId: idOf('template'),
      name: 'alone',
      isIsolated,
    })
    const now = done(raw, clone(true))
    const [adapter] = now.referring('adapter', 'guestId', COPY)
    const connect: Command = { type: 'adapter.update', id: adapter?.id ?? '', changes: { isConnected: true } }
    const more: Command = { type: 'adapter.add', record: { guestId: COPY, position: 9, networkId: idOf('office') } }
    expect(adapter?.isConnected).toBe(false)
    for (const command of [connect, more])
      expect(refusalOf(now, command)).toBe(
        'wrong-state: alone still has the identity of what it was copied from and is on no network yet; generalise it first, and record on its page that its identity is its own.',
      )
    // Nor by taking all of its adapters away first, nor by one that another machine has.
    const bare = done(
      now,
      ...now.referring('adapter', 'guestId', COPY).map(({ id: one }): Command => ({ type: 'adapter.remove', id: one })),
    )
    expect(refusalOf(bare, more)).toMatch(/on no network yet/)
    const [others] = now.referring('adapter', 'guestId', idOf('playout'))
    const taken: Command = { type: 'adapter.update', id: others?.id ?? '', changes: { guestId: COPY, position: 7 } }
    expect(refusalOf(now, taken)).toMatch(/on no network yet/)
    // Unplugged, it may get another.
    expect(refusalOf(now, { ...more, record: { guestId: COPY, position: 9, networkId: idOf('office'), isConnected: false } })).toBe('')
    const own = done(now, { type: 'guest.identity', guestId: COPY, identity: 'its own' })
    for (const command of [connect, more]) expect(refusalOf(own, command)).toBe('')
    // A copy that was plugged in from the start may be unplugged and plugged in again once it was verified.
    const plugged = done(raw, clone(false), { type: 'guest.update', id: COPY, changes: { verifiedAt: '2027-01-18T08:00:00.000Z' } })
    const off = done(plugged, { type: 'adapter.update', id: adapter?.id ?? '', changes: { isConnected: false } })
    expect(refusalOf(off, connect)).toBe('')
  })

  it('takes copies of one original alone, and none of a withdrawn version', () => {
    const other: Command = { type: 'guest.clone', guestId: idOf('news'), name: 'x' }
    expect(refusalOf(estate, { type: 'batch.begin', name: 'x', copies: [...commandsOf({ names: 'a' }), other] })).toMatch(/of one original/)
    expect(
      refusalOf(estate, { type: 'batch.begin', name: 'x', copies: [{ type: 'guest.power', guestId: idOf('news'), state: 'stopped' }] }),
    ).toMatch(/holds copies/)
    const withdrawn = done(estate, {
      type: 'template.update',
      id: idOf('templateVersion'),
      changes: { withdrawnOn: '2027-01-12', withdrawnFor: 'old keys' },
    })
    expect(refusalOf(withdrawn, { type: 'batch.begin', name: 'x', copies: commandsOf() })).toMatch(/withdrawn since 2027-01-12: old keys/)
  })
})

describe('identity', () => {
  const copyOf = (name: string, of: string): Command => ({ type: 'guest.clone', guestId: of, name, id: derivedId(idOf('news'), name) })

  it('is copied from the source, removed from a generalised template, and its own by a person', () => {
    const now = done(estate, copyOf('raw', idOf('news')), copyOf('clean', idOf('template')))
    expect([sayIdentity(now, found(now, 'raw')), found(now, 'clean').identity]).toEqual(['copied from newsroom', 'removed'])
    const own = done(now, { type: 'guest.identity', guestId: found(now, 'raw').id, identity: 'its own' })
    expect(found(own, 'raw')).toMatchObject({ identity: 'its own', identityFromId: null })
    expect(refusalOf(now, { type: 'guest.update', id: found(now, 'raw').id, changes: { identity: 'its own' } })).toMatch(/not-allowed/)
    expect(refusalOf(now, { type: 'guest.identity', guestId: idOf('news'), identity: 'copied' })).toMatch(/names the machine/)
    expect(refusalOf(now, { type: 'guest.identity', guestId: idOf('news'), identity: 'copied', fromId: idOf('news') })).toMatch(
      /from itself/,
    )
  })

  it('who shares with whom equals a plain union-find over the log, through copies of copies, moves and removals', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ what: fc.constantFrom('clone', 'own', 'removed', 'restore', 'move', 'remove'), at: fc.nat(30), to: fc.nat(30) }),
          { maxLength: 30 },
        ),
        (steps) => {
          let now = smallEstate()
          // The reference: a node for each identity that a machine ever had; a copy is joined with what it is copied from.
          const parent = new Map<string, string>()
          const root = (node: string): string =>
            parent.get(node) === undefined || parent.get(node) === node ? node : root(parent.get(node) ?? node)
          const nodes = new Map<string, string | undefined>(now.all('guest').map((guest) => [guest.id, guest.id]))
          for (const [index, { what, at, to }] of steps.entries()) {
            const guests = now.all('guest').filter(({ kind }) => kind === 'machine')
            const [one, other] = [guests[at % guests.length], guests[to % guests.length]]
            if (!one || !other) continue
            const made = id(0x1000 + index)
            const command: Command =
              what === 'clone'
                ? { type: 'guest.clone', guestId: one.id, name: `c-${index}`, id: made }
                : what === 'restore'
                  ? { type: 'guest.identity', guestId: one.id, identity: 'copied', fromId: other.id }
                  : what === 'move'
                    ? { type: 'guest.update', id: one.id, changes: { note: `moved ${index}` } }
                    : what === 'remove'
                      ? { type: 'guest.remove', id: one.id, withReferring: true }
                      : { type: 'guest.identity', guestId: one.id, identity: what === 'own' ? 'its own' : 'removed' }
            if (refusalOf(now, command) !== '') continue
            now = done(now, command)
            const fresh = `${one.id} ${index}`
            const join = (node: string, from: string | undefined) => {
              if (from !== undefined) parent.set(root(node), root(from))
              return from === undefined ? undefined : node
            }
            if (what === 'clone') nodes.set(made, join(`${made} ${index}`, nodes.get(one.id)))
            if (what === 'restore') nodes.set(one.id, join(fresh, nodes.get(other.id)))
            if (what === 'own') nodes.set(one.id, fresh)
            if (what === 'removed') nodes.set(one.id, undefined)
          }
          const expected = new Map<string, string[]>()
          for (const guest of now.all('guest')) {
            const node = nodes.get(guest.id)
            if (node !== undefined) expected.set(root(node), [...(expected.get(root(node)) ?? []), guest.id])
          }
          const sorted = (classes: Iterable<readonly string[]>) => [...classes].map((list) => [...list].sort().join()).sort()
          expect(sorted([...identityClasses(now).values()].map((list) => list.map((guest) => guest.id)))).toEqual(sorted(expected.values()))
        },
      ),
      { numRuns: runs(150, 3000) },
    ))

  it('two that share one and are powered on in one network are an error with both named; apart they are a warning', () => {
    const now = done(estate, copyOf('raw', idOf('news')), {
      type: 'guest.power',
      guestId: derivedId(idOf('news'), 'raw'),
      state: 'running',
    })
    const said = (of: Estate) =>
      Findings.of(of, TODAY)
        .list()
        .filter(({ ruleId }) => /identity|not-generalised/.test(ruleId))
    expect(said(now).map(({ severity, sentence }) => `${severity}: ${sentence}`)).toEqual([
      'error: raw and newsroom share an identity and are both powered on in office.',
    ])
    const [adapter] = now.referring('adapter', 'guestId', found(now, 'raw').id)
    const apart = done(now, { type: 'adapter.update', id: adapter?.id ?? '', changes: { networkId: idOf('studio') } })
    expect(said(apart).map(({ severity, ruleId }) => `${severity} ${ruleId}`)).toEqual(['warning guest.not-generalised'])
  })
})

describe('identity in a plan', () => {
  it('is an error where two would be powered on under one', () => {
    const raw: Command = { type: 'guest.clone', id: id(1), guestId: idOf('news'), name: 'raw' }
    const now = done(
      estate,
      { type: 'plan.add', record: { id: PLAN, name: 'Saturday' } },
      {
        type: 'item.write',
        id: ITEM,
        planId: PLAN,
        title: 'A twin',
        commands: [raw, { type: 'guest.power', guestId: id(1), state: 'running' }],
      },
    )
    const said = (of: Estate) =>
      Findings.of(of, TODAY)
        .list()
        .filter(({ ruleId }) => ruleId === 'guest.shared-identity')
        .map(({ sentence }) => sentence)
    expect(said(now)).toEqual([])
    expect(said(estateAfter(now, PLAN))).toEqual(['raw and newsroom share an identity and are both powered on in office.'])
  })
})

describe('templates', () => {
  it('a newer version supersedes an older, which copies are behind then', () => {
    let now = done(estate, { type: 'guest.clone', guestId: template.id, name: 'old', id: id(1) })
    for (const [index, version] of ['13', '14'].entries())
      now = done(now, {
        type: 'template.renew',
        guestId: index === 0 ? template.id : id(10),
        id: id(10 + index),
        name: `tpl-server-${version}`,
        version,
      })
    expect(found(now, 'tpl-server-13')).toMatchObject({ kind: 'template', state: 'stopped' })
    expect(now.byKey('template', { guestId: id(11) })[0]).toMatchObject({ supersedesId: id(10), identityRemoved: 'unknown' })
    const said = Findings.of(now, TODAY)
      .list()
      .map(({ sentence }) => sentence)
    expect(said.join('\n')).toMatch(/old is 2 versions older than its template, which is now tpl-server-14/)
    // Copies of a later version are called as those of the first.
    expect(patternFor(now, found(now, 'tpl-server-14'), 3)).toBe('server-{1..3}')
    // Only the newest is asked whether it was prepared.
    expect(said.filter((sentence) => /not recorded as free/.test(sentence))).toHaveLength(1)
    const circle: Command = { type: 'template.update', id: idOf('templateVersion'), changes: { supersedesId: id(11) } }
    expect(refusalOf(now, circle)).toMatch(/supersede each other in a circle/)
    expect(refusalOf(now, { type: 'template.renew', guestId: idOf('news'), name: 'x', version: '1' })).toMatch(/not a template/)
  })

  it.each<[string, Command[], RegExp]>([
    [
      'not patched for a time',
      [{ type: 'template.update', id: idOf('templateVersion'), changes: { patchedOn: '2026-09-01' } }],
      /last patched 139 days ago/,
    ],
    [
      'never patched',
      [{ type: 'template.update', id: idOf('templateVersion'), changes: { patchedOn: null } }],
      /last patched is not recorded/,
    ],
    [
      'not generalised',
      [{ type: 'template.update', id: idOf('templateVersion'), changes: { hostKeysRemoved: 'no' } }],
      /still has its host keys/,
    ],
    ['never prepared', [{ type: 'template.remove', id: idOf('templateVersion') }], /not recorded as free of its machine name/],
    [
      'running',
      [
        { type: 'sheet.add', record: { id: id(30), guestId: idOf('template'), work: 'renewal', startedAt: '2027-01-18T08:00:00.000Z' } },
        { type: 'guest.power', guestId: idOf('template'), state: 'running' },
        { type: 'sheet.update', id: id(30), changes: { finishedAt: '2027-01-18T08:30:00.000Z' } },
      ],
      /running, and no template sheet/,
    ],
    [
      'with a medium',
      [
        { type: 'image.add', record: { id: id(31), name: 'install.iso', sizeBytes: 1e9 } },
        { type: 'guest.update', id: idOf('template'), changes: { mediumId: id(31) } },
      ],
      /has install\.iso attached/,
    ],
    [
      'no room beside it',
      [{ type: 'store.update', id: idOf('nvme1'), changes: { otherBytes: 10 ** 13 } }],
      /a copy of tpl-server beside it takes/,
    ],
    [
      'a copy of a withdrawn version',
      [
        { type: 'guest.clone', guestId: idOf('template'), name: 'old', id: id(1) },
        { type: 'template.update', id: idOf('templateVersion'), changes: { withdrawnOn: '2027-01-15' } },
      ],
      /old was made of version 12 of tpl-server, withdrawn/,
    ],
  ])('%s is found', (_, commands, sentence) => {
    const now = commands.reduce((of, command) => done(of, command), estate)
    expect(
      Findings.of(now, TODAY)
        .list()
        .map((finding) => finding.sentence)
        .join('\n'),
    ).toMatch(sentence)
  })

  it('its sheet says what is still to be done, with the parts of an identity that its system has', () => {
    const raw = done(estate, { type: 'template.update', id: idOf('templateVersion'), changes: { identityRemoved: 'unknown' } })
    const steps = templateSheet(raw, template).steps
    expect(steps.map(({ key }) => key)).toEqual(['boot', 'patch', 'install', 'clean-up', 'generalise', 'eject', 'shut-down', 'mark'])
    expect(steps[4]?.gap).toBe('Not recorded as removed: machine-id.')
    expect(steps[4]?.lines.join(' ')).toMatch(/\/etc\/machine-id.*ssh_host/)
    expect(templateSheet(estate, template).steps[4]?.gap).toBeUndefined()
  })
})

it('a copy of which one disk has no room takes none for the others', () => {
  const placer = new CopyPlacer(smallEstate(), 'most room', {
    ...demandOf(smallEstate(), smallEstate().find('guest', idOf('template')) as Guest),
    isRunning: false,
    guestId: undefined,
  })
  const disk = (gibibytes: number) => ({
    sizeBytes: gibibytes * GiB,
    usedBytes: null,
    provisioning: 'thick' as const,
    use: 'data' as const,
  })
  const need = (...sizes: readonly number[]) => ({ vcpu: 1, memoryMiB: 512, latency: 'general' as const, disks: sizes.map(disk) })
  const free = () => placer.stores.map(({ store, freeBytes, promisedBytes }) => [store.name, freeBytes, promisedBytes])
  const before = free()
  expect(placer.place(need(300, 1200)).verdict).toBe('no')
  expect(free()).toEqual(before)
  expect(placer.place(need(300)).verdict).toBe('fits')
  expect(free()).not.toEqual(before)
})
