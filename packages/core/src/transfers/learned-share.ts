import tQuantile from '@stdlib/stats-base-dists-t-quantile'

/** What is believed of the share of its slowest limit that a transfer reaches: its logarithm is Student-t distributed, and it is at most 1. */
export interface LearnedShare {
  /** Of the natural logarithm of the share. */
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
 * The share of the limit that transfers reach, as own ones sharpen it: a normal-inverse-gamma prior around all of it, worth four transfers,
 * and the shares that were measured; the next one is then Student-t. Gelman et al., Bayesian Data Analysis, section 3.3: the conjugate
 * prior of a normal with unknown mean and variance.
 *
 * @param measured own transfers' bytes a second over those of the slowest that they passed; one above 1 says that the limit is recorded
 * too low, and counts as 1
 * @example shareOf(learnedShare([]), 0.5) // 1
 */
export function learnedShare(measured: readonly number[]): LearnedShare {
  const logs = measured.filter((share) => share > 0 && Number.isFinite(share)).map((share) => Math.min(0, Math.log(share)))
  const count = logs.length
  const mean = count === 0 ? 0 : logs.reduce((sum, log) => sum + log, 0) / count
  const kappa = PRIOR_COUNT + count
  const alpha = PRIOR_COUNT / 2 + count / 2
  const spread = logs.reduce((sum, log) => sum + (log - mean) ** 2, 0)
  const beta = (PRIOR_COUNT / 2) * PRIOR_SPREAD ** 2 + spread / 2 + (PRIOR_COUNT * count * mean ** 2) / (2 * kappa)
  return {
    location: (count * mean) / kappa,
    scale: Math.sqrt((beta * (kappa + 1)) / (alpha * kappa)),
    degreesOfFreedom: 2 * alpha,
    count,
  }
}

/**
 * The share that the next transfer stays below with a probability; never more than the whole.
 *
 * @param p between 0 and 1
 */
export const shareOf = ({ location, scale, degreesOfFreedom }: LearnedShare, p: number): number =>
  Math.min(1, Math.exp(location + scale * (p === 0.5 ? 0 : tQuantile(p, degreesOfFreedom))))
