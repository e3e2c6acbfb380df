import type { Estate, Host } from '../estate/index.js'
import { groupBy } from '../lists/index.js'

/** BTU per hour in one watt, by the definition of the unit (international table BTU = 1055.05585262 J). */
const BTU_PER_HOUR_AND_WATT = 3600 / 1055.05585262
/** Continuous load on a circuit stays at or under this share in many codes. Common practice, no source; the local code decides. */
export const CONTINUOUS_SHARE = 0.8

/** What is beside every figure about circuits. */
export const ELECTRICAL_CAUTION =
  'Many codes keep a continuous load at or under 80 % of a circuit’s rating. The local code and a licensed electrician decide; have both looked at before anything is plugged in.'
/** What is beside every step that moves or opens a machine. */
export const HANDLING_CAUTION =
  'Lift a rack server with two people or a lift. Power off and unplug before opening, and discharge static. Server rooms are loud: protect your hearing.'

/**
 * Heat of a load.
 *
 * @param watts continuous draw, W
 * @returns BTU/h
 * @example Math.round(heat(1000)) // 3412
 */
export const heat = (watts: number): number => watts * BTU_PER_HOUR_AND_WATT

/** One circuit with the hosts on it. */
export interface CircuitLoad {
  readonly circuit: string
  readonly site: string
  readonly hosts: readonly Host[]
  /** Draw of the hosts whose draw is recorded, W. */
  readonly watts: number
  /** Hosts whose draw is not recorded. */
  readonly unknown: readonly Host[]
  /** Volts × amperes, or undefined when the rating is not recorded on any of its hosts. */
  readonly ratedWatts: number | undefined
  /** Draw over rating, 1 = all of it. */
  readonly share: number | undefined
}

/** Every circuit that hosts are on, with its load; hosts that are retired draw nothing. */
export function circuitLoads(estate: Estate): readonly CircuitLoad[] {
  const hanging = estate.all('host').filter(({ circuit, state, kind }) => circuit && state !== 'retired' && kind !== 'nested')
  return [...groupBy(hanging, ({ site, circuit }) => `${site}\n${circuit ?? ''}`)].map(([key, hosts]) => {
    const [site = '', circuit = ''] = key.split('\n')
    const ratings = hosts.flatMap(({ circuitVolts, circuitAmps }) => (circuitVolts && circuitAmps ? [circuitVolts * circuitAmps] : []))
    const watts = hosts.reduce((sum, { drawWatts }) => sum + (drawWatts ?? 0), 0)
    // Where hosts disagree on the rating, the smallest counts.
    const ratedWatts = ratings.length > 0 ? Math.min(...ratings) : undefined
    return {
      circuit,
      site,
      hosts,
      watts,
      unknown: hosts.filter(({ drawWatts }) => drawWatts === null),
      ratedWatts,
      share: ratedWatts === undefined ? undefined : watts / ratedWatts,
    }
  })
}
