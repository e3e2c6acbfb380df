import { referencesOf, type Estate, type Kind, type RecordOf } from '../estate/index.js'

/**
 * Records of another kind whose change makes a rule look again, and at which subjects.
 *
 * @param changed the fields that changed, or undefined where the record was added or removed
 */
export type RecheckOn = {
  readonly [C in Kind]?: (estate: Estate, record: RecordOf<C>, changed: readonly string[] | undefined) => readonly string[] | 'all'
}

/** One way from a record to others: along a reference of its own, or back along one that others have to it. */
interface Step {
  readonly from: Kind
  readonly to: Kind
  readonly field: string
  readonly isOwn: boolean
}

/**
 * A path of references as rules write it: from the subject along its own fields (`> hostId > platformId`) and back along those of others
 * (`< disk.guestId`), in any order.
 *
 * @throws Error where a step follows nothing
 */
function stepsOf(subject: Kind, path: string): readonly Step[] {
  let at = subject
  return path.split(/ (?=[<>])/).map((text): Step => {
    const [sign, name = ''] = text.split(' ')
    const [kind, field] = sign === '<' ? (name.split('.') as [Kind, string]) : [at, name]
    const reference = referencesOf(kind).find((one) => one.field === field)
    const isKnown = sign === '<' ? reference?.to === at : sign === '>' && reference !== undefined
    if (!reference || !isKnown) throw new Error(`${subject}: “${path}” follows nothing at “${text}”`)
    const step = { from: at, to: sign === '<' ? kind : reference.to, field, isOwn: sign === '>' }
    at = step.to
    return step
  })
}

/** The records from which a step leads to one: those that refer to it, or the one that it refers to. */
const before = (estate: Estate, { from, field, isOwn }: Step, record: { readonly id: string }): readonly { readonly id: string }[] => {
  if (isOwn) return estate.referring(from, field as never, record.id)
  const value = (record as unknown as Readonly<Record<string, string | readonly string[] | null | undefined>>)[field] ?? []
  // One that is gone is still who it was.
  return [value].flat().map((id) => estate.find(from, id) ?? { id })
}

/**
 * Which subjects look again when something changes that stands at the end of a path: the path walked back.
 *
 * @param paths what a rule reads, from its subject on; each counts for the records at its end alone
 * @example againAlong('guest', ['> hostId']).host?.(estate, gannet, ['memoryMiB']) // ids of the guests on gannet
 */
export function againAlong(subject: Kind, paths: readonly string[]): RecheckOn {
  const along = new Map<Kind, (readonly Step[])[]>()
  for (const path of paths) {
    const steps = stepsOf(subject, path)
    const kind = steps.at(-1)?.to ?? subject
    along.set(kind, [...(along.get(kind) ?? []), steps])
  }
  return Object.fromEntries(
    [...along].map(([kind, ways]) => [
      kind,
      (estate: Estate, record: { readonly id: string }): readonly string[] =>
        ways.flatMap((steps) =>
          steps
            .reduceRight<readonly { readonly id: string }[]>(
              (reached, step) => reached.flatMap((one) => before(estate, step, one)),
              [record],
            )
            .map(({ id }) => id),
        ),
    ]),
  )
}

/** Two answers to what looks again, as one. */
export function bothAgain(one: RecheckOn, other: RecheckOn): RecheckOn {
  const kinds = new Set([...Object.keys(one), ...Object.keys(other)]) as Set<Kind>
  return Object.fromEntries(
    [...kinds].map((kind) => {
      const [first, second] = [one[kind], other[kind]] as readonly (
        ((...given: readonly unknown[]) => readonly string[] | 'all') | undefined
      )[]
      if (!first || !second) return [kind, first ?? second]
      return [
        kind,
        (...given: readonly unknown[]) => {
          const [ids, more] = [first(...given), second(...given)]
          return ids === 'all' || more === 'all' ? 'all' : [...ids, ...more]
        },
      ]
    }),
  )
}
