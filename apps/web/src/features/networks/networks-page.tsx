import { prefixOf, usableCount } from '@insel/core'
import { useMemo } from 'react'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink, Key } from '../../ui/button'
import { ListPage } from '../../ui/list-page'
import type { Column } from '../../ui/columns'
import { RowLink } from '../../ui/table'
import { NetworksNav } from '../frames/networks-nav'

/** Every network with its subnets and who carries it. */
export function NetworksPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const rows = useMemo(
    () =>
      estate.all('network').map((network) => {
        const subnets = estate.referring('subnet', 'networkId', network.id)
        const four = subnets.filter((subnet) => prefixOf(subnet).family === 4)
        return {
          ...network,
          prefixes: subnets.map((subnet) => subnet.prefix).join('  '),
          hosts: estate.referring('attachment', 'networkId', network.id).length,
          adapters: estate.referring('adapter', 'networkId', network.id).length,
          addresses: subnets.reduce((sum, subnet) => sum + estate.referring('address', 'subnetId', subnet.id).length, 0),
          room: four.reduce((sum, subnet) => sum + Number(usableCount(prefixOf(subnet))), 0),
        }
      }),
    [estate],
  )
  type Row = (typeof rows)[number]
  const columns: readonly Column<Row>[] = [
    {
      id: 'name',
      header: 'Name',
      value: (row) => row.name,
      cell: (row) => (
        <RowLink id={row.id} to={to(`networks/${row.id}`)}>
          {row.name}
        </RowLink>
      ),
    },
    { id: 'role', header: 'Role', value: (row) => row.role },
    { id: 'vlan', header: 'VLAN', value: (row) => row.vlanId ?? 0, cell: (row) => row.vlanId ?? 'untagged', isNumber: true },
    {
      id: 'prefixes',
      header: 'Subnets',
      value: (row) => row.prefixes,
      cell: (row) => <span className="font-mono text-small pl-6">{row.prefixes || 'none'}</span>,
    },
    { id: 'hosts', header: 'Hosts', value: (row) => row.hosts, isNumber: true },
    { id: 'adapters', header: 'Adapters', value: (row) => row.adapters, isNumber: true },
    {
      id: 'addresses',
      header: 'Addresses',
      value: (row) => row.addresses,
      cell: (row) => (row.room > 0 ? `${row.addresses} of ${row.room}` : row.addresses),
      isNumber: true,
    },
  ]
  const add = (
    <ButtonLink look="primary" to={to('records/network/new')}>
      Add network <Key>n</Key>
    </ButtonLink>
  )
  return (
    <ListPage
      title="Networks"
      one="network"
      kind="network"
      rows={rows}
      columns={columns}
      sortBy="vlan"
      wordsOf={(row) => [
        row.name,
        row.role,
        row.prefixes,
        row.vlanId === null ? 'untagged' : `vlan ${row.vlanId} vlan${row.vlanId}`,
        row.site ?? '',
        row.searchDomain ?? '',
        row.note,
      ]}
      add={add}
      ways={
        <>
          <ButtonLink to={to('guests/exchange')}>Import tables</ButtonLink>
          <ButtonLink to={to('networks/plan')}>Plan segments in a block</ButtonLink>
        </>
      }
      more={<NetworksNav />}
      groupings={[
        { id: 'role', label: 'Role', of: (row) => row.role },
        { id: 'site', label: 'Site', of: (row) => row.site ?? 'all sites' },
      ]}
      whenEmpty="No network is recorded yet. Begin with the one that carries management."
    />
  )
}
