import { familyOf, prefixOf } from '../networks/index.js'
import type { Estate } from '../estate/index.js'
import { dhcpReservations } from './address-plan.js'

/**
 * The DHCP reservations as lines that `dnsmasq` reads; those of IPv6 are left out, since there a lease goes by a DUID (RFC 8415),
 * not by a MAC.
 *
 * @see dnsmasq(8), `--dhcp-host`
 * @example dnsmasqLines(estate) // 'dhcp-host=02:1a:4b:00:00:01,10.61.30.47,playout-1\n'
 */
export const dnsmasqLines = (estate: Estate): string =>
  [
    '# Written by Insel: reservations for dnsmasq',
    ...reservations4(estate).map(({ mac, ip, hostname }) => `dhcp-host=${[mac, ip, ...(hostname ? [hostname] : [])].join(',')}`),
    '',
  ].join('\n')

const reservations4 = (estate: Estate) => dhcpReservations(estate).filter(({ ip }) => familyOf(ip) === 4)

/**
 * The IPv4 subnets that have DHCP ranges or reservations, with both, as the `Dhcp4` part of Kea’s configuration. A subnet’s number is
 * its network address as a number, so that it stays the same whatever else is recorded.
 *
 * @see Kea Administrator Reference Manual, “Host Reservation in DHCPv4”
 */
export function keaDhcp4(estate: Estate): object {
  const reserved = reservations4(estate)
  const subnets = estate
    .all('subnet')
    .map((subnet) => ({ subnet, prefix: prefixOf(subnet) }))
    .filter(({ prefix }) => prefix.family === 4)
    .toSorted((a, b) => Number(a.prefix.first - b.prefix.first))
    .flatMap(({ subnet, prefix }) => {
      const pools = estate.referring('pool', 'subnetId', subnet.id)
      const own = reserved.filter((one) => one.subnet === subnet.prefix)
      if (pools.length === 0 && own.length === 0) return []
      const options = [
        ...(subnet.gateway ? [{ name: 'routers', data: subnet.gateway }] : []),
        ...(subnet.nameServers
          ? [
              {
                name: 'domain-name-servers',
                data: subnet.nameServers
                  .split(' ')
                  .filter((ip) => familyOf(ip) === 4)
                  .join(', '),
              },
            ]
          : []),
      ].filter(({ data }) => data !== '')
      return [
        {
          id: Number(prefix.first),
          subnet: subnet.prefix,
          ...(pools.length > 0 ? { pools: pools.map(({ first, last }) => ({ pool: `${first} - ${last}` })) } : {}),
          ...(options.length > 0 ? { 'option-data': options } : {}),
          reservations: own.map(({ mac, ip, hostname }) => ({ 'hw-address': mac, 'ip-address': ip, ...(hostname ? { hostname } : {}) })),
        },
      ]
    })
  return { Dhcp4: { subnet4: subnets } }
}
