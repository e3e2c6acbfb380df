import tQuantile from '@stdlib/stats-base-dists-t-quantile'

/** What is believed of a rate: its logarithm is Student-t distributed. */
export interface LearnedRate {
  /** Of the natural logarithm of bytes a second. */
  readonly location: number
  readonly scale: number
  readonly degreesOfFreedom: number
  /** How many own transfers stand behind it. */
  readonly count: number
}

/** A prior counts for as many own transfers. */
export const PRIOR_COUNT = 4
/** How much rates of one sort differ before any were measured, of the natural logarithm: within a factor of 2 nine times in ten. Common practice, no source. */
const PRIOR_SPREAD = 0.4

/**
 * A rate as own transfers sharpen it: a normal-inverse-gamma prior around the usual rate, worth four transfers, and the rates that were
 * measured; the next one is then Student-t. Gelman et al., Bayesian Data Analysis, section 3.3: the conjugate prior of a normal with
 * unknown mean and variance.
 *
 * @param usual bytes a second, by common practice
 * @param measured bytes a second of own transfers of the same sort
 * @example rateOf(learnedRate(110e6, []), 0.5) // 110e6
 */
export function learnedRate(usual: number, measured: readonly number[]): LearnedRate {
  const logs = measured.filter((rate) => rate > 0 && Number.isFinite(rate)).map(Math.log)
  const [count, prior] = [logs.length, Math.log(usual)]
  const mean = count === 0 ? prior : logs.reduce((sum, log) => sum + log, 0) / count
  const kappa = PRIOR_COUNT + count
  const alpha = PRIOR_COUNT / 2 + count / 2
  const spread = logs.reduce((sum, log) => sum + (log - mean) ** 2, 0)
  const beta = (PRIOR_COUNT / 2) * PRIOR_SPREAD ** 2 + spread / 2 + (PRIOR_COUNT * count * (mean - prior) ** 2) / (2 * kappa)
  return {
    location: (PRIOR_COUNT * prior + count * mean) / kappa,
    scale: Math.sqrt((beta * (kappa + 1)) / (alpha * kappa)),
    degreesOfFreedom: 2 * alpha,
    count,
  }
}

/**
 * The rate that the next transfer stays below with a probability.
 *
 * @param p between 0 and 1
 */
export const rateOf = ({ location, scale, degreesOfFreedom }: LearnedRate, p: number): number =>
  Math.exp(location + scale * (p === 0.5 ? 0 : tQuantile(p, degreesOfFreedom)))
