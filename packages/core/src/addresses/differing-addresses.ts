import type { Difference, Differing, Estate, Subnet } from '../estate/index.js'
import { addressCells } from './address-map.js'
import type { Prefix } from '../networks/index.js'

/**
 * The addresses of a part of a subnet that stand otherwise in one estate than in another: in who has them, or in what they are
 * kept for. Of a run that changed its ground alone, such as a DHCP range, the first stands for all.
 *
 * @param part a prefix in the subnet with at most 256 addresses
 * @returns by address; nothing where the subnet itself is new or has another prefix, since then all of it is
 * @example differingCells(recorded, planned, subnet, part).get('10.61.30.9') // 'new'
 */
export function differingCells(before: Estate, after: Estate, subnet: Subnet, part: Prefix): ReadonlyMap<string, Differing> {
  const found = new Map<string, Differing>()
  const earlier = before.find('subnet', subnet.id)
  if (earlier?.prefix !== subnet.prefix) return found
  const cells = addressCells(before, earlier, part)
  let isRun = false
  addressCells(after, subnet, part).forEach((cell, index) => {
    const was = cells[index]
    const differs = was?.state !== cell.state || was.says !== cell.says || was.machine !== cell.machine
    const isHeld = cell.address !== undefined || was?.address !== undefined
    if (differs && (isHeld || !isRun)) found.set(cell.ip, cell.address && !was?.address ? 'new' : 'changed')
    isRun = differs && !isHeld
  })
  return found
}

/** The addresses in a subnet that a difference adds, changes or removes. */
export function differingIps({ added, updated, removed }: Difference, subnetId: string): readonly string[] {
  const records = [
    ...[...Object.values(added), ...Object.values(removed)].map(({ kind, record }) => ({ kind, record })),
    ...Object.values(updated).flatMap(({ kind, from, to }) => [from, to].map((record) => ({ kind, record }))),
  ]
  return [
    ...new Set(
      records.flatMap(({ kind, record }) =>
        kind === 'address' && 'ip' in record && 'subnetId' in record && record.subnetId === subnetId ? [record.ip] : [],
      ),
    ),
  ]
}
