import type { Estate, Host, Subnet } from '../estate/index.js'

/** What is planned for a host's management: its address and the subnet it is in. */
export interface ManagementPlan {
  readonly ip: string | undefined
  readonly subnet: Subnet | undefined
  readonly length: number | undefined
  readonly networkName: string | undefined
  readonly vlanId: number | null
  readonly fullName: string
}

/** The planned management address of a host: one in a management network before any other. */
export function managementPlan(estate: Estate, host: Host): ManagementPlan {
  const addresses = estate.referring('address', 'hostId', host.id)
  const isManagement = (subnetId: string) => estate.find('network', estate.find('subnet', subnetId)?.networkId)?.role === 'management'
  const address = addresses.find(({ subnetId }) => isManagement(subnetId)) ?? addresses[0]
  const subnet = estate.find('subnet', address?.subnetId)
  const network = estate.find('network', subnet?.networkId)
  const domain = estate.all('estate')[0]?.domain
  return {
    ip: address?.ip,
    subnet,
    length: subnet ? Number(subnet.prefix.split('/')[1]) : undefined,
    networkName: network?.name,
    vlanId: network?.vlanId ?? null,
    fullName: domain ? `${host.name.toLowerCase()}.${domain}` : host.name.toLowerCase(),
  }
}
