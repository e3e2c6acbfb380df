import {
  attemptsBefore,
  copiedFor,
  counted,
  formatBytes,
  formatDuration,
  isOpenMove,
  isPoweredOn,
  migrationNames,
  moveSheet,
  moveStates,
  moveView,
  phaseOf,
  sayLeftovers,
  sayRate,
  sheetOf,
  transferStanding,
  timeZoneOf,
  wayBack,
  type Command,
  type Migration,
  formatInstant,
} from '@insel/core'
import { clsx } from 'clsx'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { instantOf, mayRecord, useEstate, whyReadOnly } from '../../estate'
import { LOOK_EVERY_MS, useNow } from '../../lib/use-now'
import { usePaths } from '../../lib/paths'
import { useToday } from '../../estate/today'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Page, Part, Trouble } from '../../ui/page'
import { ReasonForm } from '../../ui/reason-form'
import { History } from '../logbook/history'
import { RecordForm } from '../records/record-form'
import { RemovedPage } from '../records/removed'
import { SheetView } from '../sheets/sheet-view'
import { ChecksPart } from './checks-part'
import { MappingPart, Row } from './mapping-part'
import { FromTo, Machine, moveTitle } from './say-move'
import { TransferPart } from './transfer-part'
import { useLastReading } from './use-transfer'
import { TypedName } from './typed-name'

/** One move, followed from begin to close: what is next, its checks, its transfer, its sheet, and the way back. */
export function MovePage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const move = estate.find('migration', id)
  if (!move) return <RemovedPage kind="migration" id={id} />
  return <Following key={id} move={move} />
}

/** The sheet of a move, its copying as it goes. */
function SheetAsItGoes({ move }: { move: Migration }) {
  const transfer = useLastReading(move)
  const at = useNow(LOOK_EVERY_MS)
  const last = transfer?.points.at(-1)
  const left = move.state === 'copying' && transfer && last ? transferStanding(transfer.progress, last, at).left?.middle : undefined
  return <MoveSheet move={move} copyLeftSeconds={left} />
}

function Following({ move }: { move: Migration }) {
  const { estate, basis, person } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const zone = timeZoneOf(estate)
  const owner = estate.find('person', move.ownerId)
  const item = estate.find('item', move.itemId)
  const view = moveView(estate, move, today)
  const attempts = attemptsBefore(estate, move)
  const left = sayLeftovers(estate, move)
  return (
    <Page
      title={moveTitle(estate, move)}
      of={move.id}
      about={
        <>
          <Machine estate={estate} move={move} />, <FromTo estate={estate} move={move} />, by {move.method}.{' '}
          {owner ? `Carried out by ${owner.name}` : 'No person is named for it'}
          {move.startedAt && `, begun ${formatInstant(move.startedAt, zone)}`}
          {item && (
            <>
              , item “
              <Link className="link" to={to(`plans/${item.planId}`)}>
                {item.title}
              </Link>
              ”
            </>
          )}
          .{left && ` ${left}.`}
          {move.note && <span className="block max-w-[70ch] whitespace-pre-wrap wrap-anywhere">{move.note}</span>}
        </>
      }
      actions={
        <>
          <Button className="print:hidden" onClick={() => window.print()}>
            Print
          </Button>
          <ButtonLink to={to(`records/migration/${move.id}`)}>Change</ButtonLink>
        </>
      }
    >
      <States move={move} />
      {isOpenMove(move) && (mayRecord(basis) ? <Next move={move} /> : <p className="text-soft">{whyReadOnly(basis)}</p>)}
      {!person && isOpenMove(move) && (
        <p className="text-warning">Say who you are, in the bar above, before you settle a check or a step.</p>
      )}
      <div className="beside">
        <div>
          <TransferPart move={move} />
          {move.state === 'begun' && <ChecksPart move={move} />}
          {isOpenMove(move) && <SheetAsItGoes move={move} />}
          {!isOpenMove(move) && <Outcome move={move} />}
          <History id={move.id} />
        </div>
        <div>
          {view && move.made.length > 0 && <MappingPart view={view} />}
          <Figures move={move} />
          {attempts.length > 0 && (
            <Part title="Tried before">
              <ul>
                {attempts.map((attempt) => (
                  <li key={attempt.id} className="border-t border-line py-1 text-dense">
                    <Link className="link" to={to(`migrations/${attempt.id}`)}>
                      {attempt.method}
                    </Link>
                    , {attempt.state}
                    {attempt.endedAt && ` ${formatInstant(attempt.endedAt, zone)}`}
                    {attempt.reason && `: ${attempt.reason}`}
                  </li>
                ))}
              </ul>
            </Part>
          )}
        </div>
      </div>
    </Page>
  )
}

