import { type Estate, type Host, machinesOn, policyOf } from '../estate/index.js'
import { sumFigure, type Figure } from '../units/index.js'
import { coreLoad, hostCapacity, vcpuPerCore } from './capacity.js'
import { heldOnHost } from './holds.js'

/** A host's processors: cores, and how much of them its guests' vCPUs count for. */
export interface VcpuBudget {
  /** Physical cores. Threads of a core share its units and are not counted. */
  readonly cores: number
  /** Hardware threads the platform schedules on: sockets × cores × threads. */
  readonly logical: number
  /** Cores that the guests' vCPUs count for under the policies. */
  readonly load: Figure
  /** Cores less load and what moves under way hold. Negative when over the ceiling. */
  readonly left: Figure
  /** vCPUs of all guests, and of how many guests. */
  readonly vcpu: number
  /** The most general vCPUs the host takes: cores × the policy's ceiling. */
  readonly ceilingVcpu: number
}

/**
 * The processor budget of a host. A steady guest's vCPU counts for a whole core, a general one's for a quarter, a lab
 * one's for an eighth, unless the policies say otherwise.
 *
 * @see facts of the trade: vCPU load against physical cores; common practice, no source
 */
export function vcpuBudget(estate: Estate, host: Host): VcpuBudget {
  const policy = policyOf(estate)
  const guests = machinesOn(estate, host.id)
  const { cores, logicalCpus } = hostCapacity(estate, host)
  const inputs = (['general', 'steady', 'lab'] as const).flatMap((latency) => {
    const vcpu = guests.filter((g) => g.latency === latency).reduce((sum, g) => sum + g.vcpu, 0)
    const perCore = vcpuPerCore(policy, latency)
    return vcpu === 0
      ? []
      : [
          {
            label: `${vcpu} ${latency} vCPU ÷ ${perCore}`,
            value: vcpu / perCore,
            unit: 'cores' as const,
            sign: '+' as const,
            from: `policies, vCPU per core, ${latency}`,
          },
        ]
  })
  const held = heldOnHost(estate, host.id).map(({ guestId, vcpu, why }) => {
    const guest = estate.find('guest', guestId)
    return {
      label: `${guest?.name ?? '?'}, ${vcpu} vCPU`,
      value: coreLoad(policy, { vcpu, latency: guest?.latency ?? 'general' }),
      unit: 'cores' as const,
      sign: '−' as const,
      from: why === 'arrives' ? 'arrives by a move' : 'left by a move that is not verified yet',
    }
  })
  const load = sumFigure('vCPUs of each class ÷ vCPUs that share a core', 'cores', inputs, 'common practice')
  const left = sumFigure(
    'sockets × cores − load',
    'cores',
    [
      { label: `${host.sockets} × ${host.coresPerSocket} cores`, value: cores, unit: 'cores', sign: '+', from: `host ${host.name}` },
      ...inputs.map((input) => ({ ...input, sign: '−' as const })),
      ...held,
    ],
    'common practice',
  )
  return {
    cores,
    logical: logicalCpus,
    load,
    left,
    vcpu: guests.reduce((sum, g) => sum + g.vcpu, 0),
    ceilingVcpu: Math.floor(cores * policy.vcpuPerCoreGeneral),
  }
}
