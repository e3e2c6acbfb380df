import { kinds, type Field } from '@insel/core'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { inputText, inputValue } from './field-text'

const { guest, disk, store, host } = kinds
const read = (field: Field, text: string) => {
  const reading = inputValue(field, text)
  return 'value' in reading ? reading.value : reading.sentence
}

describe('fields as typed', () => {
  it('sizes mean what they mean in their field: binary for memory and disks, the label’s decimal for a store', () => {
    expect(read(guest.fields.memoryMiB, '8G')).toBe(8192)
    expect(read(disk.fields.sizeBytes, '60')).toBe(60 * 2 ** 30)
    expect(read(store.fields.capacityBytes, '3.84 TB')).toBe(3.84e12)
    expect(read(guest.fields.memoryMiB, '8 lots')).toContain('not a unit of size')
  })
  it('numbers may be written with their unit', () => {
    expect(read(kinds.port.fields.speedMbps, '10G')).toBe(10_000)
    expect(read(host.fields.clockMHz, '2.1 GHz')).toBe(2100)
    expect(read(host.fields.clockMHz, '2.1 kg')).toBe('Clock: “kg” is not a unit that fits; this is counted in MHz.')
    expect(read(host.fields.sockets, '2.5')).toBe('Sockets must be a whole number, not 2.5.')
  })
  it('an empty optional field is no value, an empty required one is missing', () => {
    expect(read(host.fields.failoverReserveMiB, ' ')).toBeNull()
    expect(read(host.fields.memoryMiB, '')).toBe('Usable memory is missing.')
  })
  it('tags are words, however they are set apart', () => expect(read(guest.fields.tags, '#air, gold  air')).toEqual(['air', 'gold']))
  it('what is shown reads back as the same value', () =>
    fc.assert(
      fc.property(fc.integer({ min: 4, max: 2 ** 26 }), fc.integer({ min: 1, max: 2 ** 45 }), (mebibytes, bytes) => {
        expect(read(guest.fields.memoryMiB, inputText(guest.fields.memoryMiB, mebibytes))).toBe(mebibytes)
        expect(read(disk.fields.sizeBytes, inputText(disk.fields.sizeBytes, bytes))).toBe(bytes)
        expect(read(store.fields.capacityBytes, inputText(store.fields.capacityBytes, bytes))).toBe(bytes)
      }),
    ))
})

describe('days and times as they are typed', () => {
  const { warrantyEndsOn } = kinds.host.fields
  const { at } = kinds.entry.fields

  it.each([
    ['31.3.2029', '2029-03-31'],
    ['31 Mar 2029', '2029-03-31'],
    ['2029-03-31', '2029-03-31'],
  ])('%s', (text, day) => expect(inputValue(warrantyEndsOn, text)).toEqual({ value: day }))
  it('a day with two readings is asked back at its field', () =>
    expect(inputValue(warrantyEndsOn, '3/4/2029')).toEqual({
      sentence: 'Warranty ends: “3/4/2029” is 2029-04-03 or 2029-03-04: write the one that is meant.',
    }))

  // Europe/Berlin is an hour ahead of UTC in January and two in July: IANA time zone database.
  it.each([
    ['2027-01-18T09:00:00Z', '2027-01-18T09:00:00.000Z'],
    ['18.1.2027 10:00', '2027-01-18T09:00:00.000Z'],
    ['2027-07-18 10:00', '2027-07-18T08:00:00.000Z'],
    ['18 Jan 2027 9:05', '2027-01-18T08:05:00.000Z'],
    ['18.1.2027', '2027-01-17T23:00:00.000Z'],
  ])('%s in Berlin', (text, instant) => expect(inputValue(at, text, 'Europe/Berlin')).toEqual({ value: instant }))
  it.each(['18.1.2027 25:00', '30.2.2027 10:00', 'soon'])('%s is none', (text) =>
    expect('sentence' in inputValue(at, text, 'UTC')).toBe(true),
  )
  it('now is now', () => {
    const read = inputValue(at, 'now')
    expect('value' in read && Math.abs(Date.parse(String(read.value)) - Date.now())).toBeLessThan(5000)
  })
})
