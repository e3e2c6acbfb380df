import {
  compareNames,
  counted,
  formatMiB,
  formatNumber,
  leastRedundant,
  sayFailover,
  type Host,
  type HostFigures,
  type PlanFigures,
} from '@insel/core'
import { usePlanFigures } from '../../estate/checks'
import { useEstate } from '../../estate'
import { Ledger } from '../../ui/ledger'
import { Part } from '../../ui/page'

/** What a plan does to the hosts: each before and after, to one scale, and the item after which the fewest hosts could fail. */
export function PlanFiguresView({ planId }: { planId: string }) {
  const { recorded } = useEstate()
  const { figures, done } = usePlanFigures(planId)
  const [before, after] = [figures?.[0], figures?.at(-1)]
  if (!before || !after)
    return (
      <p role="status" className="text-dense text-soft">
        {done !== undefined && `Hosts before and after: ${counted(done, 'item')} worked out so far.`}
      </p>
    )
  const least = leastRedundant(figures ?? [])
  const changed = recorded
    .all('host')
    .flatMap((host) => {
      const [was, is] = [before.hosts.get(host.id), after.hosts.get(host.id)]
      const isTouched = figures?.some(({ hosts }) => !isSame(hosts.get(host.id), was))
      return was && is && isTouched ? [{ host, was, is, lowest: lowestOf(figures ?? [], host.id) }] : []
    })
    .sort((a, b) => compareNames(a.host.name, b.host.name))
  // To the scale of the board: the largest host fills the width.
  const scale = Math.max(1, ...recorded.all('host').map(({ memoryMiB }) => memoryMiB))
  return (
    <Part title="Before and after">
      <p className="text-dense py-1" role="status">
        Before the plan: {sayFailover(before.failover)} After it: {sayFailover(after.failover)}
        {least?.item && least.failover.withBoth < Math.min(before.failover.withBoth, after.failover.withBoth) && (
          <b className="font-medium text-warning">
            {' '}
            Fewest after “{least.item.title}”: {sayFailover(least.failover)}
          </b>
        )}
      </p>
      {changed.length === 0 ? (
        <p className="text-dense text-soft">No host has more or less room by it.</p>
      ) : (
        <Ledger
          headings={['host', 'memory, before over after', 'left before', 'left after', 'least meanwhile', 'cores left before', 'after']}
        >
          {changed.map(({ host, was, is, lowest }) => (
            <tr key={host.id}>
              <td className="font-medium">{host.name}</td>
              <td className="w-72 min-w-40">
                <Bars host={host} was={was} is={is} scale={scale} />
              </td>
              <td className="font-mono whitespace-nowrap">
                <Left of={was.memoryLeftMiB} />
              </td>
              <td className="font-mono whitespace-nowrap">
                <Left of={is.memoryLeftMiB} />
              </td>
              <td className="font-mono whitespace-nowrap">
                <Left of={lowest} />
              </td>
              <td className="font-mono whitespace-nowrap">{formatNumber(was.coresLeft)}</td>
              <td className="font-mono whitespace-nowrap">{formatNumber(is.coresLeft)}</td>
            </tr>
          ))}
        </Ledger>
      )}
    </Part>
  )
}

const isSame = (a: HostFigures | undefined, b: HostFigures | undefined) =>
  a?.memoryLeftMiB === b?.memoryLeftMiB && a?.coresLeft === b?.coresLeft

const lowestOf = (figures: readonly PlanFigures[], hostId: string) =>
  Math.min(...figures.slice(1).flatMap(({ hosts }) => hosts.get(hostId)?.memoryLeftMiB ?? []))

const Left = ({ of }: { of: number }) => <span className={of < 0 ? 'text-error font-bold' : ''}>{formatMiB(of)}</span>

/** The memory spoken for on a host, before above after, both to the scale of the board. */
function Bars({ host, was, is, scale }: { host: Host; was: HostFigures; is: HostFigures; scale: number }) {
  const share = (memoryMiB: number) => `${(Math.max(0, Math.min(memoryMiB, scale)) / scale) * 100}%`
  const bar = (left: number, look: string) => (
    <div className="relative h-2 my-px">
      <div className="absolute inset-y-0 left-0 bg-track border border-rule" style={{ width: share(host.memoryMiB) }} />
      <div className={`absolute inset-y-0 left-0 ${look}`} style={{ width: share(host.memoryMiB - left) }} />
    </div>
  )
  return (
    <div role="img" aria-label={`${host.name}: ${formatMiB(was.memoryLeftMiB)} left before, ${formatMiB(is.memoryLeftMiB)} after`}>
      {bar(was.memoryLeftMiB, 'hatch [--hatch:var(--fill)]')}
      {bar(is.memoryLeftMiB, 'bg-fill')}
    </div>
  )
}
