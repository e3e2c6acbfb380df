import {
  type Estate,
  formatBytes,
  formatMiB,
  formatNumber,
  formatUnit,
  type Guest,
  type Host,
  inNameOrder,
  machinesOn,
  memoryBudget,
  storeBudget,
  storesOf,
  vcpuBudget,
} from '@insel/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../lib/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { FigureView, Working } from '../figures/figure-view'
import { Ledger } from '../../ui/ledger'
import { Part, Trouble } from '../../ui/page'
import { FindingsOf } from '../findings/findings-of'
import { History } from '../logbook/history'
import { HostFrame } from './host-frame'
import { byName, Choice } from '../../ui/choice'

/** One host: its budgets with their working, its stores, networks, guests, addresses, findings and history. */
export function HostPage() {
  const { to } = usePaths()
  return (
    <HostFrame
      actions={(host) => (
        <>
          <ButtonLink look="primary" to={to(`guests/new?line=${encodeURIComponent(` on ${host.name}`)}`)}>
            Compose a guest here
          </ButtonLink>
          <ButtonLink to={to(`records/host/${host.id}`)}>Change</ButtonLink>
        </>
      )}
    >
      {(host) => <Overview host={host} />}
    </HostFrame>
  )
}

function Overview({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const stores = storesOf(estate, host.id)
  const unplanned = withoutPlanned(estate, host.id)
  return (
    <div className="grid lg:grid-cols-[minmax(0,1fr)_400px] gap-x-10">
      <div>
        <Budgets host={host} unplanned={unplanned} />
        <Guests host={host} />
        <Part
          title="Stores"
          aside={
            <ButtonLink look="quiet" className="!min-h-6" to={to(`records/store/new?hostId=${host.id}`)}>
              Add a store
            </ButtonLink>
          }
        >
          {stores.length === 0 ? (
            <p className="text-soft py-1">None of its own.</p>
          ) : (
            <Ledger headings={['name', 'kind', 'used', 'promised', 'capacity', 'if all thin disks fill']}>
              {stores.map((store) => {
                const budget = storeBudget(estate, store)
                const promisedToday = unplanned && storeBudget(unplanned.today, store).promised.value
                return (
                  <tr key={store.id}>
                    <td>
                      <Link className="font-mono name-link" to={to(`guests/stores/${store.id}`)}>
                        {store.name}
                      </Link>
                    </td>
                    <td>{store.kind}</td>
                    <td>
                      <FigureView figure={budget.used} title={`Used on ${store.name}`}>
                        {formatBytes(budget.used.value)}
                      </FigureView>
                    </td>
                    <td>
                      <FigureView figure={budget.promised} title={`Promised by ${store.name}`}>
                        {formatBytes(budget.promised.value)}
                      </FigureView>
                      {promisedToday !== undefined && promisedToday !== budget.promised.value && (
                        <span className="text-soft"> ({formatBytes(promisedToday)} today)</span>
                      )}
                    </td>
                    <td>{formatBytes(store.capacityBytes)}</td>
                    <td>
                      <FigureView
                        figure={budget.exposure}
                        title={`Exposure of ${store.name}`}
                        className={budget.exposure.value > 0 ? 'text-error' : ''}
                      >
                        {budget.exposure.value > 0
                          ? `short of ${formatBytes(budget.exposure.value)}`
                          : `${formatBytes(-budget.exposure.value)} stay free`}
                      </FigureView>
                    </td>
                  </tr>
                )
              })}
            </Ledger>
          )}
        </Part>
        <History id={host.id} />
      </div>
      <div>
        <FindingsOf ids={[host.id, ...stores.map((store) => store.id)]} />
        <Networks host={host} />
        <Addresses host={host} />
        <Part title="Identity">
          <dl className="grid grid-cols-[150px_1fr] gap-y-1 text-[13px] py-1">
            <dt className="text-faint">Management MAC</dt>
            <dd className="font-mono">{host.managementMac ?? 'not recorded'}</dd>
            <dt className="text-faint">Certificate fingerprint</dt>
            <dd className="font-mono break-all">{host.fingerprint ?? 'not recorded'}</dd>
            <dt className="text-faint">Trial or licence ends</dt>
            <dd>{host.trialEndsOn ?? 'not recorded'}</dd>
          </dl>
        </Part>
      </div>
    </div>
  )
}

function Budgets({ host, unplanned }: { host: Host; unplanned: Unplanned | undefined }) {
  const { estate } = useEstate()
  const memory = memoryBudget(estate, host)
  const processors = vcpuBudget(estate, host)
  const { today, planned = [] } = unplanned ?? {}
  return (
    <div className="grid sm:grid-cols-2 gap-x-10">
      <Part
        title="Memory"
        aside={
          <FigureView figure={memory.committed} title={`Memory committed on ${host.name}`}>
            {formatMiB(memory.committed.value)} committed
          </FigureView>
        }
      >
        <div className="py-2">
          <Working
            figure={memory.left}
            title={
              memory.left.value >= 0 ? `${formatUnit(memory.left.value, 'MiB')} left` : `${formatUnit(-memory.left.value, 'MiB')} too much`
            }
          />
          {today && (
            <p className="text-[13px] mt-2">
              Today, without {planned.length === 1 ? 'the planned guest' : `the ${planned.length} planned guests`}{' '}
              {planned.map(({ name }) => name).join(', ')}:{' '}
              <FigureView figure={memoryBudget(today, host).left} title={`Memory left on ${host.name} today`} /> left.
            </p>
          )}
        </div>
      </Part>
      <Part
        title="Processors"
        aside={
          <span className="text-soft text-[13px]">
            {processors.vcpu} vCPU, {processors.logical} logical CPUs
          </span>
        }
      >
        <div className="py-2">
          <Working figure={processors.left} title={`${formatNumber(processors.left.value)} cores left`} />
          {today && (
            <p className="text-[13px] mt-2">
              Today: <FigureView figure={vcpuBudget(today, host).left} title={`Cores left on ${host.name} today`} /> left.
            </p>
          )}
        </div>
      </Part>
    </div>
  )
}

/** The estate as it is today, and the guests it is without. */
interface Unplanned {
  readonly today: Estate
  readonly planned: readonly Guest[]
}

/** The estate as it is today: without guests that are only planned, and their disks. */
function withoutPlanned(estate: Estate, hostId: string): Unplanned | undefined {
  const planned = machinesOn(estate, hostId).filter(({ state }) => state === 'planned')
  if (planned.length === 0) return undefined
  const disks = planned.flatMap(({ id }) => estate.referring('disk', 'guestId', id))
  const removed = {
    ...Object.fromEntries(planned.map((record) => [record.id, { kind: 'guest' as const, record }])),
    ...Object.fromEntries(disks.map((record) => [record.id, { kind: 'disk' as const, record }])),
  }
  return { today: estate.with({ added: {}, updated: {}, removed }), planned }
}

function Guests({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const guests = inNameOrder(estate.referring('guest', 'hostId', host.id))
  return (
    <Part title={`Guests, ${guests.length}`}>
      {guests.length === 0 ? (
        <p className="text-soft py-1">None yet.</p>
      ) : (
        <Ledger headings={['name', 'state', 'made for', 'vCPU', 'memory']}>
          {guests.map((guest) => (
            <tr key={guest.id}>
              <td>
                <Link className="font-medium name-link" to={to(`guests/${guest.id}`)}>
                  {guest.name}
                </Link>
              </td>
              <td>{guest.kind === 'template' ? 'template' : guest.state}</td>
              <td>{guest.purpose}</td>
              <td className="font-mono">{guest.vcpu}</td>
              <td className="font-mono">{formatMiB(guest.memoryMiB)}</td>
            </tr>
          ))}
        </Ledger>
      )}
    </Part>
  )
}

function Networks({ host }: { host: Host }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const attachments = estate.referring('attachment', 'hostId', host.id)
  const names = attachments
    .map((attachment) => ({ attachment, network: estate.find('network', attachment.networkId) }))
    .sort((a, b) => (a.network?.vlanId ?? 0) - (b.network?.vlanId ?? 0))
  const others = estate.all('network').filter((network) => !attachments.some((attachment) => attachment.networkId === network.id))
  const carry = (networkId: string) => record([{ type: 'attachment.add', record: { hostId: host.id, networkId } }])
  return (
    <Part title="Networks carried">
      {names.length === 0 && <p className="text-soft py-1">None: its guests reach nobody.</p>}
      <ul className="text-[13px]">
        {names.map(({ attachment, network }) => (
          <li key={attachment.id} className="flex gap-3 py-1 border-t border-line first:border-0">
            <Link className="font-medium name-link w-24 truncate" to={to(`networks/${attachment.networkId}`)}>
              {network?.name}
            </Link>
            <span className="font-mono text-faint w-20">{network?.vlanId ? `VLAN ${network.vlanId}` : 'untagged'}</span>
            <Link className="hover:underline underline-offset-2" to={to(`records/attachment/${attachment.id}`)}>
              {attachment.kind}
            </Link>
          </li>
        ))}
      </ul>
      {others.length > 0 && (
        <Choice
          aria-label="Carry another network"
          className="mt-2 !w-56"
          value=""
          choose={(networkId) => void carry(networkId)}
          none="carry another network…"
          options={byName(others)}
        />
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}

function Addresses({ host }: { host: Host }) {
  const { estate } = useEstate()
  const [subnetId, setSubnetId] = useState('')
  const { record, trouble } = useRecord()
  const addresses = estate.referring('address', 'hostId', host.id)
  const management = estate.all('network').find((network) => network.role === 'management')
  const subnets = [...estate.all('subnet')].sort((a, b) => Number(b.networkId === management?.id) - Number(a.networkId === management?.id))
  const chosen = subnetId || subnets[0]?.id
  const assign = async () => {
    if (chosen) await record([{ type: 'address.assign', hostId: host.id, subnetId: chosen, kind: 'fixed' }])
  }
  const release = (addressId: string) => record([{ type: 'address.release', addressId }])
  return (
    <Part title="Management addresses">
      {addresses.map((address) => (
        <p key={address.id} className="flex items-center gap-3 text-[13px]">
          <span className="font-mono">{address.ip}</span> <span className="text-faint">{address.kind}</span>
          <Button look="quiet" className="!min-h-7" onClick={() => void release(address.id)} aria-label={`Release ${address.ip}`}>
            Release
          </Button>
        </p>
      ))}
      {addresses.length === 0 && <p className="text-soft py-1">None recorded.</p>}
      {subnets.length > 0 && (
        <div className="flex gap-2 mt-2">
          <Choice
            className="!w-56"
            aria-label="Subnet for a management address"
            value={chosen ?? ''}
            choose={setSubnetId}
            options={subnets.map(({ id, prefix, networkId }) => [id, `${prefix} ${estate.find('network', networkId)?.name ?? ''}`])}
          />
          <Button onClick={() => void assign()}>Assign next free</Button>
        </div>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
