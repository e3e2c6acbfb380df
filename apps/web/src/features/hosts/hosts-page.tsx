import { formatMiB, formatNumber, memoryBudget, platformOf, vcpuBudget } from '@insel/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../lib/estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink, Key } from '../../ui/button'
import { ListPage } from '../../ui/list-page'
import type { Column } from '../../ui/table'

/** Every host with what it has and what is left. */
export function HostsPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const rows = useMemo(
    () =>
      estate.all('host').map((host) => {
        const memory = memoryBudget(estate, host)
        const processors = vcpuBudget(estate, host)
        return {
          id: host.id,
          name: host.name,
          site: host.site,
          state: host.kind === 'nested' ? `${host.state}, nested` : host.state,
          platform: platformOf(estate, host).name,
          guests: estate.referring('guest', 'hostId', host.id).length,
          memoryMiB: host.memoryMiB,
          leftMiB: memory.left.value,
          cores: processors.cores,
          load: processors.load.value,
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
        <Link data-row className="font-medium hover:text-accent underline-offset-2 hover:underline" to={to(`hosts/${row.id}`)}>
          {row.name}
        </Link>
      ),
    },
    { id: 'site', header: 'Site', value: (row) => row.site },
    { id: 'state', header: 'State', value: (row) => row.state },
    { id: 'platform', header: 'Platform', value: (row) => row.platform },
    { id: 'guests', header: 'Guests', value: (row) => row.guests, isNumber: true },
    { id: 'memory', header: 'Usable memory', value: (row) => row.memoryMiB, cell: (row) => formatMiB(row.memoryMiB), isNumber: true },
    {
      id: 'left',
      header: 'Memory left',
      value: (row) => row.leftMiB,
      cell: (row) => <span className={row.leftMiB < 0 ? 'text-error font-bold' : ''}>{formatMiB(row.leftMiB)}</span>,
      isNumber: true,
    },
    {
      id: 'load',
      header: 'Core load',
      value: (row) => row.load / row.cores,
      cell: (row) => `${formatNumber(row.load)} of ${row.cores}`,
      isNumber: true,
    },
  ]
  const add = (
    <ButtonLink look="primary" to={to('hosts/new')}>
      Compose a host <Key>n</Key>
    </ButtonLink>
  )
  return (
    <ListPage
      title="Hosts"
      one="host"
      rows={rows}
      columns={columns}
      sortBy="name"
      wordsOf={(row) => [row.name, row.site, row.platform, row.state]}
      add={add}
      whenEmpty="No host is recorded yet. A host needs a platform, its processors and its usable memory; the rest can follow."
    />
  )
}
