import { addressOwner, isPoweredOn, type Adapter, type Address, type Difference, type Estate, type Guest } from '../estate/index.js'
import { counted } from '../units/index.js'

/** Machines that are named one by one; the rest is counted. */
const NAMED = 4

/**
 * What a difference leaves to be done by hand on machines that run, where the change looks finished and is not: an adapter goes on
 * with its old network until it is plugged in again, a size with the next power-on, an address where the machine has it.
 *
 * @param after the estate after the difference
 * @returns sentences, none where nothing is left
 * @see facts of the trade, who reaches whom; common practice, no source
 * @example manualSteps(after, difference) // ['Restart sound-gate, or plug in again its adapters 1 and 2: until then it …']
 */
export function manualSteps(after: Estate, difference: Difference): readonly string[] {
  const replugged = new Map<string, number[]>()
  const resized: string[] = []
  const readdressed: string[] = []
  const running = (guestId: string | null | undefined): Guest | undefined => {
    const guest = after.find('guest', guestId)
    return guest && isPoweredOn(guest) ? guest : undefined
  }
  const owns = ({ adapterId, hostId }: Pick<Address, 'adapterId' | 'hostId'>) =>
    running(after.find('adapter', adapterId)?.guestId) ?? after.find('host', hostId)?.state === 'in service'
  const noteAddress = (address: Address) => {
    if (address.kind === 'fixed' && owns(address)) readdressed.push(`${address.ip} on ${addressOwner(after, address)}`)
  }
  for (const { kind, from, to } of Object.values(difference.updated)) {
    if (kind === 'adapter') {
      const [old, adapter] = [from as Adapter, to as Adapter]
      const guest = running(adapter.guestId)
      if (guest && (old.networkId !== adapter.networkId || old.mac !== adapter.mac))
        replugged.set(guest.name, [...(replugged.get(guest.name) ?? []), adapter.position])
    } else if (kind === 'guest') {
      const [old, guest] = [from as Guest, to as Guest]
      if (isPoweredOn(old) && isPoweredOn(guest) && (old.vcpu !== guest.vcpu || old.memoryMiB !== guest.memoryMiB)) resized.push(guest.name)
    } else if (kind === 'address') {
      const [old, address] = [from as Address, to as Address]
      if (old.ip !== address.ip || old.length !== address.length || old.gateway !== address.gateway) noteAddress(address)
    }
  }
  for (const { kind, record } of Object.values(difference.added)) if (kind === 'address') noteAddress(record as Address)
  return [
    ...[...replugged].map(([name, positions]) => {
      const what =
        positions.length === 1 ? `its adapter ${positions[0] ?? ''}` : `its adapters ${positions.sort((a, b) => a - b).join(' and ')}`
      return `Restart ${name}, or plug in again ${what}: until then it stays on the old network.`
    }),
    ...(resized.length > 0
      ? [`Power ${listed(resized)} off and on to apply the new size, unless the system can add processors and memory while it runs.`]
      : []),
    ...(readdressed.length > 0
      ? [`Set ${listed(readdressed)}, and configure the interface to come up at boot, or the address is lost at the next restart.`]
      : []),
  ]
}

function listed(items: readonly string[]): string {
  const named = items.slice(0, NAMED)
  const more = items.length - named.length
  return more > 0 ? `${named.join(', ')} and ${counted(more, 'more', 'more')}` : named.join(named.length > 2 ? ', ' : ' and ')
}
