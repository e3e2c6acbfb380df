import {
  calibration,
  commandsOf,
  counted,
  isBeforeCutOver,
  isOpenPlan,
  migrationNames,
  moveSheet,
  openMoves,
  sayLeftovers,
  timeZoneOf,
  type Estate,
  type Item,
  type Migration,
  formatInstant,
} from '@insel/core'
import { Link } from 'react-router'
import { useMoveLook } from '../../estate/checks'
import { instantOf, useEstate } from '../../estate'
import { useQueryParam } from '../../lib/query-param'
import { LOOK_EVERY_MS, useNow } from '../../lib/use-now'
import { usePaths } from '../../lib/paths'
import { holdsAll, wordsOf as wordsIn } from '../../lib/words'
import { useToday } from '../../estate/today'
import { ButtonLink } from '../../ui/button'
import { FilterInput, useFilter } from '../../ui/filter'
import { Empty, Page, Part } from '../../ui/page'
import { sayChecks } from './checks-part'
import { MovesNav } from './moves-nav'
import { FromTo, moveTitle, sayTransfer } from './say-move'
import { useTransfer } from './use-transfer'

const groupings = ['state', 'plan', 'host', 'method', 'who'] as const

/** Moves under way on one board, those that come in plans, those that soak; the rest is history. */
export function MigrationsPage() {
  const { estate, recorded } = useEstate()
  const { to } = usePaths()
  const filter = useFilter()
  const wanted = wordsIn(filter.wanted)
  const [group, setGroup] = useQueryParam('group')
  const by = groupings.find((one) => one === group) ?? 'state'
  const wordsOf = (move: Migration) => {
    const { guest, from, to: target, becomes } = migrationNames(estate, move)
    return [guest, from ?? '', target, becomes ?? '', move.method, move.state, ownerOf(estate, move)]
  }
  const moves = openMoves(estate).filter((move) => holdsAll(wordsOf(move), wanted))
  const coming = comingItems(recorded).filter(({ item, machine }) => holdsAll([item.title, machine], wanted))
  const groups = groupsOf(estate, moves, by)
  const { count, belowMiddle, belowLate } = calibration(estate)
  const isEmpty = openMoves(estate).length + comingItems(recorded).length === 0
  return (
    <Page
      title="Migrations"
      about={
        <>
          {isEmpty
            ? 'Nothing is under way.'
            : `${counted(openMoves(estate).length, 'move')} under way, ${comingItems(recorded).length} in plans.`}
          {count > 0 &&
            ` Of the last ${counted(count, 'estimate')}, ${belowMiddle} ended below the middle and ${belowLate} below what nine in ten should.`}
          <MovesNav />
        </>
      }
      actions={
        <>
          <select className="field !w-40 print:hidden" aria-label="Group by" value={by} onChange={(event) => setGroup(event.target.value)}>
            {groupings.map((one) => (
              <option key={one} value={one}>
                by {one === 'who' ? 'who does it' : one === 'host' ? 'target host' : one}
              </option>
            ))}
          </select>
          <FilterInput filter={filter} label="Filter migrations" />
          <ButtonLink to={to('migrations/machine')}>Add physical machine</ButtonLink>
        </>
      }
    >
      {isEmpty && (
        <Empty
          action={
            <>
              <ButtonLink to={to('guests')}>Choose a guest</ButtonLink>
              <ButtonLink to={to('migrations/machine')}>Add physical machine</ButtonLink>
              <ButtonLink to={to('records/migration/new')}>Record a migration</ButtonLink>
            </>
          }
        >
          No migration is under way. Open a guest or a physical machine and press Migrate, or drag a guest to another host on the board.
        </Empty>
      )}
      {groups.map(([label, those]) => (
        <Part key={label} title={`${label}, ${those.length}`}>
          <ul className="grid gap-3 md:grid-cols-2 mt-2">
            {those.map((move) => (
              <MoveCard key={move.id} move={move} />
            ))}
          </ul>
        </Part>
      ))}
      {coming.length > 0 && (
        <Part title={`Coming, ${coming.length}`}>
          <ul>
            {coming.map(({ item, machine, plan }) => (
              <Coming key={item.id} item={item} machine={machine} plan={plan} />
            ))}
          </ul>
        </Part>
      )}
    </Page>
  )
}

const ownerOf = (estate: Estate, move: Migration): string => estate.find('person', move.ownerId)?.name ?? 'no owner'

