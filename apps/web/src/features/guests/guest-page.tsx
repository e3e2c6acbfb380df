import { adaptersOf, disksOf, type Guest, printSpecLine, specOf } from '@insel/core'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { ButtonLink } from '../../ui/button'
import { Part } from '../../ui/page'
import { FindingsOf } from '../findings/findings-of'
import { History } from '../logbook/history'
import { GuestActions } from './guest-actions'
import { GuestAdapters } from './guest-adapters'
import { GuestDependencies } from './guest-dependencies'
import { GuestDisks } from './guest-disks'
import { GuestFacts } from './guest-facts'
import { GuestFrame } from '../frames/guest-frame'
import { GuestIdentity } from './guest-identity'
import { GuestPlaces } from './guest-places'
import { MachineDetails } from './machine-details'
import { Snapshots } from './snapshots'

/** One guest: what it is, its disks, adapters and addresses, findings, history, and what can be done with it. */
export function GuestPage() {
  return (
    <GuestFrame actions={(guest) => <GuestActions guest={guest} />} more={(guest) => <SpecOf guest={guest} />}>
      {(guest) => <Overview guest={guest} />}
    </GuestFrame>
  )
}

function SpecOf({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  return (
    <>
      <p className="font-mono text-dense mt-1.5 bg-sheet border border-line rounded-md px-2 py-1 w-fit max-w-full break-words select-all">
        {printSpecLine(specOf(estate, guest))}
      </p>
      {guest.note && <p className="mt-1 max-w-[70ch] whitespace-pre-wrap wrap-anywhere">{guest.note}</p>}
    </>
  )
}

function Overview({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const adapters = adaptersOf(estate, guest.id)
  const disks = disksOf(estate, guest.id)
  const addresses = adapters.flatMap((adapter) => estate.referring('address', 'adapterId', adapter.id))
  const snapshots = estate.referring('snapshot', 'guestId', guest.id)
  return (
    <div className="beside">
      <div>
        <Part
          title="Disks"
          aside={
            <ButtonLink
              look="quiet"
              className="!min-h-7"
              to={to(`records/disk/new?guestId=${guest.id}&position=${disks.length + 1}&use=data`)}
            >
              Add disk
            </ButtonLink>
          }
        >
          <GuestDisks disks={disks} guest={guest} />
        </Part>
        <GuestAdapters guest={guest} adapters={adapters} />
        <MachineDetails guest={guest} />
        <Snapshots guest={guest} snapshots={snapshots} />
        <GuestDependencies guest={guest} />
        <History id={guest.id} writesAbout="guest" />
      </div>
      <div>
        <GuestFacts guest={guest} />
        <GuestIdentity guest={guest} />
        <FindingsOf
          ids={[
            guest.id,
            ...disks.map((d) => d.id),
            ...adapters.map((a) => a.id),
            ...addresses.map((a) => a.id),
            ...snapshots.map((one) => one.id),
          ]}
        />
        {guest.kind !== 'external' && <GuestPlaces guest={guest} />}
      </div>
    </div>
  )
}
