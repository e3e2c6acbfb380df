import {
  docOf,
  checkDevices,
  type Command,
  composeGuest,
  demandOfDraft,
  type Estate,
  formatMiB,
  type GuestDraft,
  type IdMaker,
  probablyMeant,
  guestLineOptions,
  readSpecLine,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { usePlaces } from '../../estate/checks'
import { useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { useKey } from '../../lib/keys'
import { usePaths } from '../../lib/paths'
import { useDraft } from '../../lib/use-draft'
import { useGo } from '../../lib/use-go'
import { ButtonLink } from '../../ui/button'
import { Effect, UnreadContext } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { Empty, Page } from '../../ui/page'
import { DraftOffer } from '../records/draft-offer'
import { SpecInput } from '../lines/spec-input'
import { DeviceRemarks, ModeCosts } from './device-remarks'
import { Adapters, Disks } from './device-rows'
import {
  devicesOfDraft,
  draftOf,
  guestFields,
  MAIN_FIELDS,
  applyMend,
  applySpecLine,
  MORE_FIELDS,
  readDraft,
  applySizing,
  systemOfDraft,
  type GuestForm,
} from './guest-form'
import { Places } from '../placement/places'
import { SizingPanel } from './sizing-panel'
import { SystemChoice } from '../systems/system-choice'
import { FieldControl } from '../records/field-control'

/** The commands of a draft: a system that it brings along comes first. */
function commandsOf(estate: Estate, guest: GuestDraft, { texts, newSystem }: GuestForm, context: IdMaker): readonly Command[] {
  const system: readonly Command[] =
    newSystem && newSystem.id === texts['systemId'] ? [{ type: 'system.add', record: { ...newSystem.values, id: newSystem.id } }] : []
  return [...system, ...composeGuest(estate, guest, context)]
}

/** A new guest on one page: the spec line on top, the fields filled from it, where it fits beside them. */
export function ComposeGuestPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  if (estate.count('host') === 0)
    return (
      <Page title="New guest">
        <Empty
          action={
            <ButtonLink look="primary" to={to('hosts/new')}>
              Add host
            </ButtonLink>
          }
        >
          A guest runs on a host: record one first.
        </Empty>
      </Page>
    )
  return <Compose />
}

function Compose() {
  const { estate, estateId } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [params] = useSearchParams()
  const [line, setLine] = useState(params.get('line') ?? '')
  const names = useMemo(
    () => ({
      hosts: estate.all('host').map((one) => one.name),
      networks: estate.all('network').map((one) => one.name),
      stores: estate.all('store').map((one) => one.name),
    }),
    [estate],
  )
  const reading = useMemo(() => readSpecLine(line, names), [line, names])
  const [draft, setDraft] = useState<GuestForm>(() => draftOf(estate, reading.spec))
  const [isTried, setTried] = useState(false)

  const fresh = useMemo(() => JSON.stringify(draftOf(estate, reading.spec)), [estate, reading])
  const isTyped = line !== (params.get('line') ?? '') || JSON.stringify(draft) !== fresh
  const kept = useDraft(`${estateId}.guest.new`, isTyped ? { line, draft } : undefined)
  const typeLine = (next: string) => {
    setLine(next)
    setDraft((current) => applySpecLine(current, draftOf(estate, reading.spec), draftOf(estate, readSpecLine(next, names).spec)))
    proposal.forget()
  }
  const setText = (name: string, text: string) => setDraft({ ...draft, texts: { ...draft.texts, [name]: text } })

  const loose = useMemo(() => readDraft(draft, undefined), [draft])
  const demand = useMemo(() => ('guest' in loose ? demandOfDraft(loose.guest) : undefined), [loose])
  const places = usePlaces(demand)
  const hostId = draft.texts['hostId'] ?? ''
  const fit = places.data?.find((one) => one.hostId === hostId)
  const read = useMemo(() => readDraft(draft, fit), [draft, fit])
  const commands = useMemo(() => ('guest' in read ? commandsOf(estate, read.guest, draft, ids) : undefined), [read, estate, draft])
  const problems = 'problems' in read ? read.problems : {}
  const [unreadField] = Object.keys(problems)
  const system = systemOfDraft(estate, draft)
  const host = estate.find('host', hostId)
  const remarks = useMemo(
    () => ('guest' in loose ? checkDevices(devicesOfDraft(loose.guest), system, estate.find('platform', host?.platformId), host) : []),
    [loose, system, host, estate],
  )
  const memory = 'guest' in loose ? loose.guest.guest.memoryMiB : undefined
  const meant = memory === undefined ? undefined : probablyMeant(memory)

  /** Who is quicker than the places still gets the stores that are proposed for the disks. */
  const commandsOnceProposed = async () => {
    if (!demand || !places.isFetching) return undefined
    const { data } = await places.refetch({ cancelRefetch: false })
    const proposed = readDraft(
      draft,
      data?.find((one) => one.hostId === hostId),
    )
    return 'guest' in proposed ? commandsOf(estate, proposed.guest, draft, ids) : undefined
  }

  const proposal = useProposal({
    async commands() {
      setTried(true)
      // What is not understood is not left out without a word.
      const unread = reading.parts.find(({ problem }) => problem)?.problem
      if (unread !== undefined) return { sentence: `Nothing was saved: ${unread}`, problems: [] }
      return fit ? commands : ((await commandsOnceProposed()) ?? commands)
    },
    planned: () => kept.over(),
    recorded(done) {
      kept.over()
      const guest = done.find(({ type }) => type === 'guest.add')
      if (guest?.type === 'guest.add') return go(to(`guests/${guest.record.id ?? ''}`))
    },
    planAt: 'board',
  })
  useKey('mod+Enter', () => void proposal.record())

  const input = (name: string) => {
    const field = guestFields[name]
    const problem = problems[name]
    // A required field that is still empty is not wrong yet, only not filled.
    const isShown = problem !== undefined && (isTried || (draft.texts[name] ?? '') !== '')
    const id = `guest-${name}`
    const about = name === 'memoryMiB' && meant ? `Meant ${formatMiB(meant)}? ${memory} MiB is an unusual size.` : undefined
    return (
      <div
        key={name}
        className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[110px_minmax(0,1fr)] gap-x-3 items-start py-1 border-t border-line"
      >
        <label htmlFor={id} className="pt-1" title={docOf('guest', name)}>
          {field?.label}
        </label>
        {field && (
          <FieldControl
            id={id}
            name={name}
            estate={estate}
            field={field}
            text={draft.texts[name] ?? ''}
            setText={(text) => setText(name, text)}
            none={name === 'hostId' ? 'choose…' : undefined}
            aria-invalid={isShown}
            aria-describedby={`${id}-about`}
          />
        )}
        <span id={`${id}-about`} className={`sm:col-start-2 text-dense ${isShown ? 'text-error' : 'text-warning'}`}>
          {isShown ? problem : about}
        </span>
      </div>
    )
  }

  return (
    <Page title="New guest" isWide>
      <div className="beside [--beside:380px]">
        <form
          noValidate
          onSubmit={(event) => {
            event.preventDefault()
            void proposal.record()
          }}
        >
          <DraftOffer
            draft={kept.offered}
            what={kept.offered?.value.line ? `“${kept.offered.value.line}”` : `guest ${kept.offered?.value.draft.texts['name'] ?? ''}`}
            take={() => {
              if (!kept.offered) return
              setLine(kept.offered.value.line)
              setDraft(kept.offered.value.draft)
              kept.taken()
            }}
            discard={kept.discard}
          />
          <SpecInput
            value={line}
            onChange={typeLine}
            parts={reading.parts}
            label="The guest in a line"
            placeholder="playout-3 4cpu 8G 40G+200G on gannet net office,storage"
            hint={`Name, processors, memory, disks, on HOST, net A,B; also store S, for PURPOSE, #tag, and the words ${guestLineOptions.join(', ')}. Or fill the fields.`}
          />
          <div className="mt-3 grid xl:grid-cols-2 gap-x-8">
            {MAIN_FIELDS.slice(0, 3).map(input)}
            <div className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[110px_minmax(0,1fr)] gap-x-3 items-start py-1 border-t border-line">
              <label htmlFor="guest-systemId" className="pt-1" title={docOf('guest', 'systemId')}>
                System
              </label>
              <SystemChoice
                id="guest-systemId"
                system={system}
                choose={(systemId, newSystem) => setDraft({ ...draft, texts: { ...draft.texts, systemId }, newSystem })}
              />
            </div>
            {MAIN_FIELDS.slice(3).map(input)}
          </div>
          <details className="mt-2">
            <summary className="cursor-pointer text-accent min-h-7">Processor mode, firmware, install medium, group</summary>
            <div className="grid xl:grid-cols-2 gap-x-8">{MORE_FIELDS.map(input)}</div>
            {host && <ModeCosts host={host} mode={draft.texts['processorMode'] ?? 'host'} />}
          </details>
          <SizingPanel
            system={system}
            workload={draft.texts['workload'] ?? ''}
            take={(sizing, workload) => setDraft((current) => applySizing(current, sizing, workload))}
          />
          <Disks draft={draft} setDraft={setDraft} problems={problems} fit={fit} hostId={hostId} />
          <Adapters draft={draft} setDraft={setDraft} />
          <ProposalFooter proposal={proposal} label="Add guest" isForm />
        </form>
        <div>
          <Places places={places.data ?? []} isAsked={demand !== undefined} chosen={hostId} choose={(id) => setText('hostId', id)} />
          <DeviceRemarks remarks={remarks} take={(mend) => setDraft((current) => applyMend(current, mend))} />
          <UnreadContext value={unreadField && (guestFields[unreadField]?.label ?? 'a disk')}>
            <Effect commands={commands} withDifference={false} />
          </UnreadContext>
        </div>
      </div>
    </Page>
  )
}