/** Moves under headings, in the order of their states. */
function groupsOf(
  estate: Estate,
  moves: readonly Migration[],
  by: (typeof groupings)[number],
): readonly (readonly [string, readonly Migration[]])[] {
  const headingOf = (move: Migration): string => {
    if (by === 'state') return move.state === 'verified' ? 'Soaking' : 'Under way'
    if (by === 'plan') return estate.find('plan', estate.find('item', move.itemId)?.planId)?.name ?? 'Without a plan'
    if (by === 'host') return migrationNames(estate, move).to
    return by === 'method' ? move.method : ownerOf(estate, move)
  }
  const groups = new Map<string, Migration[]>()
  const order = { copying: 0, begun: 1, 'cut over': 2 } as Readonly<Record<string, number>>
  for (const move of [...moves].sort(
    (a, b) => (order[a.state] ?? 3) - (order[b.state] ?? 3) || (a.startedAt ?? '').localeCompare(b.startedAt ?? ''),
  )) {
    const heading = headingOf(move)
    groups.set(heading, [...(groups.get(heading) ?? []), move])
  }
  return [...groups]
}

/** Moves in items of plans that are not begun. */
function comingItems(estate: Estate): readonly { readonly item: Item; readonly machine: string; readonly plan: string }[] {
  return estate.all('item').flatMap((item) => {
    const plan = estate.find('plan', item.planId)
    const move = commandsOf(item).findLast(({ type }) => type === 'guest.migrate')
    if (!plan || !isOpenPlan(plan) || item.state !== 'open' || move?.type !== 'guest.migrate') return []
    return [{ item, machine: estate.find('guest', move.guestId)?.name ?? 'a guest of the plan', plan: plan.name }]
  })
}

/** One move under way: how far, until when, what is next, who does it. */
function MoveCard({ move }: { move: Migration }) {
  const { estate, basis } = useEstate()
  const { to } = usePaths()
  const today = useToday()
  const zone = timeZoneOf(estate)
  const steps = moveSheet(estate, move, today).steps
  const next = steps.find(({ record, key }) => !record && !key.startsWith('check-'))
  const failed = steps.find(({ record }) => record?.state === 'failed')
  const left = sayLeftovers(estate, move)
  return (
    <li className="border border-rule rounded-md bg-sheet p-3 min-w-0">
      <h3 className="break-words">
        <Link className="name-link" to={to(`migrations/${move.id}`)}>
          {moveTitle(estate, move)}
        </Link>
        <span className="text-soft font-normal">, {move.state}</span>
      </h3>
      <p className="text-dense text-soft">
        <FromTo estate={estate} move={move} />, {move.method}, {ownerOf(estate, move)}
      </p>
      {isBeforeCutOver(move) && <Progress move={move} />}
      {failed && (
        <p className="text-dense text-error break-words">
          {failed.title} failed: {failed.record?.note}
        </p>
      )}
      {next && move.state !== 'verified' && <p className="text-dense">Next: {next.title}</p>}
      {move.decideBy && isBeforeCutOver(move) && (
        <p className={`text-dense ${move.decideBy < instantOf(basis) ? 'text-error' : 'text-soft'}`}>
          Decide by {formatInstant(move.decideBy, zone)}
          {move.otherwise && `; otherwise: ${move.otherwise}`}
        </p>
      )}
      {left && <p className="text-dense">{left}</p>}
    </li>
  )
}

/** How far the transfer of a move is, as a bar and in words. */
function Progress({ move }: { move: Migration }) {
  const { estate } = useEstate()
  const { transfer } = useTransfer(move)
  const at = useNow(LOOK_EVERY_MS)
  if (move.state === 'begun') return <Checked of={move} />
  if (!transfer) return <p className="text-dense text-faint">…</p>
  const share = Math.min(1, (transfer.points.at(-1)?.bytes ?? 0) / transfer.totalBytes)
  return (
    <>
      <div className="h-1.5 bg-track border border-rule my-1.5" aria-hidden>
        <div className="h-full bg-accent" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="text-dense">{sayTransfer(transfer, timeZoneOf(estate), at)}</p>
    </>
  )
}

function Checked({ of }: { of: Migration }) {
  const { data } = useMoveLook(of.id)
  return <p className="text-dense">{data ? `Checks: ${sayChecks(data.checks)}` : '…'}</p>
}

/** A move in a plan: whether its checks are open, and the way to begin it. */
function Coming({ item, machine, plan }: { item: Item; machine: string; plan: string }) {
  const { to } = usePaths()
  const move = commandsOf(item).at(-1)
  const before = commandsOf(item).slice(0, -1)
  const { data } = useMoveLook(move?.type === 'guest.migrate' ? move : undefined, before)
  return (
    <li className="border-t border-line first:border-0 py-2 flex flex-wrap gap-x-4 items-baseline">
      <span className="font-medium">{item.title}</span>
      <span className="text-soft text-dense">
        {machine}, plan{' '}
        <Link className="link" to={to(`plans/${item.planId}`)}>
          {plan}
        </Link>
        {data && `, checks: ${data.sentence ?? sayChecks(data.checks)}`}
      </span>
      <BeginItem item={item} />
    </li>
  )
}

function BeginItem({ item }: { item: Item }) {
  const { to } = usePaths()
  return (
    <ButtonLink look="quiet" className="!min-h-7" to={to(`plans/${item.planId}/run`)}>
      Carry out<span className="sr-only"> {item.title}</span>
    </ButtonLink>
  )
}
