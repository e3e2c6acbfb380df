import { dayOf, type Estate, type FieldsOf, formatBytes, formatMiB } from '@insel/core'
import { useMemo } from 'react'
import { mayRecord, useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { macWords } from '../../lib/words'
import { ButtonLink, Key } from '../../ui/button'
import { ListPage, type Grouping } from '../../ui/list-page'
import { shownColumns, type Column } from '../../ui/columns'
import { RowLink } from '../../ui/table'
import { BulkChange } from './bulk-change'
import { GuestsNav } from '../frames/guests-nav'

/** What a network is found by: its name, its VLAN and its prefixes. */
const networkWords = (estate: Estate, networkId: string | null): string => {
  const network = estate.find('network', networkId)
  if (!network) return ''
  const prefixes = estate.referring('subnet', 'networkId', network.id).map(({ prefix }) => prefix)
  return [network.name, ...(network.vlanId === null ? [] : [`vlan ${network.vlanId} vlan${network.vlanId}`]), ...prefixes].join(' ')
}

/** Every guest, template and external machine. */
export function GuestsPage() {
  const { estate, basis } = useEstate()
  const { to } = usePaths()
  const rows = useMemo(
    () =>
      estate.all('guest').map((guest) => {
        const adapters = estate.referring('adapter', 'guestId', guest.id)
        return {
          ...guest,
          systemName: estate.find('system', guest.systemId)?.name ?? '',
          backupName: estate.find('store', guest.backupStoreId)?.name ?? '',
          diskBytes: estate.referring('disk', 'guestId', guest.id).reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
          networks: [...new Set(adapters.map(({ networkId }) => estate.find('network', networkId)?.name ?? ''))].filter(Boolean).join(' '),
          hostName: estate.find('host', guest.hostId)?.name ?? (guest.kind === 'external' ? 'external' : 'unplaced'),
          words: [
            ...adapters.flatMap(({ mac, networkId }) => [macWords(mac), networkWords(estate, networkId)]),
            guest.owner,
            guest.contact,
            guest.note,
            ...guest.tags.map((tag) => `#${tag}`),
          ].join(' '),
          addresses: adapters
            .flatMap((adapter) => estate.referring('address', 'adapterId', adapter.id).map((address) => address.ip))
            .join(' '),
        }
      }),
    [estate],
  )
  type Row = (typeof rows)[number]
  const columns = {
    name: {
      id: 'name',
      header: 'Name',
      value: (row) => row.name,
      cell: (row) => (
        <RowLink id={row.id} to={to(`guests/${row.id}`)}>
          {row.name}
        </RowLink>
      ),
    },
    state: { id: 'state', header: 'State', value: (row) => (row.kind === 'machine' ? row.state : row.kind) },
    hostId: { id: 'host', header: 'Host', value: (row) => row.hostName },
    purpose: { id: 'purpose', header: 'Purpose', value: (row) => row.purpose ?? '' },
    vcpu: { id: 'vcpu', header: 'vCPU', value: (row) => row.vcpu, isNumber: true },
    memoryMiB: { id: 'memory', header: 'Memory', value: (row) => row.memoryMiB, cell: (row) => formatMiB(row.memoryMiB), isNumber: true },
    disks: {
      id: 'disks',
      header: 'Disks',
      value: (row) => row.diskBytes,
      cell: (row) => formatBytes(row.diskBytes),
      isNumber: true,
      isExtra: true,
      csvHeader: 'Disks, bytes',
    },
    systemId: { id: 'system', header: 'System', value: (row) => row.systemName, isExtra: true },
    networks: { id: 'networks', header: 'Networks', value: (row) => row.networks, isExtra: true },
    group: { id: 'group', header: 'Group', value: (row) => row.group ?? '', isExtra: true },
    backupStoreId: { id: 'backup', header: 'Backed up to', value: (row) => row.backupName, isExtra: true },
    latency: { id: 'latency', header: 'Latency', value: (row) => row.latency, isExtra: true },
    firmware: { id: 'firmware', header: 'Firmware', value: (row) => row.firmware, isExtra: true },
    processorMode: { id: 'mode', header: 'Processor mode', value: (row) => row.processorMode, isExtra: true },
    owner: { id: 'owner', header: 'Owner', value: (row) => row.owner ?? '', isExtra: true },
    criticality: { id: 'criticality', header: 'Criticality', value: (row) => row.criticality ?? '', isExtra: true },
    patchedOn: { id: 'patched', header: 'Last patched', value: (row) => row.patchedOn ?? '', isExtra: true },
    verifiedAt: {
      id: 'verified',
      header: 'Verified',
      value: (row) => (row.verifiedAt ? dayOf(estate, row.verifiedAt) : ''),
      isExtra: true,
    },
    addresses: {
      id: 'addresses',
      header: 'Addresses',
      value: (row) => row.addresses,
      cell: (row) => <span className="font-mono text-small whitespace-nowrap">{row.addresses}</span>,
    },
    tags: {
      id: 'tags',
      header: 'Tags',
      value: (row) => row.tags.join(' '),
      cell: (row) => <span className="font-mono text-small text-soft">{row.tags.map((tag) => `#${tag}`).join(' ')}</span>,
    },
    // On the guest's own page.
    kind: null,
    workload: null,
    sockets: null,
    memoryMinMiB: null,
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
    contact: null,
    note: null,
  } satisfies FieldsOf<'guest', Column<Row>> & Readonly<Record<string, Column<Row> | null>>
  const groupings: readonly Grouping<Row>[] = [
    { id: 'host', label: 'host', of: (row) => row.hostName },
    { id: 'state', label: 'state', of: (row) => (row.kind === 'machine' ? row.state : row.kind) },
    { id: 'group', label: 'group', of: (row) => row.group ?? 'no group' },
    { id: 'system', label: 'system', of: (row) => row.systemName || 'no system' },
    { id: 'owner', label: 'owner', of: (row) => row.owner ?? 'no owner' },
    { id: 'criticality', label: 'criticality', of: (row) => row.criticality ?? 'not recorded' },
    { id: 'tag', label: 'first tag', of: (row) => (row.tags[0] ? `#${row.tags[0]}` : 'no tag') },
  ]
  const add = (
    <ButtonLink look="primary" to={to('guests/new')}>
      Add guest <Key>n</Key>
    </ButtonLink>
  )
  return (
    <ListPage
      title="Guests"
      one="guest"
      kind="guest"
      rows={rows}
      columns={shownColumns<Row>(columns)}
      sortBy="name"
      wordsOf={(row) => [
        row.name,
        row.hostName,
        row.purpose ?? '',
        row.state,
        row.kind,
        row.addresses,
        row.systemName,
        row.group ?? '',
        row.words,
      ]}
      groupings={groupings}
      about={<GuestsNav />}
      bulk={mayRecord(basis) ? (chosen, done) => <BulkChange guests={chosen} done={done} /> : undefined}
      add={add}
      ways={<ButtonLink to={to('guests/exchange')}>Import tables</ButtonLink>}
      whenEmpty="No guest is recorded yet. Type one as you would say it: “playout-3 4cpu 8G 40G on gannet net office”."
    />
  )
}
