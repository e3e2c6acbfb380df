import type { MigrationProposal } from '@insel/core'
import { useCallback, useEffect, useMemo, useState } from 'react'
import { refusedBy, say, useEstate, whyReadOnly } from '../../estate'

/** A guest on its way to another host, by pointer or by keys; nothing is drafted before it is put down. */
export interface Carrying {
  readonly guestId: string | undefined
  readonly overHostId: string | undefined
  readonly proposal: MigrationProposal | undefined
  lift(guestId: string, overHostId?: string): void
  over(hostId: string | undefined): void
  /** Adds the migration to the plan. */
  drop(): void
  putBack(): void
}

const loadPropose = async () => (await import('./propose')).proposeMigration

export function useCarrying(): Carrying {
  const { estate, revision, basis, addToPlan } = useEstate()
  const [guestId, setGuestId] = useState<string>()
  const [overHostId, setOverHostId] = useState<string>()

  const [proposeMigration, setPropose] = useState<(typeof import('./propose'))['proposeMigration']>()
  useEffect(() => void loadPropose().then((propose) => setPropose(() => propose)), [])

  const proposal = useMemo(() => {
    const [guest, host] = [estate.find('guest', guestId), estate.find('host', overHostId)]
    return guest && host && guest.hostId !== host.id ? proposeMigration?.(estate, guest, host) : undefined
  }, [estate, guestId, overHostId, proposeMigration])

  const why = whyReadOnly(basis)
  const lift = useCallback(
    (id: string, hostId?: string) => {
      if (why) return say({ sentence: why, isTrouble: true })
      setGuestId(id)
      setOverHostId(hostId)
    },
    [why],
  )
  const putBack = useCallback(() => {
    setGuestId(undefined)
    setOverHostId(undefined)
  }, [])
  const drop = useCallback(() => {
    if (proposal) {
      const refusal = refusedBy(estate, [proposal.command], revision)
      if (refusal) say({ sentence: `Not drafted: ${refusal.sentence}`, isTrouble: true })
      else
        void addToPlan([proposal.command]).then((why) => {
          if (why) say({ sentence: `Not added: ${why.sentence}`, isTrouble: true })
        })
    }
    putBack()
  }, [proposal, estate, revision, addToPlan, putBack])
  return { guestId, overHostId, proposal, lift, over: setOverHostId, drop, putBack }
}
