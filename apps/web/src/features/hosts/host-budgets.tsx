import { type Estate, formatMiB, formatNumber, formatUnit, type Guest, type Host, machinesOn, memoryBudget, vcpuBudget } from '@insel/core'
import { useEstate } from '../../estate'
import { FigureView, Working } from '../figures/figure-view'
import { Part } from '../../ui/page'

export function Budgets({ host, unplanned }: { host: Host; unplanned: Unplanned | undefined }) {
  const { estate } = useEstate()
  const memory = memoryBudget(estate, host)
  const processors = vcpuBudget(estate, host)
  const { today, planned = [] } = unplanned ?? {}
  return (
    <div className="grid sm:grid-cols-2 gap-x-10">
      <Part
        title="Memory"
        aside={
          <FigureView figure={memory.committed} title={`Memory committed on ${host.name}`}>
            {formatMiB(memory.committed.value)} committed
          </FigureView>
        }
      >
        <div className="py-2">
          <Working
            figure={memory.left}
            title={
              memory.left.value >= 0 ? `${formatUnit(memory.left.value, 'MiB')} left` : `${formatUnit(-memory.left.value, 'MiB')} too much`
            }
          />
          {today && (
            <p className="text-dense mt-2">
              Today, without {planned.length === 1 ? 'the planned guest' : `the ${planned.length} planned guests`}{' '}
              {planned.map(({ name }) => name).join(', ')}:{' '}
              <FigureView figure={memoryBudget(today, host).left} title={`Memory left on ${host.name} today`} /> left.
            </p>
          )}
        </div>
      </Part>
      <Part
        title="Processors"
        aside={
          <span className="text-soft text-dense">
            {processors.vcpu} vCPU, {processors.logical} logical CPUs
          </span>
        }
      >
        <div className="py-2">
          <Working figure={processors.left} title={`${formatNumber(processors.left.value)} cores left`} />
          {today && (
            <p className="text-dense mt-2">
              Today: <FigureView figure={vcpuBudget(today, host).left} title={`Cores left on ${host.name} today`} /> left.
            </p>
          )}
        </div>
      </Part>
    </div>
  )
}

/** The estate as it is today, and the guests it is without. */
interface Unplanned {
  readonly today: Estate
  readonly planned: readonly Guest[]
}

/** The estate as it is today: without guests that are only planned, and their disks. */
export function withoutPlanned(estate: Estate, hostId: string): Unplanned | undefined {
  const planned = machinesOn(estate, hostId).filter(({ state }) => state === 'planned')
  if (planned.length === 0) return undefined
  const disks = planned.flatMap(({ id }) => estate.referring('disk', 'guestId', id))
  const removed = {
    ...Object.fromEntries(planned.map((record) => [record.id, { kind: 'guest' as const, record }])),
    ...Object.fromEntries(disks.map((record) => [record.id, { kind: 'disk' as const, record }])),
  }
  return { today: estate.with({ added: {}, updated: {}, removed }), planned }
}
