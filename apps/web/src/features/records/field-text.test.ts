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
