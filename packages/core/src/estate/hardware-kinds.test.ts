import { describe, expect, it } from 'vitest'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { applyAll, sayCommand, type Command } from '../commands/index.js'
import { CommandError, kinds, readField, recordPhrase, type AnyRecord, type Kind } from './index.js'

const hostId = idOf('gannet')
const id = (n: number) => `01890000-0000-7000-8000-00000000a${n.toString(16).padStart(3, '0')}`
const apply = (...commands: Command[]) => applyAll(smallEstate(), commands, testContext(21)).estate
const refused = (...commands: Command[]) => {
  try {
    apply(...commands)
  } catch (error) {
    if (error instanceof CommandError) return error.message
    throw error
  }
  throw new Error('it was accepted')
}

const array: Command = { type: 'array.add', record: { id: id(1), hostId, name: 'fast', level: '1' } }
const otherArray: Command = { type: 'array.add', record: { id: id(2), hostId: idOf('fulmar'), name: 'fast', level: '1' } }
const drive = (more: object): Command => ({ type: 'drive.add', record: { hostId, position: 1, labelBytes: 1e12, ...more } })
const sheet: Command = { type: 'sheet.add', record: { id: id(3), hostId, startedAt: '2027-01-10T08:00:00Z' } }

describe('what must hold of a host’s parts', () => {
  it.each([
    ['a member without an array', [drive({ use: 'member' })], 'A member belongs to an array; choose the array.'],
    ['a spare without an array', [drive({ use: 'spare' })], 'A spare belongs to an array; choose the array.'],
    [
      'an unused drive in an array',
      [array, drive({ arrayId: id(1) })],
      /^Only members, spares and a mirrored install disk belong to an array/,
    ],
    [
      'a member of another host’s array',
      [otherArray, drive({ use: 'member', arrayId: id(2) })],
      'Array fast is of another host; choose one of this host.',
    ],
    [
      'a store cut from another host’s array',
      [otherArray, { type: 'store.update', id: idOf('nvme1'), changes: { arrayId: id(2) } }],
      'Array fast is in a different host from the store.',
    ],
    ['two drives in a bay', [drive({}), drive({})], /Bay 1.* already used/],
    [
      'two modules in a slot',
      [1, 2].map((): Command => ({ type: 'module.add', record: { hostId, slot: 1, sizeMiB: 8192 } })),
      /Slot 1.* already used/,
    ],
    ['two ports of a name', [1, 2].map((): Command => ({ type: 'port.add', record: { hostId, name: 'eno1' } })), /eno1 is already used/],
    ['two arrays of a name', [array, { ...array, record: { ...array.record, id: id(9) } }], /fast is already used/],
    [
      'a step settled twice',
      [
        sheet,
        ...[1, 2].map((): Command => ({
          type: 'step.add',
          record: { sheetId: id(3), step: 'image', state: 'done', personId: idOf('ola'), at: '2027-01-10T08:00:00Z' },
        })),
      ],
      /already used/,
    ],
  ] as [string, Command[], string | RegExp][])('%s is refused', (_, commands, sentence) => expect(refused(...commands)).toMatch(sentence))

  it('the same names on two hosts are two things', () => expect(apply(array, otherArray).count('array')).toBe(2))
  it('a mirrored install disk may stand in an array', () =>
    expect(apply(array, drive({ use: 'install', arrayId: id(1) })).count('drive')).toBe(1))

  it('a host goes with its parts', () => {
    const host = id(30)
    const full = apply(
      { type: 'host.add', record: { id: host, name: 'rock', platformId: idOf('marram'), coresPerSocket: 4, memoryMiB: 8192 } },
      { type: 'array.add', record: { id: id(1), hostId: host, name: 'fast', level: '1' } },
      { type: 'drive.add', record: { hostId: host, position: 1, labelBytes: 1e12, use: 'member', arrayId: id(1) } },
      { type: 'sheet.add', record: { id: id(3), hostId: host, startedAt: '2027-01-10T08:00:00Z' } },
      { type: 'step.add', record: { sheetId: id(3), step: 'image', state: 'done', personId: idOf('ola'), at: '2027-01-10T08:00:00Z' } },
    )
    const { estate } = applyAll(full, [{ type: 'host.remove', id: host, withReferring: true }], testContext(22))
    expect((['array', 'drive', 'sheet', 'step'] as const).map((kind) => estate.count(kind))).toEqual([0, 0, 0, 0])
    expect(() => applyAll(full, [{ type: 'host.remove', id: host }], testContext(23))).toThrow(/still used by/)
  })
  it('an array that goes leaves its stores and drives where they are, when asked', () => {
    const full = apply(array, { type: 'store.update', id: idOf('nvme1'), changes: { arrayId: id(1) } })
    const { estate } = applyAll(full, [{ type: 'array.remove', id: id(1), withReferring: true }], testContext(24))
    expect(estate.find('store', idOf('nvme1'))?.arrayId).toBeNull()
  })
})

describe('how they are called', () => {
  const records: [Kind, object, string][] = [
    ['module', { id: id(20), hostId, slot: 3 }, 'memory module in slot 3 of gannet'],
    ['drive', { id: id(21), hostId, position: 4 }, 'drive in bay 4 of gannet'],
    ['port', { id: id(22), hostId, name: 'eno1' }, 'port eno1 of gannet'],
    ['array', { id: id(23), hostId, name: 'bulk' }, 'array bulk of gannet'],
    ['sheet', { id: id(24), hostId, work: 'set-up', migrationId: null }, 'build sheet of gannet'],
    ['deviation', { id: id(26), hostId, about: 'sockets' }, 'sockets on gannet differs from the record'],
  ]
  it.each(records)('a %s', (kind, record, words) => expect(recordPhrase(smallEstate(), kind, record as AnyRecord)).toBe(words))
  it('in the logbook', () => {
    const estate = apply({ type: 'port.add', record: { id: id(22), hostId, name: 'eno1' } })
    expect(sayCommand(estate, { type: 'port.update', id: id(22), changes: { cable: 'present' } })).toBe('Change port eno1 of gannet')
  })
})

describe('shapes of what is typed', () => {
  const words = kinds.host.fields.cpuFlags
  const sum = kinds.image.fields.sha256
  it('words are put in order, in lower case, once each', () =>
    expect(readField(words, '  SSE2 sse\tavx,sse\nAVX2 ')).toEqual({ ok: true, value: 'avx avx2 sse sse2' }))
  it('a checksum is 64 digits, however it is grouped', () => {
    const digits = 'ab'.repeat(32)
    expect(readField(sum, digits.toUpperCase().replace(/../g, '$&:').slice(0, -1).slice(0, 95))).toEqual({ ok: true, value: digits })
    expect(readField(sum, 'abc')).toEqual({ ok: false, sentence: 'SHA-256 must be 64 hexadecimal digits (SHA-256); it has 3 characters.' })
    expect(readField(sum, 'z'.repeat(64))).toMatchObject({ ok: false, sentence: expect.stringContaining('not all hexadecimal') as string })
  })
  it('amounts name their units', () => {
    expect(readField(kinds.host.fields.drawWatts, 30_000)).toEqual({
      ok: false,
      sentence: 'Power draw must be at most 20000 W.',
    })
    expect(readField(kinds.port.fields.speedMbps, 0)).toEqual({
      ok: false,
      sentence: 'Speed must be at least 1 Mbit/s.',
    })
  })
})
