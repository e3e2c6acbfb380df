import { formatMiB } from '@insel/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../lib/estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink, Key } from '../../ui/button'
import { ListPage } from '../../ui/list-page'
import type { Column } from '../../ui/table'

/** Every guest, template and external machine. */
export function GuestsPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const rows = useMemo(
    () =>
      estate.all('guest').map((guest) => {
        const adapters = estate.referring('adapter', 'guestId', guest.id)
        return {
          ...guest,
          hostName: estate.find('host', guest.hostId)?.name ?? (guest.kind === 'external' ? 'external' : 'unplaced'),
          addresses: adapters
            .flatMap((adapter) => estate.referring('address', 'adapterId', adapter.id).map((address) => address.ip))
            .join(' '),
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
        <Link data-row className="font-medium hover:text-accent underline-offset-2 hover:underline" to={to(`guests/${row.id}`)}>
          {row.name}
        </Link>
      ),
    },
    { id: 'state', header: 'State', value: (row) => (row.kind === 'machine' ? row.state : row.kind) },
    { id: 'host', header: 'Host', value: (row) => row.hostName },
    { id: 'purpose', header: 'Made for', value: (row) => row.purpose ?? '' },
    { id: 'vcpu', header: 'vCPU', value: (row) => row.vcpu, isNumber: true },
    { id: 'memory', header: 'Memory', value: (row) => row.memoryMiB, cell: (row) => formatMiB(row.memoryMiB), isNumber: true },
    {
      id: 'addresses',
      header: 'Addresses',
      value: (row) => row.addresses,
      cell: (row) => <span className="font-mono text-[12.5px] whitespace-nowrap pl-4">{row.addresses}</span>,
    },
    {
      id: 'tags',
      header: 'Tags',
      value: (row) => row.tags.join(' '),
      cell: (row) => <span className="font-mono text-[12px] text-soft">{row.tags.map((tag) => `#${tag}`).join(' ')}</span>,
    },
  ]
  const add = (
    <ButtonLink look="primary" to={to('guests/new')}>
      Compose a guest <Key>n</Key>
    </ButtonLink>
  )
  return (
    <ListPage
      title="Guests"
      one="guest"
      rows={rows}
      columns={columns}
      sortBy="name"
      wordsOf={(row) => [row.name, row.hostName, row.purpose ?? '', row.state, row.kind, row.addresses, ...row.tags]}
      add={add}
      whenEmpty="No guest is recorded yet. Type one as you would say it: “playout-3 4cpu 8G 40G on gannet net office”."
    />
  )
}