const ways = moveStates.filter((state) => state !== 'rolled back' && state !== 'cancelled')

/** How far it is, of all the states there are. */
function States({ move }: { move: Migration }) {
  const { estate } = useEstate()
  const zone = timeZoneOf(estate)
  const isEarly = move.state === 'rolled back' || move.state === 'cancelled'
  const at = ways.findIndex((state) => state === move.state)
  const times: Readonly<Record<string, string | null>> = {
    begun: move.startedAt,
    copying: move.copyingAt,
    'cut over': move.cutOverAt,
    verified: move.verifiedAt,
    closed: move.state === 'closed' ? move.endedAt : null,
  }
  return (
    <>
      <ol className="flex flex-wrap gap-x-1 gap-y-1 mb-3 text-dense" aria-label="States of the move">
        {ways.map((state, index) => {
          const isPast = isEarly ? times[state] !== null : index < at
          const isNow = index === at
          return (
            <li
              key={state}
              aria-current={isNow ? 'step' : undefined}
              className={clsx(
                'flex-1 basis-28 border-t-4 pt-1 pr-2',
                isNow ? 'border-accent font-medium' : isPast ? 'border-accent/50 text-soft' : 'border-rule text-faint',
              )}
            >
              {state}
              {times[state] && <span className="block text-small text-faint font-normal">{formatInstant(times[state], zone)}</span>}
            </li>
          )
        })}
      </ol>
      {isEarly && (
        <p className="mb-3">
          <b className="font-medium">
            {move.state === 'cancelled' ? 'Cancelled' : 'Rolled back'}
            {move.endedAt && ` ${formatInstant(move.endedAt, zone)}`}
          </b>
          {move.reason && `: ${move.reason}`}
        </p>
      )}
    </>
  )
}

