import { type FieldsOf, formatMiB, formatNumber, levelOf, memoryBudget, platformOf, rackPlace, surveyHost, vcpuBudget } from '@insel/core'
import { useMemo } from 'react'
import { useToday } from '../../estate/today'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { macWords } from '../../lib/words'
import { ButtonLink, Key } from '../../ui/button'
import { ListPage } from '../../ui/list-page'
import { shownColumns, type Column } from '../../ui/columns'
import { RowLink } from '../../ui/table'

/** Every host with what it has and what is left. */
export function HostsPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const today = useToday()
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
          model: host.model ?? '',
          level: host.cpuFlags ? (levelOf(host.cpuFlags).level ?? 'below v1') : '',
          verdict: surveyHost(estate, host, today).verdict,
          circuit: host.circuit ?? '',
          watts: host.drawWatts ?? 0,
          trialEnds: host.trialEndsOn ?? '',
          serial: host.serial ?? '',
          assetTag: host.assetTag ?? '',
          rack: rackPlace(host),
          warrantyEnds: host.warrantyEndsOn ?? '',
          tags: host.tags.join(' '),
          words: [
            macWords(host.managementMac),
            host.note,
            ...host.tags.map((tag) => `#${tag}`),
            ...estate.referring('address', 'hostId', host.id).map(({ ip }) => ip),
            ...estate.referring('port', 'hostId', host.id).flatMap(({ name, mac, farEnd }) => [name, macWords(mac), farEnd]),
            ...estate.referring('drive', 'hostId', host.id).flatMap(({ serial, model }) => [serial, model]),
            ...estate.referring('attachment', 'hostId', host.id).map(({ networkId }) => estate.find('network', networkId)?.name),
          ].join(' '),
        }
      }),
    [estate, today],
  )
  type Row = (typeof rows)[number]
  const columns = {
    name: {
      id: 'name',
      header: 'Name',
      value: (row) => row.name,
      cell: (row) => (
        <RowLink id={row.id} to={to(`hosts/${row.id}`)}>
          {row.name}
        </RowLink>
      ),
    },
    site: { id: 'site', header: 'Site', value: (row) => row.site },
    state: { id: 'state', header: 'State', value: (row) => row.state },
    platformId: { id: 'platform', header: 'Platform', value: (row) => row.platform },
    guests: { id: 'guests', header: 'Guests', value: (row) => row.guests, isNumber: true },
    memoryMiB: {
      id: 'memory',
      header: 'Usable memory',
      csvHeader: 'Usable memory (MiB)',
      value: (row) => row.memoryMiB,
      cell: (row) => formatMiB(row.memoryMiB),
      isNumber: true,
    },
    left: {
      id: 'left',
      header: 'Memory left',
      csvHeader: 'Memory left (MiB)',
      value: (row) => row.leftMiB,
      cell: (row) => <span className={row.leftMiB < 0 ? 'text-error font-bold' : ''}>{formatMiB(row.leftMiB)}</span>,
      isNumber: true,
    },
    load: {
      id: 'load',
      header: 'Core load',
      csvHeader: 'Core load (share)',
      value: (row) => row.load / row.cores,
      cell: (row) => `${formatNumber(row.load)} of ${row.cores}`,
      isNumber: true,
    },
    verdict: { id: 'verdict', header: 'Compatibility', value: (row) => row.verdict },
    cpuFlags: { id: 'level', header: 'Processor level', value: (row) => row.level, isExtra: true },
    model: { id: 'model', header: 'Model', value: (row) => row.model, isExtra: true },
    circuit: { id: 'circuit', header: 'Circuit', value: (row) => row.circuit, isExtra: true },
    drawWatts: {
      id: 'watts',
      header: 'Draw',
      csvHeader: 'Draw (W)',
      value: (row) => row.watts,
      cell: (row) => (row.watts ? `${row.watts} W` : ''),
      isNumber: true,
      isExtra: true,
    },
    trialEndsOn: { id: 'trial', header: 'Licence ends', value: (row) => row.trialEnds, isExtra: true },
    serial: { id: 'serial', header: 'Serial', value: (row) => row.serial, isExtra: true },
    assetTag: { id: 'asset', header: 'Asset tag', value: (row) => row.assetTag, isExtra: true },
    rack: { id: 'rack', header: 'Rack', value: (row) => row.rack, isExtra: true },
    warrantyEndsOn: { id: 'warranty', header: 'Warranty ends', value: (row) => row.warrantyEnds, isExtra: true },
    tags: { id: 'tags', header: 'Tags', value: (row) => row.tags, isExtra: true },
    // Nested is beside the state; the rest is on the host's own pages.
    kind: null,
    outerGuestId: null,
    sockets: null,
    coresPerSocket: null,
    threadsPerCore: null,
    processorModel: null,
    clockMHz: null,
    memorySlots: null,
    firmware: null,
    secureBoot: null,
    controllers: null,
    mounting: null,
    powerSupplies: null,
    circuitVolts: null,
    circuitAmps: null,
    imageId: null,
    stickBytes: null,
    stickMayBeErased: null,
    atHand: null,
    failoverReserveMiB: null,
    isRouter: null,
    managementMac: null,
    fingerprint: null,
    heightUnit: null,
    purchasedOn: null,
    controllerAddress: null,
    note: null,
  } satisfies FieldsOf<'host', Column<Row>> & Readonly<Record<string, Column<Row> | null>>
  const add = (
    <ButtonLink look="primary" to={to('hosts/new')}>
      Add host <Key>n</Key>
    </ButtonLink>
  )
  return (
    <ListPage
      title="Hosts"
      one="host"
      kind="host"
      rows={rows}
      columns={shownColumns<Row>(columns)}
      sortBy="name"
      wordsOf={(row) => [
        row.name,
        row.site,
        row.platform,
        row.state,
        row.model,
        row.circuit,
        row.serial,
        row.assetTag,
        row.rack,
        row.words,
      ]}
      groupings={[
        { id: 'site', label: 'site', of: (row) => row.site },
        { id: 'platform', label: 'platform', of: (row) => row.platform },
        { id: 'state', label: 'state', of: (row) => row.state },
        { id: 'circuit', label: 'circuit', of: (row) => row.circuit || 'no circuit' },
      ]}
      more={
        <>
          <Link className="link" to={to('hosts/capacity')}>
            Capacity
          </Link>
          <Link className="link ml-3" to={to('hosts/releases')}>
            Release compatibility
          </Link>
        </>
      }
      add={add}
      ways={<ButtonLink to={to('guests/exchange')}>Import tables</ButtonLink>}
      whenEmpty="No host is recorded yet. A host needs a platform, its processors and its usable memory; the rest can follow."
    />
  )
}
