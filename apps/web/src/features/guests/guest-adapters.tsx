import type { Adapter, FieldsOf, Guest } from '@insel/core'
import { type ReactNode } from 'react'
import { Link } from 'react-router'
import { mayRecord, useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../estate/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { Part, Trouble } from '../../ui/page'
import { useLine } from '../../ui/use-line'
import { Differs } from '../../ui/differs'

interface AdapterColumn {
  readonly heading: string
  readonly of: (adapter: Adapter) => ReactNode
}

const COLUMNS = {
  position: { heading: '#', of: ({ position }) => <span className="font-mono">{position}</span> },
  networkId: { heading: 'network', of: (adapter) => <NetworkLink adapter={adapter} /> },
  mac: {
    heading: 'MAC',
    of: ({ mac }) => <span className={`whitespace-nowrap ${mac ? 'font-mono' : 'text-faint'}`}>{mac ?? 'unknown'}</span>,
  },
  model: {
    heading: 'kind',
    of: ({ model, isConnected }) => (
      <>
        {model}
        {!isConnected && <span className="text-warning">, not connected</span>}
      </>
    ),
  },
  deviceName: {
    heading: 'in the system',
    of: ({ deviceName }) => <span className="font-mono whitespace-nowrap">{deviceName}</span>,
  },
  // Beside the kind.
  isConnected: null,
  // It is the guest's page.
  guestId: null,
} satisfies FieldsOf<'adapter', AdapterColumn>
const columns = Object.values<AdapterColumn | null>(COLUMNS).filter((column) => column !== null)

/** The adapters of a guest and their addresses, which can be assigned and released here. */
export function GuestAdapters({ guest, adapters }: { guest: Guest; adapters: readonly Adapter[] }) {
  const { basis } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  return (
    <Part
      title="Adapters and addresses"
      aside={
        <ButtonLink look="quiet" className="!min-h-7" to={to(`records/adapter/new?guestId=${guest.id}&position=${adapters.length + 1}`)}>
          Add adapter
        </ButtonLink>
      }
    >
      {adapters.length === 0 && <p className="text-soft py-1">None.</p>}
      {adapters.length > 0 && (
        <Ledger headings={[...columns.map(({ heading }) => heading), 'addresses', 'assign']}>
          {adapters.map((adapter) => (
            <tr key={adapter.id}>
              {columns.map(({ heading, of }) => (
                <td key={heading}>{of(adapter)}</td>
              ))}
              <td>
                <Addresses adapter={adapter} release={(addressId) => record([{ type: 'address.release', addressId }])} />
              </td>
              <td>
                {mayRecord(basis) && adapter.networkId && (
                  <Assign
                    adapter={adapter}
                    assign={(ip) => record([{ type: 'address.assign', adapterId: adapter.id, kind: 'fixed', ...(ip ? { ip } : {}) }])}
                  />
                )}
              </td>
            </tr>
          ))}
        </Ledger>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

function NetworkLink({ adapter }: { adapter: Adapter }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const network = estate.find('network', adapter.networkId)
  return (
    <Link className={network ? 'name-link' : 'text-warning hover:underline'} to={to(`records/adapter/${adapter.id}`)}>
      {network ? network.name : 'not plugged in'}
    </Link>
  )
}

function Addresses({ adapter, release }: { adapter: Adapter; release: (addressId: string) => Promise<unknown> }) {
  const { estate, basis } = useEstate()
  const { to } = usePaths()
  return estate.referring('address', 'adapterId', adapter.id).map((address) => (
    <span key={address.id} className="flex items-baseline gap-2 whitespace-nowrap">
      <Link className="font-mono name-link" to={to(`records/address/${address.id}`)}>
        {address.ip}
      </Link>
      <Differs id={address.id} className="ml-1.5" />
      {mayRecord(basis) && (
        <button type="button" className="link target" aria-label={`Release ${address.ip}`} onClick={() => void release(address.id)}>
          release
        </button>
      )}
    </span>
  ))
}

/** The next free address, or one that is typed; what was typed comes back where it is refused. */
function Assign({ adapter, assign }: { adapter: Adapter; assign: (ip: string) => Promise<boolean> }) {
  const { text: wanted, setText: setWanted, give } = useLine()
  return (
    <form
      className="flex gap-1"
      onSubmit={(event) => {
        event.preventDefault()
        void give(assign)
      }}
    >
      <input
        className="field font-mono !w-32"
        aria-label={`Address for adapter ${adapter.position}`}
        placeholder="next free"
        value={wanted}
        onChange={(event) => setWanted(event.target.value)}
      />
      <Button type="submit">Assign</Button>
    </form>
  )
}
