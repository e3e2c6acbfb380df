/** One transfer and what it passes: links, stores that are read or written, a limit of its own. */
export interface Flow {
  readonly id: string
  /** The resources that it passes, each shared with the other transfers that pass it. */
  readonly through: readonly string[]
  /** The most that its method can do, bytes a second. */
  readonly most: number
}

/**
 * How fast transfers go that share links and stores: fairly, so that none can be faster without one that is no faster becoming slower
 * (max-min fairness, by progressive filling: Bertsekas and Gallager, Data Networks, section 6.5.2).
 *
 * @param capacities what each resource can do, bytes a second; one that is not named has no limit
 * @returns bytes a second, by the id of the transfer
 * @example fairShares([{ id: 'a', through: ['link'], most: Infinity }, { id: 'b', through: ['link'], most: 30 }], new Map([['link', 100]])).get('a') // 70
 */
export function fairShares(flows: readonly Flow[], capacities: ReadonlyMap<string, number>): ReadonlyMap<string, number> {
  const rates = new Map<string, number>()
  const left = new Map(capacities)
  let open = flows.map((flow) => ({ ...flow, through: [...new Set(flow.through)].filter((name) => capacities.has(name)) }))
  while (open.length > 0) {
    const count = new Map<string, number>()
    for (const { through } of open) for (const name of through) count.set(name, (count.get(name) ?? 0) + 1)
    // How much further all of them can go together before a resource is full or one of them is at its most.
    const levels = [...count].map(([name, flowsThrough]) => ({ name, each: Math.max(0, left.get(name) ?? Infinity) / flowsThrough }))
    const first = Math.min(...levels.map(({ each }) => each), ...open.map(({ most }) => most))
    if (first === Infinity) {
      for (const { id } of open) rates.set(id, Infinity)
      return rates
    }
    const full = new Set(levels.filter(({ each }) => each <= first * (1 + 1e-12)).map(({ name }) => name))
    const isDone = ({ most, through }: Flow) => most <= first * (1 + 1e-12) || through.some((name) => full.has(name))
    for (const { id } of open.filter(isDone)) rates.set(id, first)
    for (const { through } of open.filter(isDone)) for (const name of through) left.set(name, (left.get(name) ?? 0) - first)
    open = open.filter((flow) => !isDone(flow))
  }
  return rates
}
