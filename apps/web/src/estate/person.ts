import type { Estate, Person } from '@insel/core'
import { useCallback, useState } from 'react'
import { readStored, store } from '../lib/storage'

/** Who records on this browser: remembered for each estate, and nobody where the record no longer knows the person. */
export function usePerson(estateId: string): { personIn(recorded: Estate): Person | undefined; setPerson(id: string): void } {
  const [personId, keep] = useState(() => readStored<string>(`person.${estateId}`))
  const setPerson = useCallback(
    (id: string) => {
      store(`person.${estateId}`, id)
      keep(id)
    },
    [estateId],
  )
  const personIn = useCallback((recorded: Estate) => recorded.find('person', personId), [personId])
  return { personIn, setPerson }
}
