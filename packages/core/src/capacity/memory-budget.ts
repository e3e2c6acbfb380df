import { type Estate, type Host, machinesOn, policyOf } from '../estate/index.js'
import { counted, formatNumber, sumFigure, type Figure } from '../units/index.js'
import { heldOnHost } from './holds.js'
import { guestCost, hostCapacity, promisable } from './capacity.js'

/** A host's memory: what it has, what is spoken for, what is left. */
export interface MemoryBudget {
  /** Usable less the platform's own and the failover reserve. */
  readonly availableForGuests: Figure
  /** What its guests take, each with its overhead: running, stopped and planned ones. */
  readonly committed: Figure
  /** Kept for moves under way: of guests that arrive, and for the way back of those that left. */
  readonly held: Figure
  /** AvailableForGuests times the ceiling, less committed and held. Negative when the budget is overdrawn. */
  readonly left: Figure
  /** Kept free for the guests of a failed host, MiB. */
  readonly reserveMiB: number
  /** The platform's own, MiB. */
  readonly ownMiB: number
}

/**
 * The memory budget of a host.
 *
 * @returns four figures in MiB, each with its working
 * @see facts of the trade: available for guests = usable − platform's own − failover reserve; common practice, no source
 */
export function memoryBudget(estate: Estate, host: Host): MemoryBudget {
  const policy = policyOf(estate)
  const capacity = hostCapacity(estate, host)
  const { platform, reserveMiB } = capacity
  const availableForGuests = sumFigure(
    'usable − platform − failover reserve',
    'MiB',
    [
      { label: 'usable', value: host.memoryMiB, unit: 'MiB', sign: '+', from: `host ${host.name}` },
      { label: 'platform', value: platform.ownMemoryMiB, unit: 'MiB', sign: '−', from: `platform ${platform.name}` },
      {
        label: 'failover reserve',
        value: reserveMiB,
        unit: 'MiB',
        sign: '−',
        from:
          host.failoverReserveMiB === null ? `policies, ${formatNumber(policy.failoverReservePercent)} % of usable` : `host ${host.name}`,
      },
    ],
    'common practice',
  )
  const committed = sumFigure(
    `each guest’s memory + ${platform.guestOverheadMiB} MiB + ${formatNumber(platform.guestOverheadPercent)} %`,
    'MiB',
    machinesOn(estate, host.id).map((guest) => ({
      label: guest.name,
      value: guestCost(platform, guest.memoryMiB),
      unit: 'MiB' as const,
      sign: '+' as const,
      from: `guest ${guest.name}, ${guest.state}`,
    })),
    `overhead per guest: platform ${platform.name}, default from memory`,
  )
  const held = sumFigure(
    'guests of moves under way, each with its overhead',
    'MiB',
    heldOnHost(estate, host.id).map(({ guestId, memoryMiB, why }) => ({
      label: estate.find('guest', guestId)?.name ?? '?',
      value: guestCost(platform, memoryMiB),
      unit: 'MiB' as const,
      sign: '+' as const,
      from: why === 'arrives' ? 'arrives by a move' : 'left by a move that is not verified yet',
    })),
    'derived from the moves under way',
  )
  const left = sumFigure(
    policy.memoryCeiling === 1 ? 'available for guests − committed' : `available × ${policy.memoryCeiling} − committed`,
    'MiB',
    [
      ...(policy.memoryCeiling === 1
        ? availableForGuests.inputs
        : [
            {
              label: `available for guests × ${policy.memoryCeiling}`,
              value: promisable(policy, capacity),
              unit: 'MiB' as const,
              sign: '+' as const,
              from: 'policies, memory ceiling',
            },
          ]),
      {
        label: `committed to ${counted(committed.inputs.length, 'guest')}`,
        value: committed.value,
        unit: 'MiB',
        sign: '−',
        from: 'guests with their overhead',
      },
      ...(held.inputs.length === 0
        ? []
        : [
            {
              label: `held for ${counted(held.inputs.length, 'move')}`,
              value: held.value,
              unit: 'MiB' as const,
              sign: '−' as const,
              from: 'moves under way',
            },
          ]),
    ],
    'common practice',
  )
  return { availableForGuests, committed, held, left, reserveMiB, ownMiB: platform.ownMemoryMiB }
}
