import { demandOf, type Guest } from '@insel/core'
import { useMemo, useState } from 'react'
import { usePlaces } from '../../estate/checks'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Places } from '../placement/places'

/** Where a recorded guest could go: every other host, ranked with reasons. Asked for by a press, as it looks at all hosts. */
export function GuestPlaces({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const [isAsked, setAsked] = useState(false)
  const demand = useMemo(() => (isAsked ? demandOf(estate, guest) : undefined), [estate, guest, isAsked])
  const places = usePlaces(demand)
  if (!isAsked)
    return (
      <Button className="mb-6" onClick={() => setAsked(true)}>
        Possible hosts
      </Button>
    )
  return <Places places={(places.data ?? []).filter(({ hostId }) => hostId !== guest.hostId)} isAsked chosen="" />
}
