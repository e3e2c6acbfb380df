import { adaptersOf, disksOf, type Estate, type Guest } from '../estate/index.js'
import type { GuestSpec } from './spec-line.js'

/**
 * The spec of a recorded guest, to print it as a line.
 *
 * @example printSpecLine(specOf(estate, guest)) // 'vault 4cpu 8G 32G thin on gannet net mgmt general UEFI'
 */
export function specOf(estate: Estate, guest: Guest): GuestSpec {
  const disks = disksOf(estate, guest.id)
  const adapters = adaptersOf(estate, guest.id)
  const stores = new Set(disks.map((disk) => estate.find('store', disk.storeId)?.name))
  const [store] = stores
  const host = estate.find('host', guest.hostId)?.name
  return {
    name: guest.name,
    vcpu: guest.vcpu,
    memoryMiB: guest.memoryMiB,
    disks: disks.map((disk) => ({ sizeBytes: disk.sizeBytes })),
    networks: adapters.flatMap((adapter) => estate.find('network', adapter.networkId)?.name ?? []),
    latency: guest.latency,
    firmware: guest.firmware,
    tags: guest.tags,
    ...(disks[0] ? { provisioning: disks[0].provisioning } : {}),
    ...(host ? { host } : {}),
    ...(stores.size === 1 && store ? { store } : {}),
    ...(guest.purpose && !/\s/.test(guest.purpose) ? { purpose: guest.purpose } : {}),
    ...(guest.kind === 'template' ? { kind: 'template' as const } : {}),
  }
}
