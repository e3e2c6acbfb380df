import { counted, formatBytes, formatMiB, inNameOrder, shippedWorkloads, workloadsOf, formatInstant } from '@insel/core'
import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api } from '../../lib/api'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Page, Part, Trouble } from '../../ui/page'
import { SystemChoice } from './system-choice'
import { GuestsNav } from '../frames/guests-nav'

/** The systems that guests run, the catalogue they are taken from, and the workload profiles sizes are worked out from. */
export function SystemsPage() {
  return (
    <Page
      title="Systems and workloads"
      about={
        <>
          The values behind suggested sizes. Each can be changed.
          <GuestsNav />
        </>
      }
    >
      <Systems />
      <Workloads />
    </Page>
  )
}

function Systems() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const dataset = useQuery({ queryKey: ['catalogue', ''], queryFn: () => api.catalogue(''), staleTime: 60_000 }).data?.dataset
  const systems = inNameOrder(estate.all('system'))
  return (
    <Part
      title="Systems"
      aside={
        <ButtonLink look="quiet" className="!min-h-7" to={to('records/system/new')}>
          Add by hand
        </ButtonLink>
      }
    >
      <div className="flex flex-wrap gap-3 items-center py-2 text-dense">
        <label htmlFor="take-system">Add from the catalogue</label>
        <span className="w-80">
          <SystemChoice
            id="take-system"
            system={undefined}
            choose={(id, added) => added && void record([{ type: 'system.add', record: { ...added.values, id } }])}
          />
        </span>
        <span className="text-faint">
          {dataset
            ? `${dataset.name}, dataset of ${dataset.version}, ${counted(dataset.systems, 'system')}, read ${formatInstant(dataset.loadedAt, 'UTC')} UTC`
            : 'osinfo-db is not installed on the server: generic profiles are used instead.'}
        </span>
      </div>
      {trouble && <Trouble>{trouble}</Trouble>}
      {systems.length > 0 && (
        <Ledger
          headings={['system', 'vCPU', 'memory', 'storage', 'firmware', 'paravirtual disk', 'adapter', 'supported until', 'guests', 'from']}
        >
          {systems.map((system) => (
            <tr key={system.id}>
              <td>
                <Link className="font-medium name-link" to={to(`records/system/${system.id}`)}>
                  {system.name}
                </Link>
              </td>
              <td className="font-mono whitespace-nowrap">{pair(system.minVcpu, system.goodVcpu, String)}</td>
              <td className="font-mono whitespace-nowrap">{pair(system.minMemoryMiB, system.goodMemoryMiB, formatMiB)}</td>
              <td className="font-mono whitespace-nowrap">{pair(system.minStorageBytes, system.goodStorageBytes, formatBytes)}</td>
              <td>{system.firmware}</td>
              <td>{system.paravirtualDisk}</td>
              <td>{system.paravirtualNet}</td>
              <td className="font-mono whitespace-nowrap">{system.supportedUntil ?? 'not known'}</td>
              <td className="font-mono">{estate.referring('guest', 'systemId', system.id).length}</td>
              <td className="text-faint">{system.source}</td>
            </tr>
          ))}
        </Ledger>
      )}
      {systems.length > 0 && <p className="text-faint text-small pt-1">Least, and what is recommended.</p>}
    </Part>
  )
}

function pair(least: number | null, good: number | null, say: (value: number) => string): string {
  if (least === null && good === null) return 'not known'
  return good === null || good === least ? say(least ?? 0) : `${least === null ? '?' : say(least)} – ${say(good)}`
}

function Workloads() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const go = useGo()
  /** A shipped profile becomes a record of the estate when somebody wants to change it. */
  const change = async (name: string) => {
    const shipped = shippedWorkloads.find((one) => one.name === name)
    const id = newId()
    if (shipped && (await record([{ type: 'workload.add', record: { ...shipped, id } }]))) await go(to(`records/workload/${id}`))
  }
  return (
    <Part
      title="Workload profiles"
      aside={
        <ButtonLink look="quiet" className="!min-h-7" to={to('records/workload/new')}>
          Add profile
        </ButtonLink>
      }
    >
      {trouble && <Trouble>{trouble}</Trouble>}
      <Ledger
        headings={['for', 'vCPU at peak', 'everyday', 'memory', 'system disk', 'data', 'growth a month', 'adapters', 'latency', '.change']}
      >
        {workloadsOf(estate).map((profile) => (
          <tr key={profile.name}>
            <td className="font-medium">{profile.name}</td>
            <td className="font-mono">{profile.vcpu}</td>
            <td className="font-mono">{profile.steadyShare} %</td>
            <td className="font-mono">{formatMiB(profile.memoryMiB)}</td>
            <td className="font-mono">{profile.systemBytes ? `+ ${formatBytes(profile.systemBytes)}` : ''}</td>
            <td className="font-mono">{profile.dataBytes ? formatBytes(profile.dataBytes) : 'none'}</td>
            <td className="font-mono">{profile.growthBytesPerMonth ? formatBytes(profile.growthBytesPerMonth) : 'none'}</td>
            <td className="font-mono">{profile.adapters}</td>
            <td>{profile.latency}</td>
            <td>
              {profile.id === '' ? (
                <Button look="quiet" className="!min-h-7" onClick={() => void change(profile.name)}>
                  Change<span className="sr-only"> {profile.name}</span>
                </Button>
              ) : (
                <Link className="link" to={to(`records/workload/${profile.id}`)}>
                  Change<span className="sr-only"> {profile.name}</span>
                </Link>
              )}
            </td>
          </tr>
        ))}
      </Ledger>
      <p className="text-faint text-small pt-1">Basis of the shipped profiles: common practice. Measurements count more.</p>
    </Part>
  )
}
