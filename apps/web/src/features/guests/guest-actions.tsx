import { type Guest, type GuestState, statesAfter } from '@insel/core'
import { mayRecord, useEstate, whyReadOnly } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Trouble } from '../../ui/page'

/** What can be done with a guest; nothing while it is shown otherwise than recorded. */
export function GuestActions({ guest }: { guest: Guest }) {
  const { basis } = useEstate()
  return mayRecord(basis) ? <Actions guest={guest} /> : <p className="text-soft text-dense max-w-56">{whyReadOnly(basis)}</p>
}

/** What a change of state is called. */
const verbs: Readonly<Record<GuestState, string>> = {
  planned: 'Record as planned',
  'being copied': 'Record as being copied',
  'being installed': 'Record as being installed',
  running: 'Record as running',
  stopped: 'Record as stopped',
  retired: 'Retire',
}

function Actions({ guest }: { guest: Guest }) {
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const next =
    guest.kind === 'template'
      ? []
      : statesAfter(guest.state).filter((state) => guest.kind === 'machine' || state === 'running' || state === 'stopped')
  // The usual actions come first; retiring is offered only from stopped.
  const offered = next.filter((state) => (state === 'retired' ? guest.state === 'stopped' : true))
  const goTo = (state: GuestState) =>
    record(
      state === 'running' || state === 'stopped'
        ? guest.state === 'retired' || guest.state === 'being installed'
          ? [{ type: 'guest.update', id: guest.id, changes: { state } }]
          : [{ type: 'guest.power', guestId: guest.id, state }]
        : [{ type: 'guest.update', id: guest.id, changes: { state } }],
    )
  return (
    <div>
      <div className="flex flex-wrap gap-2">
        {guest.kind !== 'external' && (
          <ButtonLink look="primary" to={to(`guests/${guest.id}/clone`)}>
            Clone
          </ButtonLink>
        )}
        <ButtonLink look="primary" to={to(`guests/${guest.id}/migrate`)}>
          Migrate
        </ButtonLink>
        {offered.map((state) => (
          <Button key={state} onClick={() => void goTo(state)}>
            {verbs[state]}
          </Button>
        ))}
        <ButtonLink to={to(`guests/exchange?guest=${guest.id}`)}>Export</ButtonLink>
        <ButtonLink to={to(`records/guest/${guest.id}`)}>Change</ButtonLink>
      </div>
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}
