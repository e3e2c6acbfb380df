import { adaptersOf, type Address, type Estate, type Guest, type Host } from '../../estate/index.js'
import { groupBy, inNameOrder } from '../../lists/index.js'
import { isLinkLocal } from '../../networks/index.js'
import { fullName, nameTable } from '../../names/index.js'

/** A host or guest as the tools around know a machine. */
export interface ToolMachine {
  readonly kind: 'host' | 'guest'
  readonly name: string
  /** Its name with its zone; the bare one where there is no zone. */
  readonly fullName: string
  /** Its first address: a host’s for management, a guest’s on its first adapter; undefined where it has none. */
  readonly ip: string | undefined
  readonly site: string
  readonly group: string
  readonly purpose: string
  readonly tags: readonly string[]
  /** MACs with the address that belongs to each, where there is one. */
  readonly macs: readonly { readonly mac: string; readonly ip: string | undefined }[]
}

/** The machines that a list has: hosts, and guests that are machines, in the order of their names. */
export function toolMachines(
  estate: Estate,
  { hosts, guests }: { hosts: readonly Host[]; guests: readonly Guest[] },
): readonly ToolMachine[] {
  // Of a machine with addresses of both families, the first of its first.
  const firsts = groupBy(
    nameTable(estate).names.filter(({ isFirst }) => isFirst),
    ({ owner }) => owner,
  )
  const firstOf = (owner: string) => firsts.get(owner)?.[0]
  // A link-local address leads nowhere without the interface of whoever asks (RFC 4007).
  const usable = (addresses: readonly Address[]) => addresses.find(({ ip }) => !isLinkLocal(ip))?.ip
  const siteOf = (guest: Guest) => estate.find('host', guest.hostId)?.site ?? ''
  return inNameOrder([
    ...hosts.map((host): ToolMachine => {
      const first = firstOf(`host ${host.name}`)
      const own = usable(estate.referring('address', 'hostId', host.id))
      return {
        kind: 'host',
        name: host.name,
        fullName: first ? fullName(first) : host.name,
        ip: first?.ip ?? own,
        site: host.site,
        group: '',
        purpose: '',
        tags: host.tags,
        macs: host.managementMac ? [{ mac: host.managementMac, ip: first?.ip ?? own }] : [],
      }
    }),
    ...guests
      .filter(({ kind }) => kind === 'machine')
      .map((guest): ToolMachine => {
        const first = firstOf(`guest ${guest.name}`)
        const adapters = adaptersOf(estate, guest.id).map((adapter) => ({
          mac: adapter.mac,
          ip: usable(estate.referring('address', 'adapterId', adapter.id)),
        }))
        return {
          kind: 'guest',
          name: guest.name,
          fullName: first ? fullName(first) : guest.name,
          ip: first?.ip ?? adapters.find(({ ip }) => ip !== undefined)?.ip,
          site: siteOf(guest),
          group: guest.group ?? '',
          purpose: guest.purpose ?? '',
          tags: guest.tags,
          macs: adapters.flatMap(({ mac, ip }) => (mac === null ? [] : [{ mac, ip }])),
        }
      }),
  ])
}
