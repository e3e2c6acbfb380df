const inWords = new Intl.Collator('en', { numeric: true })

/** The order of names as people count: host-2 before host-10. @example ['b10', 'b2'].sort(compareNames) // ['b2', 'b10'] */
export const compareNames = (a: string, b: string): number => inWords.compare(a, b)

/** Things that have a name, in the order of their names. @example inNameOrder(estate.all('host')) */
export const inNameOrder = <T extends { readonly name: string }>(list: Iterable<T>): T[] =>
  [...list].sort((a, b) => inWords.compare(a.name, b.name))

/** Things put together by a key, groups and members in the order in which they come. @example groupBy(hosts, ({ site }) => site).get('mast') */
export function groupBy<T, K>(list: Iterable<T>, keyOf: (item: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>()
  for (const item of list) {
    const key = keyOf(item)
    const group = groups.get(key)
    if (group) group.push(item)
    else groups.set(key, [item])
  }
  return groups
}

/**
 * What is worked out once for each thing, and kept for as long as that is: a record that changes is another.
 *
 * @example const prefixOf = oncePer((subnet: Subnet) => parsePrefix(subnet.prefix))
 */
export function oncePer<K extends object, V>(workOut: (of: K) => V): (of: K) => V {
  const known = new WeakMap<K, { readonly value: V }>()
  return (of) => {
    let found = known.get(of)
    if (!found) known.set(of, (found = { value: workOut(of) }))
    return found.value
  }
}

/** The value in the middle, or between the two in the middle; undefined of nothing. @example median([9, 1, 2]) // 2 */
export function median(values: readonly number[]): number | undefined {
  const sorted = Float64Array.from(values).sort()
  const middle = (sorted.length - 1) / 2
  const [low, high] = [sorted[Math.floor(middle)], sorted[Math.ceil(middle)]]
  return low === undefined || high === undefined ? undefined : (low + high) / 2
}

/** How bad something is, the worst first. */
export const severities = ['error', 'warning', 'notice'] as const
export type Severity = (typeof severities)[number]

/** The order of things by how bad they are, the worst first. */
export const bySeverity = (a: { readonly severity: Severity }, b: { readonly severity: Severity }): number =>
  severities.indexOf(a.severity) - severities.indexOf(b.severity)
