import { counted, moveView, openMoves, timeZoneOf, type Command, type Guest, type Mapping, type MoveMethod } from '@insel/core'
import { useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import { useMoveAdvice, useMoveLook } from '../../estate/checks'
import { mayRecord, useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { useKey } from '../../lib/keys'
import { usePaths } from '../../lib/paths'
import { useToday } from '../../estate/today'
import { useGo } from '../../lib/use-go'
import { instantAt } from '../../lib/wall-time'
import { useRecord } from '../../estate/use-record'
import { Button, Key } from '../../ui/button'
import { Choice } from '../../ui/choice'
import { Page, Part, Trouble } from '../../ui/page'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { HostChoice } from '../placement/host-choice'
import { RemovedPage } from '../records/removed'
import { Mark } from '../../ui/mark'
import { sayChecks } from './checks-part'
import { AdapterPairs, BecomesChoice, MappingForm } from './mapping-form'
import { MappingPart } from './mapping-part'
import { HowLong, MethodAdvice } from './method-advice'
import { useMoveDraft, type TargetWay } from './use-move-draft'

const FOR_GUESTS: readonly (readonly [TargetWay, string])[] = [
  ['host', 'another host'],
  ['becomes', 'another machine, physical or guest'],
]
const FOR_MACHINES: readonly (readonly [TargetWay, string])[] = [
  ['new', 'a new guest on a host'],
  ['becomes', 'a machine that is recorded'],
]

/** A machine’s move: where to, how everything is mapped, which way it is copied, what is in the way, how long; then begun, planned, or recorded. */
export function MigratePage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const guest = estate.find('guest', id)
  if (!guest) return <RemovedPage kind="guest" id={id} />
  return <Migrating key={id} guest={guest} />
}

/** A number of minutes in a text, where there is one. */
const minutesIn = (text: string): number | undefined =>
  /^\d{1,6}([.,]\d+)?$/.test(text.trim()) ? Number(text.trim().replace(',', '.')) : undefined

function Migrating({ guest }: { guest: Guest }) {
  const { estate, basis } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const { record, trouble } = useRecord()
  const { draft, change, fits, made } = useMoveDraft(estate, guest)
  const [chosenMethod, setMethod] = useState<MoveMethod>()
  const [downtime, setDowntime] = useState('')
  const [dirty, setDirty] = useState('')
  const [note, setNote] = useState('')
  const [decideBy, setDecideBy] = useState('')
  const [otherwise, setOtherwise] = useState('')
  const [moveId] = useState(newId)
  const isExternal = guest.kind === 'external'
  const host = estate.find('host', draft.hostId)
  const wish = useMemo(
    () => ({
      downtimeMinutes: minutesIn(downtime),
      dirtyPerSecond: minutesIn(dirty) === undefined ? undefined : (minutesIn(dirty) ?? 0) * 1e6,
    }),
    [downtime, dirty],
  )
  const advice = useMoveAdvice(made?.mapping, wish, made?.before).data ?? []
  const method = chosenMethod ?? advice.find(({ suits }) => suits !== 'out')?.method ?? 'cold copy'
  const mapping = useMemo((): Mapping | undefined => made && { ...made.mapping, method }, [made, method])
  const looked = useMoveLook(mapping, made?.before).data
  const chosen = advice.find((one) => one.method === method)
  const time = chosen?.time
  const commands = useMemo((): readonly Command[] | undefined => {
    if (!made || !mapping) return undefined
    return [...made.before, { type: 'guest.migrate', ...mapping }]
  }, [made, mapping])
  const becomes = draft.way === 'becomes' ? estate.find('guest', draft.becomesId) : undefined
  const today = useToday()
  const view = useMemo(() => (becomes && mapping ? moveView(estate, mapping, today) : undefined), [estate, becomes, mapping, today])
  const proposal = useProposal({ commands, recorded: () => go(to(`guests/${guest.id}`)), planAt: 'board' })
  const before = openMoves(estate).find(({ guestId, becomesId }) => guestId === guest.id || becomesId === guest.id)
  const cancelled = estate
    .referring('migration', 'guestId', guest.id)
    .filter(({ state }) => state === 'cancelled' || state === 'rolled back')
    .sort((a, b) => (b.endedAt ?? '').localeCompare(a.endedAt ?? ''))[0]
  const begin = async () => {
    if (!made || !mapping || !mayRecord(basis)) return
    const begun: Command = {
      type: 'migration.begin',
      ...mapping,
      id: moveId,
      previousId: cancelled?.id ?? null,
      downtimeMinutes: wish.downtimeMinutes ?? null,
      note,
      decideBy: instantAt(decideBy, timeZoneOf(estate)) ?? null,
      otherwise: otherwise.trim() || null,
      ...(time && time.bytes.value > 0
        ? {
            estimateSeconds: Math.round(time.copySeconds.p50),
            estimateLateSeconds: Math.round(time.copySeconds.p90),
            totalBytes: Math.round(time.bytes.value),
          }
        : {}),
    }
    if (await record([...made.before, begun], `Migration of ${guest.name} begun`)) await go(to(`migrations/${moveId}`))
  }
  useKey('mod+Enter', () => void begin())
  const chooseWay = (way: TargetWay) => change({ way, hostId: '', becomesId: '', disks: {}, adapters: {} })
  return (
    <Page
      title={`Migrate ${guest.name}`}
      about={
        <>
          {isExternal
            ? `A physical machine, ${guest.state}.`
            : `It is on ${estate.find('host', guest.hostId)?.name ?? 'no host'}, ${guest.state}.`}
          {before && (
            <>
              {' '}
              <Link className="link" to={to(`migrations/${before.id}`)}>
                A move of it is {before.state}
              </Link>
              .
            </>
          )}
          {cancelled && !before && (
            <>
              {' '}
              It was{' '}
              <Link className="link" to={to(`migrations/${cancelled.id}`)}>
                tried by {cancelled.method} and {cancelled.state}
              </Link>
              ; this goes on from there.
            </>
          )}
        </>
      }
    >
      <form
        className="beside"
        onSubmit={(event) => {
          event.preventDefault()
          void begin()
        }}
      >
        <div>
          <label className="flex flex-wrap gap-2 items-center mb-3">
            <span className="font-bold">To</span>
            <Choice className="!w-72" value={draft.way} choose={chooseWay} options={isExternal ? FOR_MACHINES : FOR_GUESTS} />
          </label>
          {draft.way === 'becomes' ? (
            <BecomesChoice estate={estate} guest={guest} chosen={draft.becomesId} choose={(becomesId) => change({ becomesId })} />
          ) : (
            <HostChoice
              legend="Target host"
              fits={fits}
              chosen={draft.hostId}
              choose={(hostId) => change({ hostId, disks: {}, adapters: {} })}
            />
          )}
          {host && mapping && draft.way !== 'becomes' && (
            <MappingForm key={host.id} estate={estate} guest={guest} host={host} draft={draft} change={change} mapping={mapping} />
          )}
          {made && becomes && (
            <div className="mt-4">
              {view && <MappingPart view={view} />}
              <AdapterPairs estate={estate} guest={guest} becomes={becomes} pairs={draft.pairs} set={(pairs) => change({ pairs })} />
              <p className="text-dense text-soft">
                Sizes, stores, bus and models are those of{' '}
                <Link className="link" to={to(`guests/${becomes.id}`)}>
                  {becomes.name}
                </Link>
                ; change them there.
              </p>
            </div>
          )}
          {made && draft.way !== 'host' && (
            <div className="flex flex-wrap gap-x-5 text-dense mt-3">
              <label className="inline-flex gap-2 items-center min-h-7">
                <input
                  type="checkbox"
                  className="accent-accent"
                  checked={draft.takesName}
                  onChange={(event) => change({ takesName: event.target.checked })}
                />
                It takes the name {guest.name}
              </label>
              <label className="inline-flex gap-2 items-center min-h-7">
                <input
                  type="checkbox"
                  className="accent-accent"
                  checked={draft.takesMacs}
                  onChange={(event) => change({ takesMacs: event.target.checked })}
                />
                It takes the MACs, too
              </label>
            </div>
          )}
          {made && (
            <>
              <div className="flex flex-wrap gap-3 mt-5 text-dense items-center">
                <label>
                  May be off for{' '}
                  <input
                    className="field font-mono !w-20 !min-h-7"
                    inputMode="decimal"
                    value={downtime}
                    onChange={(event) => setDowntime(event.target.value)}
                  />{' '}
                  minutes
                </label>
                {!isExternal && (
                  <label>
                    It writes{' '}
                    <input
                      className="field font-mono !w-20 !min-h-7"
                      inputMode="decimal"
                      placeholder="1 %/s"
                      value={dirty}
                      onChange={(event) => setDirty(event.target.value)}
                    />{' '}
                    MB/s to its memory
                  </label>
                )}
                {[downtime, dirty].some((text) => text.trim() !== '' && minutesIn(text) === undefined) && (
                  <span role="alert" className="text-error">
                    Write a number, such as 30, or leave it empty.
                  </span>
                )}
              </div>
              <MethodAdvice advice={advice} chosen={method} choose={setMethod} />
              {chosen && <HowLong time={chosen.time} aroundSeconds={chosen.aroundSeconds} />}
            </>
          )}
        </div>
        <div>
          {!made && (
            <p className="text-faint">
              {draft.way === 'becomes' ? 'Choose what it becomes to see what would change.' : 'Choose a host to see what would change.'}
            </p>
          )}
          {made && looked && (
            <Part title="Checks" aside={<span className="text-dense text-soft">{sayChecks(looked.checks)}</span>}>
              {looked.sentence && <Trouble>{looked.sentence}</Trouble>}
              <ul className="text-dense" aria-label="Checks">
                {looked.checks
                  .filter(({ verdict }) => verdict !== 'fine')
                  .map(({ id, title, sentence, verdict, remedy }) => (
                    <li key={id} className="grid grid-cols-[auto_minmax(0,1fr)] gap-2 border-t border-line first:border-0 py-1.5">
                      <span className="pt-0.5">
                        <Mark of={verdict === 'error' ? 'no' : 'remark'} />
                      </span>
                      <span>
                        <b className="font-medium">{title}.</b> {sentence} <span className="text-soft">{remedy}</span>
                      </span>
                    </li>
                  ))}
              </ul>
              <p className="text-soft text-dense">Errors are settled, or accepted with a reason, once it is begun and before copying.</p>
            </Part>
          )}
          {made && mayRecord(basis) && (
            <Part title="Begin and follow">
              <p className="text-dense text-soft">
                The record stays as it is until the cut-over; room is held at the target, and the sheet, its checks and its transfer are
                followed.
              </p>
              <label className="block text-dense my-1">
                Note <input className="field" value={note} maxLength={4000} onChange={(event) => setNote(event.target.value)} />
              </label>
              <div className="flex flex-wrap gap-2 text-dense my-1">
                <label>
                  Decide by{' '}
                  <input
                    type="datetime-local"
                    className="field !w-52"
                    value={decideBy}
                    onChange={(event) => setDecideBy(event.target.value)}
                  />
                </label>
                <label>
                  otherwise{' '}
                  <input
                    className="field !w-52"
                    placeholder="roll back"
                    maxLength={200}
                    value={otherwise}
                    onChange={(event) => setOtherwise(event.target.value)}
                  />
                </label>
              </div>
              {trouble && <Trouble>{trouble}</Trouble>}
              <Button type="submit" look="primary">
                Begin migration <Key>Ctrl ↵</Key>
              </Button>
            </Part>
          )}
          {made && (
            <Part
              title={
                made.before.length > 0
                  ? `What it comes to, with ${counted(made.before.length, 'command')} that add the guest`
                  : 'What it comes to'
              }
            >
              <Effect commands={commands} />
            </Part>
          )}
          <ProposalFooter proposal={proposal} label="Record as done" isReady={commands !== undefined} />
        </div>
      </form>
    </Page>
  )
}
