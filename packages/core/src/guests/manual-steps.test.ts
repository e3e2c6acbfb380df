import { describe, expect, it } from 'vitest'
import { apply, type Command } from '../commands/index.js'
import { type Estate } from '../estate/index.js'
import { idOf, smallEstate, testContext } from '../testing/small-estate.js'
import { manualSteps } from './index.js'

const left = (command: Command, estate: Estate = smallEstate()) => {
  const done = apply(estate, command, testContext())
  return manualSteps(done.estate, done.difference)
}
const stopped = () => apply(smallEstate(), { type: 'guest.power', guestId: idOf('playout'), state: 'stopped' }, testContext()).estate

// A guest must be restarted, or its adapter plugged in again, after its adapter's network is changed; an interface not set to come up
// at boot has no address after the next restart: common practice, no source.
describe('what a change leaves to be done by hand', () => {
  const rewired: Command = { type: 'adapter.update', id: idOf('playoutAdapter'), changes: { networkId: idOf('office') } }
  it('an adapter in another network is plugged in again, where its guest runs', () => {
    expect(left(rewired)).toEqual(['Restart playout-1, or plug in again its adapter 1: until then it stays on the old network.'])
    expect(left(rewired, stopped())).toEqual([])
    expect(left({ type: 'adapter.update', id: idOf('playoutAdapter'), changes: { model: 'emulated' } })).toEqual([])
  })
  it('a size is taken when the guest is powered off and on', () => {
    const resized: Command = { type: 'guest.resize', guestId: idOf('playout'), memoryMiB: 4096 }
    expect(left(resized)).toEqual([expect.stringMatching(/^Power playout-1 off and on/)])
    expect(left(resized, stopped())).toEqual([])
  })
  it('a fixed address is set on the machine; one that DHCP gives is not', () => {
    const assigned = (kind: 'fixed' | 'DHCP reservation'): Command => ({
      type: 'address.assign',
      adapterId: idOf('newsAdapter'),
      ip: '10.61.30.50',
      kind,
    })
    expect(left(assigned('fixed'))).toEqual([expect.stringMatching(/^Set 10\.61\.30\.50 on .*come up at boot/)])
    expect(left(assigned('DHCP reservation'))).toEqual([])
  })
  it('many machines are counted', () => {
    const { estate, difference } = apply(smallEstate(), rewired, testContext())
    const guest = estate.find('guest', idOf('playout'))
    if (!guest) throw new Error('no guest')
    const many = Object.fromEntries(
      Array.from({ length: 7 }, (_, n) => [
        `g${n}`,
        { kind: 'guest' as const, from: guest, to: { ...guest, name: `g${n}`, vcpu: guest.vcpu + 1 } },
      ]),
    )
    expect(manualSteps(estate, { ...difference, updated: many })).toEqual([
      expect.stringContaining('Power g0, g1, g2, g3 and 3 more off and on'),
    ])
  })
})
