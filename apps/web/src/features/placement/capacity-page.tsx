import {
  circuitLoads,
  compareNames,
  CONTINUOUS_SHARE,
  ELECTRICAL_CAUTION,
  formatMiB,
  formatNumber,
  type GuestSize,
  heat,
  readSpecLine,
  ROOM_MAX,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useFailover, useRooms } from '../../checks/checks'
import type { Failover as HostFailover } from '../../checks/make-checks'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { Button, ButtonLink } from '../../ui/button'
import { Mark } from '../findings/mark'
import { Empty, Page, Part } from '../../ui/page'
import { SpecInput } from '../compose/spec-input'

/** What still fits, which host could fail, and what the circuits carry, over the whole estate. */
export function CapacityPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  if (estate.count('host') === 0)
    return (
      <Page title="Capacity">
        <Empty
          action={
            <ButtonLink look="primary" to={to('hosts/new')}>
              Compose a host
            </ButtonLink>
          }
        >
          No host is recorded yet. Compose the first one; what fits on it and what happens if it fails stands here then.
        </Empty>
      </Page>
    )
  return (
    <Page title="Capacity" about="What still fits, which host could fail, and what the circuits carry.">
      <WhatFits />
      <Failover />
      <Circuits />
    </Page>
  )
}

const NAME = 'guest'

