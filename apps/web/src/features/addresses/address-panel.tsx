import {
  timeZoneOf,
  formatInstant,
  counted,
  addressOwner,
  kinds,
  readField,
  recordTitle,
  type AddressCell,
  type Estate,
  type Subnet,
} from '@insel/core'
import { useId, useState, type SyntheticEvent } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Trouble } from '../../ui/page'

/** What can be done with the chosen address or run: assign, reserve, release. */
export function AddressPanel({
  subnet,
  cells,
  extendTo,
  done,
}: {
  subnet: Subnet
  cells: readonly AddressCell[]
  /** Takes the run from here to another address; false where that is not drawn here. */
  extendTo: (ip: string) => boolean
  done: () => void
}) {
  const [first, last] = [cells[0], cells.at(-1)]
  if (!first || !last) return null
  return (
    <div className="border-l-2 border-accent pl-4 py-1 max-w-[760px]" aria-live="polite">
      {cells.length > 1 ? (
        <RunPanel subnet={subnet} cells={cells} first={first.ip} last={last.ip} done={done} />
      ) : (
        <>
          <OnePanel subnet={subnet} cell={first} />
          <RunEnd from={first.ip} extendTo={extendTo} />
        </>
      )}
    </div>
  )
}

/** Takes a run without a drag: its last address is typed. */
function RunEnd({ from, extendTo }: { from: string; extendTo: (ip: string) => boolean }) {
  const [last, setLast] = useState('')
  const [trouble, setTrouble] = useState<string>()
  const take = (event: SyntheticEvent) => {
    event.preventDefault()
    // The last part alone is enough: the others are as in the first address.
    const typed = last.trim().replace(/^\.?(\d+)$/, (_, part: string) => from.slice(0, from.lastIndexOf('.') + 1) + part)
    const reading = readField(kinds.address.fields.ip, typed)
    if (!reading.ok) setTrouble(reading.sentence)
    else if (!extendTo(String(reading.value))) setTrouble(`${String(reading.value)} is not on these lines. Enter an address that is.`)
  }
  return (
    <form onSubmit={take} className="mt-3 flex flex-wrap items-end gap-2 text-dense">
      <label>
        <span className="text-soft block">Or several, up to</span>
        <input
          className="field font-mono !w-44"
          value={last}
          onChange={(event) => {
            setLast(event.target.value)
            setTrouble(undefined)
          }}
        />
      </label>
      <Button type="submit" disabled={last.trim() === ''}>
        Select to there
      </Button>
      {trouble && <Trouble>{trouble}</Trouble>}
    </form>
  )
}

