import {
  counted,
  formatDuration,
  isAhead,
  itemsOf,
  minutesOf,
  projectPlan,
  timeZoneOf,
  type Estate,
  type Item,
  type Plan,
  formatInstant,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useNow } from '../../lib/use-now'
import { Button, ButtonLink } from '../../ui/button'
import { Empty, Page, Part } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { useHeldTicks, type Refused, type Tick } from './held-ticks'
import { PlanReport } from './plan-report'
import { RunItem } from './run-item'

/** Told again so often: decision times come to the minute. */
const NOW_MS = 10_000
const MS_PER_MINUTE = 60_000

/** A plan on the day itself: the next item large, with all that is to be minded, what was kept back without a connection, what comes then. */
export function RunPage() {
  const { id = '' } = useParams()
  const { recorded } = useEstate()
  const plan = recorded.find('plan', id)
  return plan ? <Run key={id} plan={plan} /> : <RemovedPage kind="plan" id={id} />
}

function Run({ plan }: { plan: Plan }) {
  const { recorded } = useEstate()
  const { to } = usePaths()
  const { held, refused, forget, tick, shown } = useHeldTicks(plan.id)
  const [chosenId, setChosen] = useState<string>()
  const at = useNow(NOW_MS)
  const items = useMemo(() => itemsOf(shown, plan.id), [shown, plan.id])
  const places = useMemo(() => new Map(projectPlan(shown, plan.id).items.map((place) => [place.item.id, place])), [shown, plan.id])
  const ahead = items.filter(isAhead)
  const over = items.filter((item) => !isAhead(item))
  const next = ahead.find(({ id }) => id === chosenId) ?? ahead[0]
  const minutesLeft = ahead.reduce((sum, item) => sum + minutesOf(shown, item).value, 0)
  const zone = timeZoneOf(recorded)
  const note = lastNote(over)
  return (
    <Page
      title={plan.name}
      about={
        <p>
          {over.length} of {counted(items.length, 'item')} settled
          {minutesLeft > 0 &&
            `, about ${formatDuration(minutesLeft * 60)} to go, until ${formatInstant(new Date(at + minutesLeft * MS_PER_MINUTE).toISOString(), zone)}`}
          .
        </p>
      }
      actions={<ButtonLink to={to(`plans/${plan.id}`)}>Whole plan</ButtonLink>}
    >
      <div className="max-w-[680px]">
        <div role="status">
          {held.length > 0 && (
            <p className="border-l-2 border-warning pl-3 py-1 my-2">
              No connection. {counted(held.length, 'tick')} {held.length === 1 ? 'is' : 'are'} kept in this browser and sent in order when
              it is back; leave the page open.
            </p>
          )}
        </div>
        {refused.map((one) => (
          <Contested key={`${one.command.itemId} ${one.at}`} one={one} zone={zone} leave={() => forget(one)} />
        ))}
        {note && (
          <p className="border-l-2 border-sand pl-3 py-1 my-2 whitespace-pre-wrap">
            <b className="font-medium">
              Note {note.by ? `from ${recorded.find('person', note.by)?.name ?? ''} ` : ''}on “{note.title}”:
            </b>{' '}
            {note.text}
          </p>
        )}
        {next ? (
          <RunItem key={next.id} item={next} place={places.get(next.id)} estate={shown} at={at} tick={tick} />
        ) : (
          <Empty>
            {items.length === 0
              ? 'This plan has no items yet; they are added from the pages that offer “Add to plan”, and tasks on the plan’s own page.'
              : 'Nothing is left to be done. What was planned and what became of it is below.'}
          </Empty>
        )}
        {ahead.length > 1 && (
          <Part title={`After that, ${ahead.length - 1}`}>
            <ol>
              {ahead
                .filter((item) => item !== next)
                .map((item) => (
                  <Coming key={item.id} item={item} estate={shown} choose={() => setChosen(item.id)} />
                ))}
            </ol>
          </Part>
        )}
        {over.length > 0 && (
          <Part title={`Settled, ${over.length}`}>
            <ol className="text-dense">
              {over.map((item) => (
                <li key={item.id} className="border-t border-line first:border-0 py-1.5">
                  <span className="font-medium break-words">{item.title}</span>, {saidOf(item, shown, held)}
                </li>
              ))}
            </ol>
          </Part>
        )}
        {ahead.length === 0 && items.length > 0 && <PlanReport items={items} />}
      </div>
    </Page>
  )
}

function Coming({ item, estate, choose }: { item: Item; estate: Estate; choose: () => void }) {
  return (
    <li className="border-t border-line first:border-0 py-1 flex gap-3 items-center">
      <span className="flex-1 min-w-0 break-words">
        {item.title}
        <span className="text-soft text-dense">
          , about {formatDuration(minutesOf(estate, item).value * 60)}
          {item.personId && `, for ${estate.find('person', item.personId)?.name ?? ''}`}
          {item.state === 'under way' && ', under way'}
        </span>
      </span>
      <Button look="quiet" className="!min-h-11" onClick={choose}>
        Take first<span className="sr-only">: {item.title}</span>
      </Button>
    </li>
  )
}

/** A tick that could not be sent any more, beside what the record says. */
function Contested({ one, zone, leave }: { one: Refused; zone: string; leave: () => void }) {
  const { recorded } = useEstate()
  const item = recorded.find('item', one.command.itemId)
  const by = recorded.find('person', item?.doneById)?.name
  return (
    <div role="alert" className="border border-error/40 bg-error-wash rounded-md px-3 py-2 my-2">
      <p className="font-medium">“{item?.title ?? 'An item removed since'}” could not be recorded as you ticked it.</p>
      <dl className="text-dense grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 my-1">
        <dt>Yours</dt>
        <dd>
          {wordOf(one)}, ticked {formatInstant(one.at, zone)}
          {'reason' in one.command && typeof one.command.reason === 'string' && `: ${one.command.reason}`}
        </dd>
        <dt>The record</dt>
        <dd>
          {item ? item.state : 'not there'}
          {by && ` by ${by}`}
          {item?.doneAt && `, ${formatInstant(item.doneAt, zone)}`}
          {item?.reason && `: ${item.reason}`}
        </dd>
      </dl>
      <p className="text-dense">{one.sentence}</p>
      <Button className="mt-2" onClick={leave}>
        Leave the record as it is
      </Button>
    </div>
  )
}

const WORDS: Readonly<Record<string, string>> = {
  'item.begin': 'begun',
  'item.carryOut': 'done',
  'item.fail': 'failed',
  'item.skip': 'skipped',
}
const wordOf = ({ command }: Tick): string => WORDS[command.type] ?? command.type

function saidOf(item: Item, estate: Estate, held: readonly Tick[]): string {
  if (held.some(({ command }) => command.itemId === item.id)) return `${item.state}, kept here and not sent yet`
  const by = estate.find('person', item.doneById)?.name
  const took = item.minutesTaken === null ? '' : `, took ${formatDuration(item.minutesTaken * 60)}`
  return `${item.state}${by ? ` by ${by}` : ''}${took}${item.reason ? `: ${item.reason}` : ''}`
}

/** The note on the item that was settled last, if it has one: what its person says to whoever is next. */
function lastNote(over: readonly Item[]): { readonly text: string; readonly title: string; readonly by: string | null } | undefined {
  const [last] = [...over].sort((a, b) => ((a.doneAt ?? '') < (b.doneAt ?? '') ? 1 : -1))
  return last && last.note !== '' ? { text: last.note, title: last.title, by: last.doneById } : undefined
}