function WhatFits() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const [given, setGiven] = useQueryParam('size')
  const [line, setLine] = useState(given || '2cpu 4G 40G')
  const { spec, parts } = useMemo(() => {
    // The line of a guest, without its name: one is put in front so that it reads the same way.
    const reading = readSpecLine(`${NAME} ${line}`, {
      hosts: estate.all('host').map(({ name }) => name),
      networks: estate.all('network').map(({ name }) => name),
      stores: [],
    })
    const moved = reading.parts
      .filter(({ start }) => start > 0)
      .map((part) => ({ ...part, start: part.start - NAME.length - 1, end: part.end - NAME.length - 1 }))
    return { spec: reading.spec, parts: moved }
  }, [line, estate])
  const hasProblem = parts.some(({ problem }) => problem)
  const size = useMemo<GuestSize | undefined>(
    () =>
      spec.vcpu && spec.memoryMiB && !hasProblem
        ? {
            vcpu: spec.vcpu,
            memoryMiB: spec.memoryMiB,
            latency: spec.latency ?? 'general',
            diskBytes: spec.disks.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0),
            networkIds: estate.all('network').flatMap(({ id, name }) => (spec.networks.includes(name) ? [id] : [])),
          }
        : undefined,
    [spec, hasProblem, estate],
  )
  const rooms = useRooms(size)
  const list = size ? [...(rooms.data ?? [])].sort((a, b) => b.count - a.count || compareNames(a.host.name, b.host.name)) : []
  const most = Math.max(1, ...list.map(({ count }) => count))
  const total = list.reduce((sum, { count }) => sum + count, 0)
  const number = (count: number) => (count >= ROOM_MAX ? 'plenty' : formatNumber(count, 0))
  return (
    <Part title="What still fits">
      <div className="max-w-[640px] py-2">
        <SpecInput
          value={line}
          onChange={(text) => {
            setLine(text)
            setGiven(text)
          }}
          parts={parts}
          label="A guest of this size"
          placeholder="2cpu 4G 40G net office"
          hint="vCPU, memory, disks, net A,B, steady or lab; as in a guest’s line, without the name."
        />
      </div>
      {!size && <p className="text-soft text-[13px]">Say at least the vCPUs and the memory, such as 2cpu 4G.</p>}
      {size && (
        <>
          <p className="text-[13px] py-1" role="status">
            {total >= ROOM_MAX ? 'Plenty' : total} more, each host by itself, with its failover reserve kept and its processors under the
            ceiling. Shared stores are counted on every host that reaches them.
          </p>
          <table className="ledger w-full text-[13px]">
            <thead>
              <tr>
                <th scope="col" className="w-36">
                  host
                </th>
                <th scope="col" className="w-[30%]">
                  <span className="sr-only">drawn</span>
                </th>
                <th scope="col" className="!text-right">
                  fit
                </th>
                <th scope="col">what ends it</th>
                <th scope="col" className="!text-right">
                  by memory
                </th>
                <th scope="col" className="!text-right">
                  by processors
                </th>
                <th scope="col" className="!text-right">
                  by stores
                </th>
              </tr>
            </thead>
            <tbody>
              {list.slice(0, 60).map(({ host, count, limit, by }) => (
                <tr key={host.id}>
                  <td>
                    <Link className="font-medium name-link" to={to(`hosts/${host.id}`)}>
                      {host.name}
                    </Link>
                  </td>
                  <td aria-hidden>
                    <div
                      className="h-3 border border-accent bg-accent-wash"
                      style={{ width: `${(100 * count) / most}%`, display: count === 0 ? 'none' : 'block' }}
                    />
                  </td>
                  <td className="font-mono text-right font-bold">{number(count)}</td>
                  <td>{limit}</td>
                  <td className="font-mono text-right text-soft">{number(by.memory)}</td>
                  <td className="font-mono text-right text-soft">{number(by.processors)}</td>
                  <td className="font-mono text-right text-soft">{number(by.stores)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {list.length > 60 && <p className="text-faint text-[13px]">and {list.length - 60} hosts with less room</p>}
        </>
      )}
    </Part>
  )
}

function Failover() {
  const outcomes = useFailover()
  const [isAll, setAll] = useState(false)
  const list = [...(outcomes.data ?? [])].sort(
    (a, b) =>
      b.stranded.length - a.stranded.length || b.withoutCopy.length - a.withoutCopy.length || compareNames(a.host.name, b.host.name),
  )
  const bad = list.filter(({ stranded, withoutCopy }) => stranded.length > 0 || withoutCopy.length > 0)
  const safe = list.length - bad.length
  return (
    <Part
      title="If a host fails"
      aside={
        safe > 0 && bad.length > 0 ? (
          <Button look="quiet" className="!min-h-6" onClick={() => setAll(!isAll)}>
            {isAll ? 'Only where guests are lost' : `Show the ${safe} others`}
          </Button>
        ) : undefined
      }
    >
      <p className="text-[13px] py-1" role="status">
        {list.length === 0
          ? 'No host is in service.'
          : bad.length === 0
            ? `Any one of the ${list.length} hosts in service could fail: all its running guests find a place.`
            : `${safe} of ${list.length} hosts in service could fail without a loss.`}{' '}
        <span className="text-soft">
          A real packing: memory, processors, networks, and stores with room for what must be restored. It never claims a place that is not
          there.
        </span>
      </p>
      {(isAll ? list : bad).slice(0, 40).map((outcome) => (
        <Outcome key={outcome.host.id} outcome={outcome} />
      ))}
    </Part>
  )
}

function Outcome({ outcome: { host, stranded, placed, reasons, withoutCopy } }: { outcome: HostFailover }) {
  const { to } = usePaths()
  return (
    <div className="border-t border-line py-2 text-[13px]">
      <p className="flex gap-2 items-baseline">
        <Mark of={stranded.length > 0 ? 'no' : withoutCopy.length > 0 ? 'remark' : 'fits'} />
        <Link className="font-bold name-link" to={to(`hosts/${host.id}`)}>
          {host.name}
        </Link>
        <span>
          {placed} of {placed + stranded.length} running guests find a place
          {stranded.length > 0 && `, ${formatMiB(stranded.reduce((sum, { memoryMiB }) => sum + memoryMiB, 0))} of memory does not`}
        </span>
      </p>
      {stranded.length > 0 && (
        <ul className="pl-[18px]">
          {stranded.slice(0, 12).map((guest) => (
            <li key={guest.id}>
              <Link className="font-medium name-link" to={to(`guests/${guest.id}`)}>
                {guest.name}
              </Link>{' '}
              <span className="font-mono text-faint">{formatMiB(guest.memoryMiB)}</span> {reasons.get(guest.id)}
            </li>
          ))}
          {stranded.length > 12 && <li className="text-faint">and {stranded.length - 12} more</li>}
        </ul>
      )}
      {withoutCopy.length > 0 && (
        <p className="pl-[18px] text-warning">
          Data gone, no backup outside {host.name}: {withoutCopy.map(({ name }) => name).join(', ')}
        </p>
      )}
    </div>
  )
}

function Circuits() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const loads = circuitLoads(estate)
  const without = estate.all('host').filter(({ circuit, kind, state }) => !circuit && kind === 'physical' && state !== 'retired')
  return (
    <Part title="Power and heat">
      {loads.length === 0 ? (
        <p className="text-soft text-[13px] py-1">No host names its circuit yet.</p>
      ) : (
        <table className="ledger w-full text-[13px]">
          <thead>
            <tr>
              <th scope="col">circuit</th>
              <th scope="col">site</th>
              <th scope="col">hosts</th>
              <th scope="col" className="!text-right">
                draw
              </th>
              <th scope="col" className="!text-right">
                heat
              </th>
              <th scope="col" className="!text-right">
                of the rating
              </th>
              <th scope="col">to mind</th>
            </tr>
          </thead>
          <tbody>
            {loads.map((load) => (
              <tr key={`${load.site} ${load.circuit}`}>
                <td className="font-medium">{load.circuit}</td>
                <td>{load.site}</td>
                <td>
                  {load.hosts.map((host, index) => (
                    <span key={host.id}>
                      {index > 0 && ', '}
                      <Link className="name-link" to={to(`hosts/${host.id}/hardware`)}>
                        {host.name}
                      </Link>
                    </span>
                  ))}
                </td>
                <td className="font-mono text-right">{formatNumber(load.watts, 0)} W</td>
                <td className="font-mono text-right">{formatNumber(heat(load.watts), 0)} BTU/h</td>
                <td
                  className={`font-mono text-right ${load.share !== undefined && load.share > CONTINUOUS_SHARE ? 'text-error font-bold' : ''}`}
                >
                  {load.share === undefined
                    ? 'not recorded'
                    : `${formatNumber(load.share * 100, 0)} % of ${formatNumber(load.ratedWatts ?? 0, 0)} W`}
                </td>
                <td>{load.unknown.length > 0 && `draw not recorded: ${load.unknown.map(({ name }) => name).join(', ')}`}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {without.length > 0 && loads.length > 0 && (
        <p className="text-soft text-[13px] mt-1">
          Without a circuit:{' '}
          {without
            .slice(0, 12)
            .map(({ name }) => name)
            .join(', ')}
          {without.length > 12 && ` and ${without.length - 12} more`}.
        </p>
      )}
      <p className="text-[12px] text-soft border-l-2 border-warning pl-2 my-2">{ELECTRICAL_CAUTION}</p>
    </Part>
  )
}
