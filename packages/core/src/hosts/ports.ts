import { portRoles, type Estate, type Host, type Port } from '../estate/index.js'
import { inNameOrder } from '../lists/index.js'

export type PortRole = NonNullable<Port['role']>

/** Ports that a full build gives each role: common practice, no source (seven ports in all, or five without the last two). */
const wanted: Readonly<Partial<Record<PortRole, number>>> = {
  management: 2,
  storage: 2,
  guests: 1,
  'live migration': 1,
  'fault tolerance': 1,
}

/** What one role has of ports, and what is missing. */
export interface RolePlan {
  readonly role: PortRole
  readonly ports: readonly Port[]
  readonly wanted: number
  readonly remarks: readonly string[]
}

/** Ports of a host by name, numbers in their order. */
export const portsOf = (estate: Estate, host: Pick<Host, 'id'>): readonly Port[] => inNameOrder(estate.referring('port', 'hostId', host.id))

/**
 * Which ports carry what, role by role, with what is wrong: a role with one uplink, a wireless port, a missing cable,
 * uplinks of unlike speed.
 */
export function rolePlan(estate: Estate, host: Host): readonly RolePlan[] {
  const ports = portsOf(estate, host)
  return portRoles.flatMap((role): RolePlan[] => {
    const own = ports.filter((port) => port.role === role)
    const want = wanted[role] ?? 0
    if (own.length === 0 && role !== 'management' && role !== 'guests') return []
    const remarks: string[] = []
    if (own.length === 0) remarks.push(`No port is planned for ${role}.`)
    if (role === 'management' && own.length === 1)
      remarks.push('One uplink for management: one pulled cable cuts the host off. Plan a second port, both active.')
    if (role === 'storage' && own.length === 1)
      remarks.push('One uplink for storage: a fault stops every guest on shared stores. Plan a second port.')
    for (const port of own) {
      if (port.medium === 'wireless') remarks.push(`${port.name} is Wi-Fi and cannot be used for ${role}; use a wired port.`)
      else if (port.cable === 'missing') remarks.push(`${port.name} has no cable.`)
    }
    const speeds = new Set(own.map(({ speedMbps }) => speedMbps))
    if (speeds.size > 1) remarks.push('Its uplinks have different speeds; count on the slower one.')
    return [{ role, ports: own, wanted: want, remarks }]
  })
}

/** Proposes a role for each wired port that has none yet: the fastest to storage, then management in pairs, as the usual build does. */
export function proposeRoles(estate: Estate, host: Host): ReadonlyMap<string, PortRole> {
  const ports = portsOf(estate, host).filter(({ medium }) => medium !== 'wireless')
  const counts = new Map<PortRole, number>()
  for (const { role } of ports) if (role) counts.set(role, (counts.get(role) ?? 0) + 1)
  const open = ports.filter(({ role }) => role === null)
  const order: readonly PortRole[] = ['management', 'guests', 'management', 'storage', 'storage', 'live migration', 'fault tolerance']
  const need = order.filter((role) => {
    const left = counts.get(role) ?? 0
    if (left > 0) counts.set(role, left - 1)
    return left === 0
  })
  const slowFirst = [...open].sort((a, b) => a.speedMbps - b.speedMbps)
  const proposal = new Map<string, PortRole>()
  // Management asks least of a port and storage most: from the slow end and from the fast end.
  for (const role of need) {
    const port = role === 'management' ? slowFirst.shift() : slowFirst.pop()
    if (!port) break
    proposal.set(port.id, role)
  }
  return proposal
}