/** What comes next, as one large button; what has to be recorded before it; and the way back. */
function Next({ move }: { move: Migration }) {
  const { estate, basis } = useEstate()
  const { record, trouble } = useRecord()
  const { to } = usePaths()
  const [isBusy, setBusy] = useState(false)
  const [isGoingBack, setGoingBack] = useState(false)
  const [isClosing, setClosing] = useState(false)
  const back = wayBack(estate, move)
  const source = estate.find('guest', move.guestId)
  const target = estate.find('guest', move.becomesId ?? move.guestId)
  const zone = timeZoneOf(estate)
  const take = async (commands: readonly Command[], done: string) => {
    setBusy(true)
    try {
      return await record(commands, done)
    } finally {
      setBusy(false)
    }
  }
  const title = moveTitle(estate, move)
  const { from } = migrationNames(estate, move)
  const power = (guest: typeof source, state: 'running' | 'stopped') =>
    guest && (
      <Button
        disabled={isBusy}
        onClick={() => void take([{ type: 'guest.power', guestId: guest.id, state }], `${guest.name} recorded as ${state}`)}
      >
        Record {guest.name} as {state}
      </Button>
    )
  const next = {
    begun: { label: 'Start copying', command: { type: 'migration.copy', migrationId: move.id } as Command },
    copying: { label: 'Cut over', command: { type: 'migration.cutOver', migrationId: move.id } as Command },
    'cut over': { label: 'Verified', command: { type: 'migration.verify', migrationId: move.id } as Command },
  }[move.state as string]
  const isLate = move.decideBy !== null && move.decideBy < instantOf(basis) && (move.state === 'begun' || move.state === 'copying')
  return (
    <section aria-label="Next" className="border border-rule rounded-md bg-sheet p-3 mb-5 print:hidden">
      {move.decideBy && (
        <p className={isLate ? 'text-error' : 'text-soft'}>
          {isLate ? 'It was to be decided by' : 'Decide by'} {formatInstant(move.decideBy, zone)}
          {move.otherwise && `; otherwise: ${move.otherwise}`}.
        </p>
      )}
      <p>{sayNext(move, from)}</p>
      {trouble && <Trouble>{trouble}</Trouble>}
      {isGoingBack && back ? (
        <div className="mt-2">
          <p>By hand:</p>
          <ol className="list-decimal pl-5">
            {back.byHand.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ol>
          <p className="my-1">
            <b className="font-medium">Lost:</b> {back.isLost}
          </p>
          {back.verb === 'migration.rollBack' && target && isPoweredOn(target) && <p className="my-1">{power(target, 'stopped')}</p>}
          <ReasonForm
            label="Why"
            press={back.label}
            look="danger"
            isBusy={isBusy}
            take={(reason) =>
              void take(
                [{ type: back.verb, migrationId: move.id, reason }],
                `${title}: ${move.state === 'begun' || move.state === 'copying' ? 'cancelled' : 'rolled back'}`,
              ).then((isDone) => isDone && setGoingBack(false))
            }
            leave={() => setGoingBack(false)}
          />
        </div>
      ) : isClosing ? (
        <Closing move={move} isBusy={isBusy} take={take} leave={() => setClosing(false)} />
      ) : (
        <div className="flex flex-wrap gap-2 mt-2 items-center">
          {next && (
            <Button
              look="primary"
              className="!min-h-12 text-lead"
              disabled={isBusy}
              onClick={() => void take([next.command], `${title}: ${next.label.toLowerCase()}`)}
            >
              {next.label}
            </Button>
          )}
          {move.state === 'verified' && (
            <Button look="primary" className="!min-h-12 text-lead" disabled={isBusy} onClick={() => setClosing(true)}>
              Close…
            </Button>
          )}
          {(move.state === 'begun' || move.state === 'copying') &&
            source &&
            isPoweredOn(source) &&
            move.method !== 'live' &&
            power(source, 'stopped')}
          {(move.state === 'begun' || move.state === 'copying') && source?.state === 'stopped' && power(source, 'running')}
          {move.state === 'cut over' && target && !isPoweredOn(target) && power(target, 'running')}
          {back && (
            <Button look="danger" disabled={isBusy} onClick={() => setGoingBack(true)}>
              {back.label}…
            </Button>
          )}
          {move.state === 'verified' && <ButtonLink to={to('migrations')}>Leave it soaking</ButtonLink>}
        </div>
      )}
    </section>
  )
}

function sayNext(move: Migration, from: string | null): string {
  switch (move.state) {
    case 'begun':
      return 'Settle the checks, do the steps before the copy, then start copying.'
    case 'copying':
      return 'When everything is copied and the source is off: cut over. Then name, addresses and MACs pass to the target in one go.'
    case 'cut over':
      return `Start the target and do the checks of the sheet. Until it is verified, memory is kept free ${from ? `on ${from}` : 'at the source'} for the way back.`
    default:
      return 'It is verified. What it left is kept powered off until its date; then remove it and close the move.'
  }
}

/** Removes what the move left: the name is typed, since it cannot be undone on the machine. */
function Closing({
  move,
  isBusy,
  take,
  leave,
}: {
  move: Migration
  isBusy: boolean
  take: (commands: readonly Command[], done: string) => Promise<boolean>
  leave: () => void
}) {
  const { estate } = useEstate()
  const [isTyped, setTyped] = useState(false)
  const source = move.becomesId ? estate.find('guest', move.guestId) : undefined
  const name = source?.name ?? migrationNames(estate, move).guest
  const left = sayLeftovers(estate, move)
  return (
    <div className="mt-2">
      <p className="border-l-2 border-warning pl-2 my-1">
        <b className="font-medium">Caution. </b>
        {left ? `${left}. ` : ''}Remove it at the source first; once it is gone there is no way back but the backup. Look twice which
        machine or disk it is.
      </p>
      <TypedName name={name} label={`Type ${name} to say that what it left is removed`} typed={setTyped} />
      <div className="flex gap-2 mt-2">
        <Button
          look="danger"
          disabled={!isTyped || isBusy}
          onClick={() => void take([{ type: 'migration.close', migrationId: move.id }], `${moveTitle(estate, move)}: closed`)}
        >
          Removed, close
        </Button>
        <Button onClick={leave}>Back</Button>
      </div>
    </div>
  )
}

/** What a step of the sheet needs besides being ticked: typed names before a disk is written, the machine's first-boot texts. */
function MoveSheet({ move, copyLeftSeconds }: { move: Migration; copyLeftSeconds: number | undefined }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const sheet = sheetOf(estate, 'migrationId', move.id, 'move')
  const built = moveSheet(estate, move, today, copyLeftSeconds)
  const { becomes, to: target } = migrationNames(estate, move)
  const targetSerial = move.becomesId ? estate.referring('hardware', 'guestId', move.becomesId)[0]?.serial : undefined
  const shown = { ...built, steps: built.steps.filter(({ key }) => !key.startsWith('check-')) }
  const phases = new Map(shown.steps.map(({ key }) => [key, phaseOf(key)]))
  return (
    <section>
      <p className="text-dense text-soft mb-1">
        {counted(shown.steps.filter(({ key }) => phases.get(key) === 'before').length, 'step')} before the copy,{' '}
        {shown.steps.filter(({ key }) => phases.get(key) === 'copying').length} while it copies,{' '}
        {shown.steps.filter(({ key }) => phases.get(key) === 'after the cut-over').length} after the cut-over,{' '}
        {shown.steps.filter(({ key }) => phases.get(key) === 'at the end').length} at the end.
      </p>
      <SheetView
        sheet={sheet}
        built={shown}
        work={{
          of: 'migrationId',
          id: move.id,
          kind: 'move',
          name: moveTitle(estate, move),
          title: 'Migration sheet',
          words: {
            done: 'Every step is settled',
            doing: 'Migration sheet',
            start: 'Start the sheet',
            work: 'Migration',
            again: 'Start a new sheet',
          },
          tool: (tool, allow) => {
            if (tool === 'wipe')
              return (
                <TypedName
                  name={targetSerial ?? becomes ?? target}
                  label={`${targetSerial ? 'Serial' : 'Name'} of the target, as you read it on the machine`}
                  typed={allow}
                />
              )
            if (tool === 'first-boot text' && (move.becomesId ?? move.guestId))
              return (
                <Link className="link target text-dense" to={to(`guests/${move.becomesId ?? move.guestId ?? ''}/first-boot`)}>
                  Network files with the new names and MACs
                </Link>
              )
            return null
          },
        }}
      />
    </section>
  )
}

/** What it was thought to take, and what it took. */
function Figures({ move }: { move: Migration }) {
  const took = copiedFor(move)
  const rows: readonly (readonly [label: string, value: string | undefined])[] = [
    [
      'Estimate of the copy',
      move.estimateSeconds === null
        ? undefined
        : `${formatDuration(move.estimateSeconds)}, one in ten longer than ${formatDuration(move.estimateLateSeconds ?? move.estimateSeconds)}`,
    ],
    ['To move', move.totalBytes === null ? undefined : formatBytes(move.totalBytes)],
    ['Copying took', took === undefined || (move.cutOverAt === null && move.state !== 'closed') ? undefined : formatDuration(took)],
    ['Moved', move.movedBytes === null ? undefined : formatBytes(move.movedBytes)],
    ['Mean rate', took && move.movedBytes ? sayRate(move.movedBytes / took) : undefined],
    ['Downtime allowed', move.downtimeMinutes === null ? undefined : formatDuration(move.downtimeMinutes * 60)],
    ['Was off', move.wasOffMinutes === null ? undefined : formatDuration(move.wasOffMinutes * 60)],
    ['What went wrong', move.wentWrong ?? undefined],
    ['Next time', move.nextTime ?? undefined],
  ]
  const known = rows.filter(([, value]) => value !== undefined)
  if (known.length === 0) return null
  return (
    <Part title="Planned and actual">
      <dl className="facts text-dense">
        {known.map(([label, value]) => (
          <Row key={label} label={label}>
            {value}
          </Row>
        ))}
      </dl>
    </Part>
  )
}

const OUTCOME = ['movedBytes', 'copySeconds', 'wasOffMinutes', 'wentWrong', 'nextTime'] as const

/** What became of it, for the next one: what it took, what went wrong, what to do differently. */
function Outcome({ move }: { move: Migration }) {
  return (
    <Part title="Outcome">
      <p className="text-soft text-dense">
        It was {move.state}. What is written here is shown for moves like it, and its times sharpen later estimates.
      </p>
      <RecordForm
        kind="migration"
        record={move}
        recordId={move.id}
        fieldNames={OUTCOME}
        saveLabel="Save outcome"
        commandsOf={(values) => {
          const before = move as unknown as Readonly<Record<string, unknown>>
          return [
            {
              type: 'migration.update',
              id: move.id,
              changes: Object.fromEntries(Object.entries(values).filter(([name, value]) => before[name] !== value)),
            },
          ]
        }}
        recorded={() => undefined}
        planAt="migrations"
      />
    </Part>
  )
}
