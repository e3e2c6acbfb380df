import { addressOwner, recordTitle, type Estate, type Kind } from '../estate/index.js'
import { isLocallyAdministered } from '../networks/index.js'

/** One MAC address of the estate and who has it. */
export interface MacRow {
  readonly id: string
  readonly mac: string
  /** First three octets. */
  readonly prefix: string
  readonly owner: string
  readonly of: { readonly kind: Kind; readonly id: string }
  /** Whether it is set by a program and not by a maker: RFC 9542, section 2.1. */
  readonly isLocal: boolean
  /** How many things have it. */
  readonly count: number
}

/** Every MAC address: of adapters, ports, management and reservations, and those seen with a lease of no machine. */
export function macRows(estate: Estate): readonly MacRow[] {
  const rows: Omit<MacRow, 'prefix' | 'isLocal' | 'count'>[] = [
    ...estate.all('adapter').flatMap((adapter) =>
      adapter.mac
        ? [
            {
              id: adapter.id,
              mac: adapter.mac,
              owner: recordTitle(estate, 'adapter', adapter),
              of: { kind: 'guest' as const, id: adapter.guestId },
            },
          ]
        : [],
    ),
    ...estate
      .all('port')
      .flatMap((port) =>
        port.mac
          ? [{ id: port.id, mac: port.mac, owner: recordTitle(estate, 'port', port), of: { kind: 'host' as const, id: port.hostId } }]
          : [],
      ),
    // The management MAC is one of the host's ports where those are recorded.
    ...estate
      .all('host')
      .flatMap((host) =>
        host.managementMac && !estate.referring('port', 'hostId', host.id).some(({ mac }) => mac === host.managementMac)
          ? [{ id: host.id, mac: host.managementMac, owner: `management of ${host.name}`, of: { kind: 'host' as const, id: host.id } }]
          : [],
      ),
    ...estate
      .all('address')
      .flatMap((address) =>
        address.mac
          ? [{ id: address.id, mac: address.mac, owner: addressOwner(estate, address), of: { kind: 'address' as const, id: address.id } }]
          : [],
      ),
  ]
  const recorded = new Set(rows.map(({ mac }) => mac))
  const seen = estate
    .all('lease')
    .filter(({ mac }) => !recorded.has(mac))
    .map((lease) => ({
      id: lease.id,
      mac: lease.mac,
      owner: `seen at ${lease.ip}${lease.name ? `, ${lease.name}` : ''}`,
      of: { kind: 'lease' as const, id: lease.id },
    }))
  const counts = new Map<string, number>()
  for (const { mac } of rows) counts.set(mac, (counts.get(mac) ?? 0) + 1)
  return [...rows, ...seen]
    .map((row) => ({ ...row, prefix: row.mac.slice(0, 8), isLocal: isLocallyAdministered(row.mac), count: counts.get(row.mac) ?? 1 }))
    .sort((a, b) => (a.mac < b.mac ? -1 : a.mac > b.mac ? 1 : 0))
}
