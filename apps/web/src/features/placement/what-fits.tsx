import { compareNames, formatNumber, type GuestSize, readSpecLine, ROOM_MAX } from '@insel/core'
import { useMemo, useState } from 'react'
import { Link } from 'react-router'
import { useRooms } from '../../estate/checks'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { Part } from '../../ui/page'
import { SpecInput } from '../lines/spec-input'
import { LedgerTable } from '../../ui/scrolling'
import { useMost } from '../../lib/printing'

const NAME = 'guest'

export function WhatFits() {
  const shownHosts = useMost(60)
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
    <Part title="Remaining capacity">
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
      {!size && <p className="text-soft text-dense">Enter at least vCPUs and memory, such as 2cpu 4G.</p>}
      {size && (
        <>
          <p className="text-dense py-1" role="status">
            {total >= ROOM_MAX ? 'Plenty' : total} more, each host by itself, with its failover reserve kept and its processors under the
            ceiling. Shared stores are counted on every host that reaches them.
          </p>
          <LedgerTable>
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
              {list.slice(0, shownHosts).map(({ host, count, limit, by }) => (
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
          </LedgerTable>
          {list.length > shownHosts && <p className="text-faint text-dense">and {list.length - shownHosts} hosts with less room</p>}
        </>
      )}
    </Part>
  )
}
