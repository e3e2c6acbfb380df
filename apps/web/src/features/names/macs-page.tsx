import { macRows } from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { useMemo } from 'react'
import { api } from '../../lib/api'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { ListPage } from '../../ui/list-page'
import type { Column } from '../../ui/columns'
import { RowLink } from '../../ui/table'
import { NetworksNav } from '../frames/networks-nav'

/** Every MAC address, by prefix, with the maker where the registry knows it. */
export function MacsPage() {
  const { estate } = useEstate()
  const { to, ofRecord } = usePaths()
  const rows = useMemo(() => macRows(estate), [estate])
  const prefixes = useMemo(
    () => [...new Set(rows.filter(({ isLocal }) => !isLocal).map(({ prefix }) => prefix.replaceAll(':', '')))].sort(),
    [rows],
  )
  const registry = useQuery({
    queryKey: ['mac registry', prefixes],
    queryFn: () => api.macRegistry(prefixes.slice(0, 500)),
    staleTime: Infinity,
  })
  const makerOf = (row: Row) =>
    row.isLocal ? 'set by a program' : (registry.data?.organisations[row.prefix.replaceAll(':', '')] ?? 'not known')
  type Row = (typeof rows)[number]
  const columns: readonly Column<Row>[] = [
    { id: 'mac', header: 'MAC', value: (row) => row.mac, cell: (row) => <span className="font-mono">{row.mac}</span> },
    {
      id: 'owner',
      header: 'Of',
      value: (row) => row.owner,
      cell: (row) => (
        <RowLink id={row.id} to={ofRecord(row.of.kind, row.of.id)}>
          {row.owner}
        </RowLink>
      ),
    },
    { id: 'prefix', header: 'Prefix', value: (row) => row.prefix, cell: (row) => <span className="font-mono">{row.prefix}</span> },
    { id: 'maker', header: 'Registered to', value: makerOf },
    {
      id: 'count',
      header: 'Used',
      value: (row) => row.count,
      cell: (row) => (row.count > 1 ? <span className="text-error">{row.count} times</span> : 'once'),
      isNumber: true,
    },
  ]
  return (
    <ListPage
      title="MAC addresses"
      one="MAC address"
      kind="adapter"
      rows={rows}
      columns={columns}
      sortBy="mac"
      wordsOf={(row) => [row.mac, row.mac.replaceAll(':', ''), row.owner, makerOf(row)]}
      groupings={[
        { id: 'prefix', label: 'Prefix', of: (row) => `${row.prefix}, ${makerOf(row)}` },
        { id: 'kind', label: 'Locally administered or not', of: (row) => (row.isLocal ? 'locally administered' : 'by a maker') },
      ]}
      add={<ButtonLink to={to('guests/new')}>Add guest</ButtonLink>}
      whenEmpty="No MAC address is recorded yet: they come with adapters and ports."
      more={
        <>
          {registry.data &&
            (registry.data.source ?? 'The IEEE’s registry is not installed (Debian ieee-data), so manufacturers are not shown.')}
          <NetworksNav />
        </>
      }
    />
  )
}
