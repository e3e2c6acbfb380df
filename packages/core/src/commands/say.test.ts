import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { apply, applyAll, sayCommand, sayWhole, describeDifference, type Command } from './index.js'
import { kinds, formatField, recordPhrase, type RecordOf } from '../estate/index.js'

const start = smallEstate()
const said = (command: Command) => {
  const { estate, difference } = apply(start, command, testContext(9))
  return describeDifference(estate, difference)
}

describe('in words', () => {
  it('a new address says its name, which is not what it is called by', () => {
    const [added] = said({
      type: 'address.add',
      record: { subnetId: idOf('officeNet'), ip: '10.61.30.120', kind: 'reserved', name: 'newbox' },
    })
    expect(added?.title).toContain('10.61.30.120')
    expect(added?.fields.map(({ to }) => to)).toContain('newbox')
  })

  it('a difference names records and the fields that changed, with units and names', () => {
    expect(said({ type: 'guest.resize', guestId: idOf('playout'), memoryMiB: 12288 })).toEqual([
      {
        id: idOf('playout'),
        kind: 'guest',
        how: 'changed',
        title: 'guest playout-1',
        fields: [{ label: 'Memory', from: '8 GiB', to: '12 GiB' }],
      },
    ])
    expect(
      said({ type: 'guest.update', id: idOf('news'), changes: { apartFromId: idOf('playout'), tags: ['a'], isRouter: true } })[0]?.fields,
    ).toEqual([
      { label: 'Forwards packets', from: 'no', to: 'yes' },
      { label: 'Kept apart from', from: 'none', to: 'guest playout-1' },
      { label: 'Tags', from: 'none', to: 'a' },
    ])
  })
  it('a change says of which fields it is, where it is told from others', () => {
    const change = { type: 'guest.update', id: idOf('news'), changes: { owner: 'News desk', memoryMiB: 8192 } } as const
    expect([sayCommand(start, change), sayWhole(start, change)]).toEqual(['Change guest newsroom', 'Change guest newsroom: owner, memory'])
    expect(sayWhole(start, { type: 'guest.power', guestId: idOf('news'), state: 'stopped' })).toBe('Power off newsroom')
  })

  it('what is added is said with its values, in their units', () =>
    expect(
      said({ type: 'guest.add', record: { name: 'web-9', hostId: idOf('gannet'), vcpu: 2, memoryMiB: 8, state: 'running' } })[0]?.fields,
    ).toEqual([
      { label: 'Host', from: null, to: 'gannet' },
      { label: 'State', from: null, to: 'running' },
      { label: 'Processors', from: null, to: '2 vCPU' },
      { label: 'Memory', from: null, to: '8 MiB' },
    ]))
  it('a time is said as the estate’s clocks show it, not as programs write it', () => {
    const zone: Command = { type: 'estate.update', id: start.all('estate')[0]?.id ?? '', changes: { timeZone: 'Europe/Oslo' } }
    const work: Command = {
      type: 'entry.add',
      record: { guestId: idOf('news'), text: 'Fans', at: '2027-07-01T22:30:00Z' },
    }
    const { estate, difference } = applyAll(start, [zone, work], testContext(9))
    const entry = describeDifference(estate, difference).find(({ kind }) => kind === 'entry')
    expect(entry?.fields.map(({ to }) => to)).toContain('Fri 2027-07-02 00:30')
  })

  it('a copy is called one, so that it is not taken for its guest', () =>
    expect(recordPhrase(start, 'copy', { guestId: idOf('news'), guestName: null } as unknown as RecordOf<'copy'>)).toBe('copy newsroom'))

  it('a name kept for what is removed is not told beside it', () => {
    const entry: Command = { type: 'entry.add', record: { guestId: idOf('news'), at: '2027-07-01T22:30:00Z', text: 'Fans' } }
    const { estate } = applyAll(start, [entry], testContext(9))
    const gone = apply(estate, { type: 'guest.remove', id: idOf('news'), withReferring: true }, testContext(10))
    expect(describeDifference(gone.estate, gone.difference).find(({ kind }) => kind === 'entry')?.fields).toEqual([
      { label: 'Guest', from: 'guest newsroom', to: 'none' },
    ])
  })

  it('what was removed is still named', () =>
    expect(
      said({ type: 'guest.remove', id: idOf('playout'), withReferring: true })
        .map((r) => `${r.how} ${r.title}`)
        .sort(),
    ).toEqual(['removed 10.61.40.2', 'removed adapter 1 of playout-1', 'removed disk 1 (system) of playout-1', 'removed guest playout-1']))
  it.each<[Command, string]>([
    [{ type: 'guest.power', guestId: idOf('news'), state: 'stopped' }, 'Power off newsroom'],
    [{ type: 'guest.migrate', guestId: idOf('news'), toHostId: idOf('gannet'), method: 'live' }, 'Migrate newsroom to gannet'],
    [{ type: 'guest.clone', guestId: idOf('template'), name: 'web-1' }, 'Clone tpl-server as web-1'],
    [{ type: 'guest.resize', guestId: idOf('news'), vcpu: 4, memoryMiB: 4096 }, 'Resize newsroom to 4 vCPU, 4 GiB'],
    [{ type: 'address.assign', adapterId: idOf('newsAdapter'), kind: 'fixed' }, 'Assign the next free address to adapter 1 of newsroom'],
    [{ type: 'address.release', addressId: idOf('playoutAddress') }, 'Release 10.61.40.2'],
    [{ type: 'host.update', id: idOf('gannet'), changes: {} }, 'Change host gannet'],
    [{ type: 'host.remove', id: idOf('estate') }, 'Remove a host removed since'],
    [{ type: 'network.add', record: { name: 'dmz' } }, 'Add network dmz'],
  ])('%j', (command, words) => expect(sayCommand(start, command)).toBe(words))
  it('a number has its unit', () => {
    expect(formatField(start, kinds.disk.fields.sizeBytes, 2 ** 30)).toBe('1 GiB')
    expect(formatField(start, kinds.policy.fields.storeWarnPercent, 85)).toBe('85 %')
    expect(formatField(start, kinds.host.fields.trialEndsOn, null)).toBe('none')
  })
})
