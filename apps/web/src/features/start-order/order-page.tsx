import { inNameOrder, type Guest, startOrder, type StartOrder } from '@insel/core'
import { useMemo } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { Button, ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Empty, Page, Part } from '../../ui/page'
import { GuestsNav } from '../frames/guests-nav'
import { Choice } from '../../ui/choice'

const clock = (seconds: number) =>
  seconds === 0 ? 'at once' : seconds < 60 ? `+${seconds} s` : `+${Math.floor(seconds / 60)} min${seconds % 60 ? ` ${seconds % 60} s` : ''}`

/** In which order guests are started and stopped, for the estate, a host, a group or a tag: a list with waiting times. */
export function OrderPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  const [scope, setScope] = useQueryParam('of')
  const [direction, setDirection] = useQueryParam('way')
  const isStop = direction === 'stop'
  const machines = useMemo(
    () => estate.all('guest').filter(({ kind, state }) => kind === 'machine' && state !== 'planned' && state !== 'retired'),
    [estate],
  )
  const groups = [...new Set(machines.flatMap(({ group }) => group ?? []))].sort()
  const tags = [...new Set(machines.flatMap((guest) => guest.tags))].sort()
  const chosen = useMemo(() => machines.filter((guest) => isIn(guest, scope)), [machines, scope])
  const order = useMemo(() => startOrder(estate, chosen), [estate, chosen])
  const name = nameOf(scope, (id) => estate.find('host', id)?.name)
  return (
    <Page
      title="Start and stop order"
      about={
        <>
          What waits for what, including dependencies implied by stores and name servers.
          <GuestsNav />
        </>
      }
      actions={
        <span className="flex flex-wrap gap-2 print:hidden">
          <ButtonLink to={to('records/dependency/new')}>Add dependency</ButtonLink>
          <Button onClick={() => window.print()}>Print</Button>
        </span>
      }
    >
      <div className="flex flex-wrap gap-x-5 gap-y-2 items-center mb-4 print:hidden">
        <label className="inline-flex items-center gap-2">
          Of
          <Choice
            className="!w-56"
            value={scope}
            choose={setScope}
            none="the whole estate"
            options={[
              ...inNameOrder(estate.all('host')).map(({ id, name }) => [`host:${id}`, `host ${name}`] as const),
              ...groups.map((group) => [`group:${group}`, `group ${group}`] as const),
              ...tags.map((tag) => [`tag:${tag}`, `#${tag}`] as const),
            ]}
          />
        </label>
        <fieldset className="flex gap-4">
          <legend className="sr-only">Which way</legend>
          {(['start', 'stop'] as const).map((way) => (
            <label key={way} className="inline-flex items-center gap-1.5">
              <input
                type="radio"
                name="way"
                className="accent-[var(--accent)]"
                checked={isStop === (way === 'stop')}
                onChange={() => setDirection(way === 'stop' ? 'stop' : undefined)}
              />
              {way}
            </label>
          ))}
        </fieldset>
      </div>
      {chosen.length === 0 ? (
        <Empty action={<ButtonLink to={to('guests/new')}>Add guest</ButtonLink>}>
          No guest of {name} is in service: nothing is started or stopped.
        </Empty>
      ) : (
        <>
          <Circles order={order} />
          {isStop ? <Stop order={order} name={name} /> : <Start order={order} name={name} />}
        </>
      )}
    </Page>
  )
}

const isIn = ({ hostId, group, tags }: Guest, scope: string): boolean => {
  const [kind, ...rest] = scope.split(':')
  const value = rest.join(':')
  return kind === 'host' ? hostId === value : kind === 'group' ? group === value : kind === 'tag' ? tags.includes(value) : true
}
function nameOf(scope: string, hostName: (id: string) => string | undefined): string {
  const [kind, ...rest] = scope.split(':')
  const value = rest.join(':')
  return kind === 'host'
    ? (hostName(value) ?? 'a removed host')
    : kind === 'group'
      ? `group ${value}`
      : kind === 'tag'
        ? `#${value}`
        : 'the estate'
}

function Circles({ order }: { order: StartOrder }) {
  if (order.circles.length === 0) return null
  return (
    <Part title="Circular dependencies">
      {order.circles.map((circle) => (
        <p key={circle[0]?.id} className="text-error text-dense py-1">
          {circle.map(({ name }) => name).join(' waits for ')} waits for {circle[0]?.name}: none can be started first. Remove one
          dependency.
        </p>
      ))}
      {order.stuck.length > 0 && (
        <p className="text-dense py-1">
          Waits for one of them, so it is not in the list: {order.stuck.map(({ name }) => name).join(', ')}.
        </p>
      )}
    </Part>
  )
}

function GuestCell({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  return (
    <>
      <td>
        <Link className="font-medium whitespace-nowrap name-link" to={to(`guests/${guest.id}`)}>
          {guest.name}
        </Link>
      </td>
      <td>{estate.find('host', guest.hostId)?.name ?? ''}</td>
    </>
  )
}

const box = <td className="text-faint hidden print:table-cell">☐ ____ : ____</td>

function Start({ order, name }: { order: StartOrder; name: string }) {
  return (
    <Part title={`Starting ${name}`}>
      <Ledger headings={['#', 'guest', 'host', 'power on', 'after', '.done']}>
        {order.steps.map(({ guest, atSeconds, after, outside }, index) => (
          <tr key={guest.id}>
            <td className="font-mono">{index + 1}</td>
            <GuestCell guest={guest} />
            <td className="font-mono whitespace-nowrap">{clock(atSeconds)}</td>
            <td className="text-soft">
              {after.map(({ guest: other, seconds, why }) => `${other.name} and ${seconds} s (${why})`).join('; ')}
              {outside.length > 0 &&
                `${after.length > 0 ? '; ' : ''}needs ${outside.map(({ guest: other }) => other.name).join(', ')}, not in this list`}
            </td>
            {box}
          </tr>
        ))}
      </Ledger>
    </Part>
  )
}

function Stop({ order, name }: { order: StartOrder; name: string }) {
  const steps = [...order.steps].reverse()
  return (
    <Part title={`Stopping ${name}`}>
      <p className="text-dense border-l-2 border-warning pl-2 my-2 max-w-[80ch]">
        <b className="font-medium">Caution. </b>
        Shut each down from inside, and wait until it is off before the next. Forcing one off loses unwritten data.
      </p>
      <Ledger headings={['#', 'guest', 'host', 'only once these are off', '.done']}>
        {steps.map(({ guest }, index) => (
          <tr key={guest.id}>
            <td className="font-mono">{index + 1}</td>
            <GuestCell guest={guest} />
            <td className="text-soft">
              {order.steps
                .filter(({ after }) => after.some((wait) => wait.guest.id === guest.id))
                .map((step) => step.guest.name)
                .join(', ') || 'nothing waits for it'}
            </td>
            {box}
          </tr>
        ))}
      </Ledger>
    </Part>
  )
}
