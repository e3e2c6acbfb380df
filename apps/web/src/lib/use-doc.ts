import { kinds, type Kind, type KindDefinition } from '@insel/core'
import { useQuery } from '@tanstack/react-query'

type Docs = Readonly<Record<Kind, Pick<KindDefinition, 'doc' | 'fields'>>>

/** What a kind, or a field of it, is for; nothing until that is there, which is a moment after the form. */
export function useDocs(): (kind: Kind, field?: string) => string | undefined {
  const { data } = useQuery({
    queryKey: ['kind docs'],
    queryFn: async (): Promise<Docs> => (await import('./kind-docs')).kinds,
    staleTime: Infinity,
    gcTime: Infinity,
    // Where nothing was taken out, as in a test, it is there at once.
    initialData: 'doc' in kinds.guest ? (kinds as Docs) : undefined,
  })
  return (kind, field) => (field === undefined ? data?.[kind].doc : data?.[kind].fields?.[field]?.doc)
}
