import { compareGuest, takeOverGuest, type Guest } from '@insel/core'
import { useMemo } from 'react'
import { FoundView } from '../found/found-view'
import { type FoundWork } from '../found/found-work'
import { GuestFrame } from '../frames/guest-frame'

/** Planned beside found inside a guest: pasted, dropped, or collected there. */
export function GuestFoundPage() {
  return <GuestFrame>{(guest) => <Found key={guest.id} guest={guest} />}</GuestFrame>
}

function Found({ guest }: { guest: Guest }) {
  const work = useMemo(
    (): FoundWork => ({
      of: { guestId: guest.id },
      name: guest.name,
      compare: (estate, found) => compareGuest(estate, guest, found),
      takeOver: (estate, lines, all) => takeOverGuest(estate, guest, lines, all),
    }),
    [guest],
  )
  return <FoundView work={work} />
}
