import { addressOwner, type Address, type Estate } from '../estate/index.js'
import { writeCsv } from '../formats/index.js'
import { compareIps } from '../networks/index.js'
import { fullName, nameTable } from './name-table.js'

/** One recorded address, as lists and exports show it. */
export interface PlannedAddress {
  readonly ip: string
  readonly kind: string
  readonly network: string
  readonly vlan: string
  readonly subnet: string
  readonly machine: string
  readonly mac: string
  readonly name: string
  readonly note: string
}

/** The MAC an address belongs to: its adapter's, the host's for management, or the one of a reservation. */
export function macOf(estate: Estate, address: Address): string | undefined {
  const adapter = estate.find('adapter', address.adapterId)
  if (adapter) return adapter.mac ?? undefined
  return address.mac ?? estate.find('host', address.hostId)?.managementMac ?? undefined
}

/** Every recorded address, in order. */
export function addressPlan(estate: Estate): readonly PlannedAddress[] {
  const { byAddress } = nameTable(estate)
  return [...estate.all('address')]
    .sort((a, b) => compareIps(a.ip, b.ip))
    .map((address) => {
      const subnet = estate.find('subnet', address.subnetId)
      const network = estate.find('network', subnet?.networkId)
      const named = byAddress.get(address.id)
      return {
        ip: address.ip,
        kind: address.kind,
        network: network?.name ?? '',
        vlan: network?.vlanId === null || network === undefined ? '' : String(network.vlanId),
        subnet: subnet?.prefix ?? '',
        machine: address.adapterId || address.hostId ? addressOwner(estate, address) : '',
        mac: macOf(estate, address) ?? '',
        name: named ? fullName(named) : '',
        note: address.note,
      }
    })
}

/** The address plan as CSV (RFC 4180). */
export const addressPlanCsv = (estate: Estate): string => csv(addressPlan(estate))

/** A machine that DHCP always gives the same address. */
export interface DhcpReservation {
  readonly ip: string
  readonly mac: string
  readonly hostname: string
  readonly subnet: string
  readonly gateway: string
  readonly domain: string
}

/** The recorded DHCP reservations; one without a MAC is left out, and a finding says so. */
export function dhcpReservations(estate: Estate): readonly DhcpReservation[] {
  const { byAddress } = nameTable(estate)
  return estate
    .all('address')
    .filter(({ kind }) => kind === 'DHCP reservation')
    .sort((a, b) => compareIps(a.ip, b.ip))
    .flatMap((address) => {
      const mac = macOf(estate, address)
      if (!mac) return []
      const subnet = estate.find('subnet', address.subnetId)
      const named = byAddress.get(address.id)
      return [
        {
          ip: address.ip,
          mac,
          hostname: named?.label ?? '',
          subnet: subnet?.prefix ?? '',
          gateway: address.gateway ?? subnet?.gateway ?? '',
          domain: named?.zone ?? '',
        },
      ]
    })
}

export const dhcpReservationsCsv = (estate: Estate): string => csv(dhcpReservations(estate))

/** Rows whose names are the heading; nothing at all where there are none. */
const csv = <T extends object>(rows: readonly T[]): string => {
  const [first] = rows
  const headings = first ? Object.keys(first) : []
  return writeCsv(
    headings,
    rows.map((row) => headings.map((heading) => (row as Readonly<Record<string, string | number>>)[heading] ?? '')),
  )
}

/**
 * The names as lines of hosts(5): address, full name, short name.
 *
 * @see hosts(5) of the Linux manual pages
 */
export function hostsLines(estate: Estate): string {
  const names = [...nameTable(estate).names].sort((a, b) => compareIps(a.ip, b.ip))
  const width = Math.max(8, ...names.map(({ ip }) => ip.length))
  return [
    '# Written by Insel',
    ...names.map(({ ip, label, zone }) => `${ip.padEnd(width)}  ${zone ? `${label}.${zone} ${label}` : label}`),
    '',
  ].join('\n')
}
