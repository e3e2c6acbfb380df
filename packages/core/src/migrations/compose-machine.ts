import type { Command, IdMaker } from '../commands/index.js'
import type { Estate, NewRecord } from '../estate/index.js'
import type { FoundHost } from '../found/index.js'
import { contains, prefixOf } from '../networks/index.js'
import type { ReadVolume } from './read-volumes.js'

/** A machine outside any host as somebody records it. */
export interface MachineDraft {
  readonly guest: Pick<NewRecord<'guest'>, 'name' | 'vcpu' | 'memoryMiB' | 'firmware' | 'purpose' | 'systemId' | 'note'> & {
    readonly secureBoot?: boolean | undefined
    readonly trustedModule?: boolean | undefined
    readonly state?: 'running' | 'stopped' | undefined
  }
  readonly hardware: Omit<NewRecord<'hardware'>, 'guestId'>
  readonly drives: FoundHost['drives']
  readonly ports: FoundHost['ports']
  readonly addresses: FoundHost['addresses']
  readonly volumes: readonly ReadVolume[]
}

/**
 * The commands that record a machine outside any host: the machine and its details, its disks and volumes, its adapters with the names its system gives
 * them, and the addresses that lie in a recorded subnet.
 *
 * @param context ids for the new records
 */
export function composeMachine(
  estate: Estate,
  { guest, hardware, drives, ports, addresses, volumes }: MachineDraft,
  context: IdMaker,
): readonly Command[] {
  const guestId = context.newId()
  const wired = ports.filter(({ mac, isWireless }) => mac !== undefined || isWireless !== true)
  const disks = drives.map((drive, index) => ({ id: context.newId(), drive, position: index + 1 }))
  const adapters = wired.map((port, index) => ({ id: context.newId(), port, position: index + 1 }))
  const subnetOf = (ip: string) => estate.all('subnet').find((subnet) => contains(prefixOf(subnet), ip))
  return [
    { type: 'guest.add', record: { state: 'running', ...guest, id: guestId, kind: 'external' } },
    { type: 'hardware.add', record: { ...hardware, guestId } },
    ...disks.map(({ id, drive, position }): Command => ({
      type: 'disk.add',
      record: {
        id,
        guestId,
        position,
        use: position === 1 ? 'system' : 'data',
        sizeBytes: drive.bytes,
        usedBytes: usedOn(volumes, position) ?? drive.usedBytes ?? null,
        provisioning: 'thick',
        bus: drive.kind === 'NVMe' ? 'NVMe' : 'SATA',
      },
    })),
    ...volumes.flatMap(({ disk, ...volume }): Command[] => {
      const on = disks.find(({ position }) => position === disk)
      return on ? [{ type: 'volume.add', record: { ...volume, diskId: on.id } }] : []
    }),
    ...adapters.flatMap(({ id, port, position }): Command[] => {
      const own = addresses.filter((address) => address.port === port.name)
      const subnet = own.map(({ ip }) => subnetOf(ip)).find((one) => one !== undefined)
      return [
        {
          type: 'adapter.add',
          record: {
            id,
            guestId,
            position,
            mac: port.mac ?? null,
            deviceName: port.name.slice(0, 40),
            model: 'emulated',
            networkId: subnet?.networkId ?? null,
          },
        },
        ...own.flatMap(({ ip }): Command[] => {
          const at = subnetOf(ip)
          return at ? [{ type: 'address.assign', adapterId: id, subnetId: at.id, ip }] : []
        }),
      ]
    }),
  ]
}

const usedOn = (volumes: readonly ReadVolume[], disk: number): number | null => {
  const own = volumes.filter((volume) => volume.disk === disk)
  return own.length === 0 || own.some(({ usedBytes }) => usedBytes === null)
    ? null
    : own.reduce((sum, { usedBytes }) => sum + (usedBytes ?? 0), 0)
}
