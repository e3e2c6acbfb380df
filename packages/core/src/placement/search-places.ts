/** What is to be placed, with its demands as numbers. */
export interface Placed {
  readonly memoryMiB: number
  readonly cores: number
  /** Disks that have to be restored where it goes to a host, bytes; none of those that the host reaches where they are. */
  readonly restoredOn: (host: number) => readonly number[]
  /** Whether it has disks at all: then a host without a store is no place. */
  readonly needsStore: boolean
  /** Whether a host carries its networks. */
  readonly isCarried: (host: number) => boolean
}

/** The hosts it may go to, and what each has left; the search changes it and puts it back. */
export interface Places {
  /** In the order in which they are tried. */
  readonly hosts: readonly number[]
  readonly memoryMiB: Float64Array
  readonly cores: Float64Array
  /** What a guest takes of a host's memory, with its overhead. */
  readonly cost: (host: number, memoryMiB: number) => number
  readonly stores: readonly (readonly number[])[]
  readonly free: Float64Array
}

/**
 * Looks for a place for every one of some guests at once, and for every one of their disks: depth first, what takes most first. Where it
 * ends before it has looked at everything, it does not know.
 *
 * @param items the largest first
 * @param stepsMax how many hosts and stores are tried at most
 * @returns whether there is such a placing: `there is none` is certain, `unknown` is not
 * @see E. G. Coffman, M. R. Garey, D. S. Johnson, “Approximation algorithms for bin packing” (1996), for why an order of placing can miss one
 */
export function searchPlaces(items: readonly Placed[], places: Places, stepsMax: number): 'there is one' | 'there is none' | 'unknown' {
  const { hosts, memoryMiB, cores, cost, stores, free } = places
  const wanted = items.map(() => ({ memoryMiB: 0, cores: 0 }))
  for (let at = items.length - 1, sum = { memoryMiB: 0, cores: 0 }; at >= 0; at--) {
    sum = { memoryMiB: sum.memoryMiB + (items[at]?.memoryMiB ?? 0), cores: sum.cores + (items[at]?.cores ?? 0) }
    wanted[at] = sum
  }
  let steps = 0
  const isOver = () => ++steps > stepsMax
  const sumOf = (of: Float64Array) => hosts.reduce((sum, host) => sum + Math.max(0, of[host] ?? 0), 0)
  let [memoryInAll, coresInAll] = [sumOf(memoryMiB), sumOf(cores)]

  const place = (at: number): boolean => {
    const item = items[at]
    const rest = wanted[at]
    if (!item || !rest) return true
    // More than all of them have together: no placing helps.
    if (rest.memoryMiB > memoryInAll || rest.cores > coresInAll + 1e-9) return false
    for (const host of hosts) {
      const takes = cost(host, item.memoryMiB)
      if (!item.isCarried(host) || (memoryMiB[host] ?? 0) < takes || (cores[host] ?? 0) < item.cores) continue
      if (isOver()) return false
      memoryMiB[host] = (memoryMiB[host] ?? 0) - takes
      cores[host] = (cores[host] ?? 0) - item.cores
      memoryInAll -= takes
      coresInAll -= item.cores
      const own = stores[host] ?? []
      const disks = item.restoredOn(host).toSorted((a, b) => b - a)
      if ((own.length > 0 || !item.needsStore) && restore(disks, 0, own, () => place(at + 1))) return true
      memoryMiB[host] = (memoryMiB[host] ?? 0) + takes
      cores[host] = (cores[host] ?? 0) + item.cores
      memoryInAll += takes
      coresInAll += item.cores
      if (steps > stepsMax) return false
    }
    return false
  }

  const restore = (disks: readonly number[], at: number, own: readonly number[], then: () => boolean): boolean => {
    const bytes = disks[at]
    if (bytes === undefined) return then()
    for (const store of own) {
      const left = free[store] ?? 0
      if (left < bytes) continue
      if (isOver()) return false
      free[store] = left - bytes
      if (restore(disks, at + 1, own, then)) return true
      free[store] = left
      if (steps > stepsMax) return false
    }
    return false
  }

  if (place(0)) return 'there is one'
  return steps > stepsMax ? 'unknown' : 'there is none'
}