function RunPanel({
  subnet,
  cells,
  first,
  last,
  done,
}: {
  subnet: Subnet
  cells: readonly AddressCell[]
  first: string
  last: string
  done: () => void
}) {
  const { record, trouble } = useRecord()
  const [note, setNote] = useState('')
  const taken = cells.filter(({ address }) => address)
  const reserve = async (event: SyntheticEvent) => {
    event.preventDefault()
    if (await record([{ type: 'address.reserve', subnetId: subnet.id, first, last, note }])) done()
  }
  const releaseAll = () =>
    record(
      taken.flatMap(({ address }) => (address ? [{ type: 'address.release' as const, addressId: address.id }] : [])),
      `${counted(taken.length, 'address', 'addresses')} released`,
    )
  const isOurs = taken.length === cells.length && taken.every(({ address }) => address?.kind === 'reserved')
  return (
    <form onSubmit={(event) => void reserve(event)}>
      <p className="font-mono font-medium">
        {first} to {last}
      </p>
      <p className="text-dense text-soft mb-2">
        {counted(cells.length, 'address', 'addresses')}, {taken.length === 0 ? 'none recorded' : `${taken.length} recorded`}.
      </p>
      {isOurs ? (
        <Button onClick={() => void releaseAll().then(done)}>Release these {cells.length}</Button>
      ) : (
        <>
          <label className="block">
            <span className="text-soft text-dense">Kept for</span>
            <input className="field" value={note} onChange={(event) => setNote(event.target.value)} />
          </label>
          <Button type="submit" look="primary" className="mt-2">
            Reserve {counted(cells.length, 'address', 'addresses')}
          </Button>
        </>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </form>
  )
}

/** Who could get an address on a network: adapters plugged into it, those without one first, and hosts. */
function receivers(
  estate: Estate,
  networkId: string,
): readonly { readonly text: string; readonly owner: { adapterId: string } | { hostId: string }; readonly has: boolean }[] {
  const adapters = estate.referring('adapter', 'networkId', networkId).map((adapter) => ({
    text: recordTitle(estate, 'adapter', adapter),
    owner: { adapterId: adapter.id },
    has: estate.referring('address', 'adapterId', adapter.id).length > 0,
  }))
  const hosts = estate.all('host').map((host) => ({ text: `host ${host.name}`, owner: { hostId: host.id }, has: true }))
  return [...adapters.filter(({ has }) => !has), ...adapters.filter(({ has }) => has), ...hosts]
}

function OnePanel({ subnet, cell }: { subnet: Subnet; cell: AddressCell }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const { address } = cell
  const guest = estate.find('guest', estate.find('adapter', address?.adapterId)?.guestId)
  const host = estate.find('host', address?.hostId)
  return (
    <>
      <p className="font-mono font-medium">{cell.ip}</p>
      <p className={`text-dense mb-2 ${cell.state === 'conflict' ? 'text-error' : 'text-soft'}`}>
        {cell.state === cell.says ? cell.state : `${cell.state}: ${cell.says}`}
        {cell.lease && `, last seen ${formatInstant(cell.lease.seenAt, timeZoneOf(estate))}`}
      </p>
      {address ? (
        <p className="flex flex-wrap gap-2 items-center">
          {(guest ?? host) && (
            <Link className="link target" to={to(guest ? `guests/${guest.id}` : `hosts/${host?.id ?? ''}`)}>
              {addressOwner(estate, address)}
            </Link>
          )}
          <ButtonLink to={to(`records/address/${address.id}`)}>Change</ButtonLink>
          <Button onClick={() => void record([{ type: 'address.release', addressId: address.id }], undefined, true)}>
            Release {cell.ip}
          </Button>
        </p>
      ) : (
        cell.state !== 'not assignable' && (
          <Give subnet={subnet} ip={cell.ip} isPool={cell.state === 'DHCP range' || cell.state === 'leased'} record={record} />
        )
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </>
  )
}

/** Gives an address to a machine, or keeps it free under a name. */
function Give({
  subnet,
  ip,
  isPool,
  record,
}: {
  subnet: Subnet
  ip: string
  isPool: boolean
  record: ReturnType<typeof useRecord>['record']
}) {
  const { estate } = useEstate()
  const listId = useId()
  const [who, setWho] = useState('')
  const [name, setName] = useState('')
  const [kind, setKind] = useState<'fixed' | 'DHCP reservation'>(isPool ? 'DHCP reservation' : 'fixed')
  const all = receivers(estate, subnet.networkId)
  const wanted = who.trim().toLowerCase()
  // A guest's name alone means its adapter here.
  const receiver =
    all.find(({ text }) => text.toLowerCase() === wanted) ??
    all.find(({ text }) => text.toLowerCase().endsWith(` of ${wanted}`)) ??
    all.find(({ text }) => text.toLowerCase() === `host ${wanted}`)
  const shown = all.filter(({ text }) => text.toLowerCase().includes(wanted)).slice(0, 12)
  const assign = (event: SyntheticEvent) => {
    event.preventDefault()
    if (receiver) void record([{ type: 'address.assign', id: newId(), subnetId: subnet.id, ip, kind, ...receiver.owner }], undefined, true)
  }
  const reserve = (event: SyntheticEvent) => {
    event.preventDefault()
    void record(
      [{ type: 'address.add', record: { id: newId(), subnetId: subnet.id, ip, kind: 'reserved', ...(name ? { name } : {}) } }],
      undefined,
      true,
    )
  }
  return (
    <div className="grid sm:grid-cols-2 gap-x-8 gap-y-3">
      <form onSubmit={assign}>
        <label className="block">
          <span className="text-soft text-dense">Assign to</span>
          <input
            className="field"
            value={who}
            list={listId}
            autoComplete="off"
            placeholder="a guest on this network, or a host"
            aria-invalid={who !== '' && !receiver}
            onChange={(event) => setWho(event.target.value)}
          />
          <datalist id={listId}>
            {shown.map(({ text }) => (
              <option key={text} value={text} />
            ))}
          </datalist>
        </label>
        <p className={`text-small ${who !== '' && !receiver ? 'text-error' : 'text-faint'}`}>
          {who === ''
            ? `Without an address here: ${counted(all.filter(({ has }) => !has).length, 'adapter')}.`
            : receiver
              ? receiver.text
              : 'No adapter on this network and no host has this name.'}
        </p>
        <p className="flex flex-wrap gap-2 mt-1">
          <select className="field !w-40" aria-label="Kind" value={kind} onChange={(event) => setKind(event.target.value as 'fixed')}>
            <option value="fixed">fixed</option>
            <option>DHCP reservation</option>
          </select>
          <Button type="submit" look="primary" disabled={!receiver}>
            Assign {ip}
          </Button>
        </p>
      </form>
      <form onSubmit={reserve}>
        <label className="block">
          <span className="text-soft text-dense">Or reserve it, under a name</span>
          <input
            className="field font-mono"
            value={name}
            placeholder="printer-2, or nothing"
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <Button type="submit" className="mt-1.5">
          Reserve {ip}
        </Button>
      </form>
    </div>
  )
}
