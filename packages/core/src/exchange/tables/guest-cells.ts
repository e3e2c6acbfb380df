import { adaptersOf, disksOf, leftOut, type Estate, type FieldsOf, type Guest } from '../../estate/index.js'
import { writeCsv } from '../../formats/index.js'
import { inNameOrder } from '../../lists/index.js'
import { formatExactBytes, MiB } from '../../units/index.js'
import { guestColumns, type GuestColumn } from './guest-columns.js'

/** The column of each field of a guest. What a table does not hold stays as it is when one is read. */
const columnOf = {
  name: 'name',
  kind: 'state',
  state: 'state',
  hostId: 'host',
  purpose: 'made for',
  systemId: 'system',
  vcpu: 'vCPU',
  memoryMiB: 'memory',
  group: 'group',
  owner: 'owner',
  contact: 'contact',
  criticality: 'criticality',
  patchedOn: 'last patched',
  backupStoreId: 'backed up to',
  tags: 'tags',
  note: 'note',
  verifiedAt: null,
  workload: null,
  sockets: null,
  processorMode: null,
  latency: null,
  memoryMinMiB: null,
  firmware: null,
  secureBoot: null,
  trustedModule: null,
  machineType: null,
  mediumId: null,
  mediumConnected: null,
  bootFirst: null,
  installer: null,
  packages: null,
  locale: null,
  identity: null,
  identityFromId: null,
  identityFromName: null,
  identityKey: null,
  clonedVersion: null,
  isRouter: null,
  apartFromId: null,
  clonedFromId: null,
} as const satisfies FieldsOf<'guest', GuestColumn>

/** What a table of guests says nothing of, as the fields are called. */
export const guestTableLeavesOut = (): readonly string[] => leftOut('guest', columnOf)

/** Columns that are a field of a guest as it is written. */
export const guestFieldColumns = [
  ['made for', 'purpose'],
  ['group', 'group'],
  ['owner', 'owner'],
  ['contact', 'contact'],
  ['criticality', 'criticality'],
  ['last patched', 'patchedOn'],
] as const satisfies readonly (readonly [GuestColumn, keyof Guest])[]

/** A guest's value in a column, as the table is written and read. */
export function guestCell(estate: Estate, guest: Guest, column: GuestColumn): string {
  const adapters = adaptersOf(estate, guest.id)
  const networks = adapters.map(({ networkId }) => estate.find('network', networkId))
  const field = guestFieldColumns.find(([one]) => one === column)?.[1]
  if (field) return guest[field] ?? ''
  switch (column) {
    case 'name':
      return guest.name
    case 'host':
      return estate.find('host', guest.hostId)?.name ?? ''
    case 'state':
      return guest.kind === 'machine' ? guest.state : guest.kind
    case 'vCPU':
      return String(guest.vcpu)
    case 'memory':
      return formatExactBytes(guest.memoryMiB * MiB)
    case 'disks':
      return disksOf(estate, guest.id)
        .map(({ sizeBytes }) => formatExactBytes(sizeBytes))
        .join(' + ')
    case 'networks':
      return networks.map((network) => network?.name ?? '-').join(' ')
    case 'addresses':
      return adapters.flatMap(({ id }) => estate.referring('address', 'adapterId', id).map(({ ip }) => ip)).join(' ')
    case 'MACs':
      return adapters.map(({ mac }) => mac ?? '-').join(' ')
    case 'system':
      return estate.find('system', guest.systemId)?.name ?? ''
    case 'backed up to':
      return estate.find('store', guest.backupStoreId)?.name ?? ''
    case 'tags':
      return guest.tags.join(' ')
    case 'note':
      return guest.note
    default:
      return ''
  }
}

/** Every guest as CSV (RFC 4180), a line each; texts that a spreadsheet would take for a formula are defused. */
export function guestsCsv(estate: Estate): string {
  // The VLAN follows from the network.
  const columns = guestColumns.filter((column) => column !== 'leave out' && column !== 'VLAN')
  const rows = inNameOrder(estate.all('guest'))
  return writeCsv(
    columns,
    rows.map((guest) => columns.map((column) => guestCell(estate, guest, column))),
  )
}
