import { useQuery, type QueryFunctionContext } from '@tanstack/react-query'
import { useEstate, type Basis } from '.'
import { keyOfBasis, type BasisNamed, named } from '../basis/basis'

/** How an answer is kept. */
export interface Kept {
  /** Of another basis than the one that is shown. */
  readonly on?: Basis | undefined
  /** How long it is kept once nobody shows it, milliseconds; 10 s where nothing is said. */
  readonly keptMs?: number
  /** While nothing is asked nothing is shown; otherwise the answer before stays. */
  readonly isClearedBetween?: boolean
}

/**
 * An answer of the checks about the estate as it is shown; until the next is there, the one before is shown.
 *
 * @param key what tells the question from others, its name first
 * @param ask nothing is asked while undefined
 */
export function useAnswer<T>(
  key: readonly unknown[],
  ask: ((basis: BasisNamed, query: QueryFunctionContext) => Promise<T>) | undefined,
  { on, keptMs = 10_000, isClearedBetween = false }: Kept = {},
) {
  const { estateId, revision, basis } = useEstate()
  const asked = on ?? basis
  return useQuery<T>({
    queryKey: ['checks', estateId, revision, keyOfBasis(asked), ...key],
    queryFn: async (query) => {
      if (!ask) throw new Error('Nothing is asked.')
      return ask(named(asked), query)
    },
    enabled: ask !== undefined,
    placeholderData: (before) => (ask || !isClearedBetween ? before : undefined),
    staleTime: Infinity,
    gcTime: keptMs,
    structuralSharing: false,
  })
}
