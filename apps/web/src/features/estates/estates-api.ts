import { ESTATE_TYPE, type EstateRemoved, type EstateSummary } from '@insel/contract'
import { call, post, ProblemResponse, Unreachable } from '../../lib/api'

/** What the server does with whole estates. */
export const estatesApi = {
  list: () => call<EstateSummary[]>('/estates'),
  create: (body: { name: string; recordedAs: string; timeZone: string }) => post<EstateSummary & { personId: string }>('/estates', body),
  /** A new estate of a file; or everything that is wrong with the file. */
  import: async (file: File, name = ''): Promise<EstateSummary | { readonly problems: readonly string[] }> => {
    try {
      return await call<EstateSummary>(`/estates/import${name ? `?${new URLSearchParams({ name })}` : ''}`, {
        method: 'POST',
        headers: { 'content-type': ESTATE_TYPE },
        body: file,
      })
    } catch (error) {
      if (error instanceof Unreachable) return { problems: [error.message] }
      if (!(error instanceof ProblemResponse)) throw error
      return { problems: error.problem.errors.length > 0 ? error.problem.errors.map(({ message }) => message) : [error.message] }
    }
  },
  remove: (estateId: string, name: string) =>
    call<EstateRemoved>(`/estates/${estateId}?${new URLSearchParams({ name })}`, { method: 'DELETE' }),
}
