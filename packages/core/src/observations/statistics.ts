import { median } from '../lists/index.js'
/**
 * A percentile, with values between two ranks on the straight line between them.
 *
 * @param sorted values in ascending order
 * @param p from 0 to 1
 * @returns undefined of nothing
 * @see Hyndman and Fan 1996, definition 7
 * @example percentile([1, 2, 3, 4], 0.5) // 2.5
 */
export function percentile(sorted: ArrayLike<number>, p: number): number | undefined {
  if (sorted.length === 0) return undefined
  const rank = (sorted.length - 1) * p
  const low = Math.floor(rank)
  const [a, b] = [sorted[low] ?? 0, sorted[Math.min(low + 1, sorted.length - 1)] ?? 0]
  return a + (b - a) * (rank - low)
}

/** A slope through points. */
export interface Slope {
  /** Change of y for one x. */
  readonly perX: number
  /** y at x = 0 on the line through the medians. */
  readonly at0: number
}

/** Points beyond which only an even choice of them is used: pairs grow with the square. */
const POINTS_MAX = 400

/**
 * The Theil-Sen slope: the median of the slopes between all pairs of points. A third of the points may be wild and it holds.
 *
 * @param points x and y; at least two different x
 * @returns undefined where there is no slope
 * @see Sen 1968, J. Am. Stat. Assoc. 63, 1379-1389
 * @example theilSen([[0, 1], [1, 3], [2, 5]])?.perX // 2
 */
export function theilSen(points: readonly (readonly [x: number, y: number])[]): Slope | undefined {
  const used =
    points.length <= POINTS_MAX
      ? points
      : Array.from(
          { length: POINTS_MAX },
          (_, index) => points[Math.round((index * (points.length - 1)) / (POINTS_MAX - 1))] ?? ([0, 0] as const),
        )
  const slopes: number[] = []
  for (let i = 0; i < used.length; i++)
    for (let j = i + 1; j < used.length; j++) {
      const [a, b] = [used[i] ?? ([0, 0] as const), used[j] ?? ([0, 0] as const)]
      if (a[0] !== b[0]) slopes.push((b[1] - a[1]) / (b[0] - a[0]))
    }
  if (slopes.length === 0) return undefined
  const sorted = Float64Array.from(slopes).sort()
  const perX = percentile(sorted, 0.5) ?? 0
  return {
    perX,
    at0: (median(used.map(([, y]) => y)) ?? 0) - perX * (median(used.map(([x]) => x)) ?? 0),
  }
}
