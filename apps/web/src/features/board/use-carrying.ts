import type { MigrationProposal } from '@insel/core'
import { useCallback, useEffect, useMemo, useState } from 'react'
import { refusedBy, say, useEstate, whyReadOnly } from '../../estate'

/** A guest on its way to another host, by pointer or by keys; nothing is planned before it is put down. */
export interface Carrying {
  readonly guestId: string | undefined
  readonly overHostId: string | undefined
  readonly proposal: MigrationProposal | undefined
  /** Whether it was put down on a host, and waits for a choice: record the migration, or plan it. */
  readonly isDown: boolean
  lift(guestId: string, overHostId?: string): void
  over(hostId: string | undefined): void
  /** Puts it down; what cannot be done is said, and the guest stays where it is. */
  drop(): void
  putBack(): void
}

const loadPropose = async () => (await import('./propose')).proposeMigration

export function useCarrying(): Carrying {
  const { estate, revision, basis } = useEstate()
  const [guestId, setGuestId] = useState<string>()
  const [overHostId, setOverHostId] = useState<string>()
  const [isDown, setDown] = useState(false)

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
      setDown(false)
      setGuestId(id)
      setOverHostId(hostId)
    },
    [why],
  )
  const putBack = useCallback(() => {
    setGuestId(undefined)
    setOverHostId(undefined)
    setDown(false)
  }, [])
  const drop = useCallback(() => {
    const refusal = proposal && refusedBy(estate, [proposal.command], revision)
    if (refusal) say({ sentence: `Not possible: ${refusal.sentence}`, isTrouble: true })
    // What proposes is still being fetched: it stays in the hand.
    if (!proposal && !proposeMigration) return
    if (proposal && !refusal) setDown(true)
    else putBack()
  }, [proposal, proposeMigration, estate, revision, putBack])
  const over = useCallback(
    (hostId: string | undefined) => {
      if (!isDown) setOverHostId(hostId)
    },
    [isDown],
  )
  return { guestId, overHostId, proposal, isDown, lift, over, drop, putBack }
}
