import { demandOf, disksOf, kinds, type Command } from '@insel/core'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { usePlaces } from '../../checks/checks'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { useKey } from '../../lib/keys'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { HostChoice } from '../placement/host-choice'
import { Mark } from '../findings/mark'
import { Page } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { inputValue } from '../records/field-text'

/** `web-3` after `web-1` and `web-2`: the name with the first number that is free. */
function nextName(base: string, isTaken: (name: string) => boolean): string {
  const stem = base
    .replace(/^tpl-/, '')
    .replace(/(?<!\d)\d+$/, '')
    .replace(/-$/, '')
  for (let number = 1; ; number++) if (!isTaken(`${stem}-${number}`)) return `${stem}-${number}`
}

/** One copy of a guest or template: its name and place, and the exact difference before it is estate. */
export function ClonePage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const guest = estate.find('guest', id)
  const [cloneId] = useState(newId)
  const [name, setName] = useState(() => (guest ? nextName(guest.name, (one) => estate.byKey('guest', { name: one }).length > 0) : ''))
  const [hostId, setHostId] = useState(guest?.hostId ?? '')
  const demand = useMemo(
    () => (guest ? { ...demandOf(estate, guest), kind: 'machine' as const, isRunning: false } : undefined),
    [estate, guest],
  )
  const places = usePlaces(demand)
  const fit = places.data?.find((one) => one.hostId === hostId)
  const reading = inputValue(kinds.guest.fields.name, name)
  const commands = useMemo((): Command[] | undefined => {
    if (!guest || !('value' in reading) || !hostId) return undefined
    const disks = disksOf(estate, guest.id)
    const stores =
      hostId === guest.hostId
        ? undefined
        : Object.fromEntries(disks.flatMap((disk, index) => (fit?.stores[index] ? [[disk.id, fit.stores[index].id]] : [])))
    return [{ type: 'guest.clone', id: cloneId, guestId: guest.id, name, hostId, ...(stores ? { stores } : {}) }]
    // oxlint-disable-next-line react/exhaustive-deps -- the reading follows from the name
  }, [guest, name, hostId, fit, estate, cloneId])
  const proposal = useProposal({ commands, recorded: () => go(to(`guests/${cloneId}`)), planAt: 'board' })
  useKey('mod+Enter', () => void proposal.record())
  if (!guest) return <RemovedPage kind="guest" id={id} />
  return (
    <Page
      title={`Clone ${guest.name}`}
      about="The copy gets its own name, ids and MACs, and no address. It is estate as a copy of the original."
    >
      <form
        className="beside"
        onSubmit={(event) => {
          event.preventDefault()
          void proposal.record()
        }}
      >
        <div>
          {!guest.isGeneralised && (
            <p className="flex gap-2 items-baseline mb-3">
              <Mark of="warning" /> {guest.name} is not generalised: the copy starts with its machine name, machine-id and host keys.
              Generalise the original first, or the copy on its first, isolated boot.
            </p>
          )}
          <label className="block mb-1" htmlFor="clone-name">
            Name of the copy
          </label>
          <input
            id="clone-name"
            className="field font-mono max-w-72"
            value={name}
            aria-invalid={'sentence' in reading}
            aria-describedby="clone-name-about"
            autoFocus
            onChange={(event) => setName(event.target.value)}
          />
          <p id="clone-name-about" className="text-error text-dense min-h-7">
            {'sentence' in reading ? reading.sentence : ''}
          </p>
          <HostChoice legend="Target host" fits={places.data ?? []} chosen={hostId} choose={setHostId} />
          <ProposalFooter proposal={proposal} label={`Clone ${guest.name}`} isReady={commands !== undefined} isForm />
        </div>
        <div>
          <Effect commands={commands} />
        </div>
      </form>
    </Page>
  )
}
