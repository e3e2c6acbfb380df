import {
  type Adapter,
  adaptersOf,
  type Disk,
  disksOf,
  formatBytes,
  formatMiB,
  type Guest,
  guestOverhead,
  type GuestState,
  modeReach,
  platformOf,
  printSpecLine,
  specOf,
  statesAfter,
  sumFigure,
  timeZoneOf,
  waitsOf,
} from '@insel/core'
import { useState } from 'react'
import { Link } from 'react-router'
import { mayRecord, useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import { formatInstant } from '../../lib/time'
import { useRecord } from '../../lib/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { FigureView } from '../figures/figure-view'
import { Ledger } from '../../ui/ledger'
import { Part, Trouble } from '../../ui/page'
import { FindingsOf } from '../findings/findings-of'
import { History } from '../logbook/history'
import { GuestFrame } from './guest-frame'
import { GuestPlaces } from './guest-places'
import { GrowDisk } from '../stores/grow-disk'
import { Snapshots } from './snapshots'

/** One guest: what it is, its disks, adapters and addresses, findings, history, and what can be done with it. */
export function GuestPage() {
  return (
    <GuestFrame actions={(guest) => <GuestActions guest={guest} />} more={(guest) => <SpecOf guest={guest} />}>
      {(guest) => <Overview guest={guest} />}
    </GuestFrame>
  )
}

function SpecOf({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  return (
    <>
      <p className="font-mono text-[13px] mt-1.5 bg-sheet border border-line rounded-md px-2 py-1 w-fit max-w-full break-words select-all">
        {printSpecLine(specOf(estate, guest))}
      </p>
      {guest.note && <p className="mt-1 max-w-[70ch] whitespace-pre-wrap wrap-anywhere">{guest.note}</p>}
    </>
  )
}

function GuestActions({ guest }: { guest: Guest }) {
  const { basis } = useEstate()
  return mayRecord(basis) ? (
    <Actions guest={guest} />
  ) : (
    <p className="text-soft text-[13px] max-w-56">Shown with the plan. Switch to Recorded to change it.</p>
  )
}

function Overview({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const adapters = adaptersOf(estate, guest.id)
  const disks = disksOf(estate, guest.id)
  const addresses = adapters.flatMap((adapter) => estate.referring('address', 'adapterId', adapter.id))
  const snapshots = estate.referring('snapshot', 'guestId', guest.id)
  return (
    <div className="grid lg:grid-cols-[minmax(0,1fr)_400px] gap-x-10">
      <div>
        <Part
          title="Disks"
          aside={
            <ButtonLink
              look="quiet"
              className="!min-h-6"
              to={to(`records/disk/new?guestId=${guest.id}&position=${disks.length + 1}&use=data`)}
            >
              Add a disk
            </ButtonLink>
          }
        >
          <Disks disks={disks} guest={guest} />
        </Part>
        <Adapters guest={guest} adapters={adapters} />
        <Snapshots guest={guest} snapshots={snapshots} />
        <Dependencies guest={guest} />
        <History id={guest.id} />
      </div>
      <div>
        <Size guest={guest} />
        <FindingsOf
          ids={[
            guest.id,
            ...disks.map((d) => d.id),
            ...adapters.map((a) => a.id),
            ...addresses.map((a) => a.id),
            ...snapshots.map((one) => one.id),
          ]}
        />
        {guest.kind !== 'external' && <GuestPlaces guest={guest} />}
      </div>
    </div>
  )
}

function Disks({ disks, guest }: { disks: readonly Disk[]; guest: Guest }) {
  const { estate, basis } = useEstate()
  const { to } = usePaths()
  if (disks.length === 0) return <p className="text-soft py-1">None.</p>
  return (
    <Ledger headings={['#', 'use', 'size', 'used', 'kind', 'bus', 'store', '.extend']}>
      {disks.map((disk) => (
        <tr key={disk.id}>
          <td className="font-mono">{disk.position}</td>
          <td>
            <Link className="name-link" to={to(`records/disk/${disk.id}`)}>
              {disk.use}
            </Link>
          </td>
          <td className="font-mono whitespace-nowrap">{formatBytes(disk.sizeBytes)}</td>
          <td className="font-mono whitespace-nowrap">{disk.usedBytes === null ? 'not seen yet' : formatBytes(disk.usedBytes)}</td>
          <td>{disk.provisioning}</td>
          <td>{disk.bus}</td>
          <td className="font-mono wrap-anywhere">
            {disk.storeId ? (
              <Link className="name-link" to={to(`guests/stores/${disk.storeId}`)}>
                {estate.find('store', disk.storeId)?.name}
              </Link>
            ) : (
              'its own drive'
            )}
          </td>
          <td>{mayRecord(basis) && disk.storeId && <GrowDisk disk={disk} guest={guest} />}</td>
        </tr>
      ))}
    </Ledger>
  )
}

function Size({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const host = estate.find('host', guest.hostId)
  const original = estate.find('guest', guest.clonedFromId)
  const backup = estate.find('store', guest.backupStoreId)
  const copies = estate.referring('guest', 'clonedFromId', guest.id)
  const apart = estate.find('guest', guest.apartFromId)
  const medium = estate.find('image', guest.mediumId)
  const mode = host ? modeReach(host, estate.all('host')).find((one) => one.mode === guest.processorMode) : undefined
  const link = (other: Guest) => (
    <Link className="text-accent underline" to={to(`guests/${other.id}`)}>
      {other.name}
    </Link>
  )
  return (
    <Part title="Size and devices">
      <dl className="grid grid-cols-[130px_1fr] gap-y-1 text-[13px] py-1">
        <dt className="text-faint">Processors</dt>
        <dd>
          {guest.vcpu} vCPU{guest.sockets > 1 && ` in ${guest.sockets} sockets`}, {guest.latency}
        </dd>
        <dt className="text-faint">Processor mode</dt>
        <dd title={mode?.cost}>
          {guest.processorMode}
          {mode && (
            <span className="text-faint">
              , moves live to {mode.hosts.length > 0 ? mode.hosts.map(({ name }) => name).join(', ') : 'no other host'}
            </span>
          )}
        </dd>
        <dt className="text-faint">Memory</dt>
        <dd>
          {host ? (
            <FigureView
              figure={memoryFigure(guest, estate.find('platform', host.platformId) ?? platformOf(estate, host))}
              title={`Memory ${guest.name} takes on ${host.name}`}
            >
              {formatMiB(guest.memoryMiB)}
            </FigureView>
          ) : (
            formatMiB(guest.memoryMiB)
          )}
          {guest.memoryMinMiB !== null && `, at least ${formatMiB(guest.memoryMinMiB)}`}
        </dd>
        <dt className="text-faint">Firmware, board</dt>
        <dd>
          {guest.firmware}
          {guest.secureBoot && ', secure boot'}
          {guest.trustedModule && ', trusted module'}, {guest.machineType}
        </dd>
        <dt className="text-faint">Boots first from</dt>
        <dd>
          {guest.bootFirst}
          {medium && (
            <>
              ; in the drive:{' '}
              <Link className="text-accent underline" to={to('guests/images')}>
                {medium.name}
              </Link>
            </>
          )}
        </dd>
        <dt className="text-faint">Verified</dt>
        <dd>{guest.verifiedAt ? formatInstant(guest.verifiedAt, timeZoneOf(estate)) : 'not yet'}</dd>
        <dt className="text-faint">Backed up to</dt>
        <dd>{backup ? <span className="font-mono">{backup.name}</span> : 'nothing recorded'}</dd>
        <dt className="text-faint">Generalised</dt>
        <dd>{guest.isGeneralised ? 'yes' : 'no'}</dd>
        {guest.workload && (
          <>
            <dt className="text-faint">Sized for</dt>
            <dd>{guest.workload}</dd>
          </>
        )}
        {apart && (
          <>
            <dt className="text-faint">Kept apart from</dt>
            <dd>{link(apart)}</dd>
          </>
        )}
        {original && (
          <>
            <dt className="text-faint">Cloned from</dt>
            <dd>{link(original)}</dd>
          </>
        )}
        {copies.length > 0 && (
          <>
            <dt className="text-faint">Copies</dt>
            <dd>
              {copies.map((copy, index) => (
                <span key={copy.id}>
                  {index > 0 && ', '}
                  {link(copy)}
                </span>
              ))}
            </dd>
          </>
        )}
        {guest.tags.length > 0 && (
          <>
            <dt className="text-faint">Tags</dt>
            <dd className="font-mono">{guest.tags.map((tag) => `#${tag}`).join(' ')}</dd>
          </>
        )}
      </dl>
    </Part>
  )
}

/** What it waits for at the start, and what waits for it. */
function Dependencies({ guest }: { guest: Guest }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  if (guest.kind !== 'machine') return null
  const waits = waitsOf(estate, guest)
  const needed = estate.referring('dependency', 'needsId', guest.id).flatMap(({ guestId }) => estate.find('guest', guestId) ?? [])
  const recorded = estate.referring('dependency', 'guestId', guest.id)
  return (
    <Part
      title="Starts after"
      aside={
        <ButtonLink look="quiet" className="!min-h-6" to={to(`records/dependency/new?guestId=${guest.id}`)}>
          Add a dependency
        </ButtonLink>
      }
    >
      {waits.length === 0 && <p className="text-soft py-1">Nothing: it can be started first.</p>}
      <ul className="text-[13px]">
        {waits.map(({ guest: other, seconds, why }) => {
          const dependency = recorded.find(({ needsId }) => needsId === other.id)
          return (
            <li key={other.id} className="py-1 border-t border-line first:border-0">
              <Link className="link" to={to(`guests/${other.id}`)}>
                {other.name}
              </Link>{' '}
              and {seconds} s <span className="text-faint">{why}</span>{' '}
              {dependency && (
                <Link className="link" to={to(`records/dependency/${dependency.id}`)}>
                  Change
                </Link>
              )}
            </li>
          )
        })}
      </ul>
      {needed.length > 0 && <p className="text-[13px] text-soft py-1">Waits for it: {needed.map(({ name }) => name).join(', ')}.</p>}
    </Part>
  )
}

const memoryFigure = (guest: Guest, platform: Parameters<typeof guestOverhead>[0] & { readonly name: string }) =>
  sumFigure(
    'memory + overhead',
    'MiB',
    [
      { label: 'its memory', value: guest.memoryMiB, unit: 'MiB', sign: '+', from: `guest ${guest.name}` },
      {
        label: `${platform.guestOverheadMiB} MiB + ${platform.guestOverheadPercent} %`,
        value: guestOverhead(platform, guest.memoryMiB),
        unit: 'MiB',
        sign: '+',
        from: `platform ${platform.name}`,
      },
    ],
    'overhead per guest: default from memory, editable on the platform',
  )

/** What a change of state is called. */
const verbs: Readonly<Record<GuestState, string>> = {
  planned: 'Record as planned',
  'being installed': 'Record as being installed',
  running: 'Record as running',
  stopped: 'Record as stopped',
  retired: 'Retire',
}

function Actions({ guest }: { guest: Guest }) {
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const next = guest.kind === 'machine' ? statesAfter(guest.state) : []
  // What is usual stands first; retiring is offered only from stopped.
  const offered = next.filter((state) => (state === 'retired' ? guest.state === 'stopped' : true))
  const goTo = (state: GuestState) =>
    record(
      state === 'running' || state === 'stopped'
        ? guest.state === 'retired' || guest.state === 'being installed'
          ? [{ type: 'guest.update', id: guest.id, changes: { state } }]
          : [{ type: 'guest.power', guestId: guest.id, state }]
        : [{ type: 'guest.update', id: guest.id, changes: { state } }],
    )
  return (
    <div>
      <div className="flex flex-wrap gap-2">
        {guest.kind !== 'external' && (
          <ButtonLink look="primary" to={to(`guests/${guest.id}/clone`)}>
            Clone
          </ButtonLink>
        )}
        {guest.kind !== 'external' && (
          <ButtonLink look="primary" to={to(`guests/${guest.id}/migrate`)}>
            Migrate
          </ButtonLink>
        )}
        {offered.map((state) => (
          <Button key={state} onClick={() => void goTo(state)}>
            {verbs[state]}
          </Button>
        ))}
        <ButtonLink to={to(`guests/exchange?guest=${guest.id}`)}>Export</ButtonLink>
        <ButtonLink to={to(`records/guest/${guest.id}`)}>Change</ButtonLink>
      </div>
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  )
}

function Adapters({ guest, adapters }: { guest: Guest; adapters: readonly Adapter[] }) {
  const { estate, basis } = useEstate()
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const [wanted, setWanted] = useState<Readonly<Record<string, string>>>({})
  const assign = async (adapterId: string) => {
    const ip = wanted[adapterId]?.trim()
    if (await record([{ type: 'address.assign', adapterId, kind: 'fixed', ...(ip ? { ip } : {}) }]))
      setWanted((before) => ({ ...before, [adapterId]: '' }))
  }
  const release = (addressId: string) => record([{ type: 'address.release', addressId }])
  return (
    <Part
      title="Adapters and addresses"
      aside={
        <ButtonLink look="quiet" className="!min-h-6" to={to(`records/adapter/new?guestId=${guest.id}&position=${adapters.length + 1}`)}>
          Add an adapter
        </ButtonLink>
      }
    >
      {adapters.length === 0 && <p className="text-soft py-1">None.</p>}
      {adapters.length > 0 && (
        <Ledger headings={['#', 'network', 'MAC', 'addresses', 'assign']}>
          {adapters.map((adapter) => {
            const network = estate.find('network', adapter.networkId)
            return (
              <tr key={adapter.id}>
                <td className="font-mono">{adapter.position}</td>
                <td>
                  {network ? (
                    <Link className="name-link" to={to(`records/adapter/${adapter.id}`)}>
                      {network.name}
                    </Link>
                  ) : (
                    <Link className="text-warning hover:underline" to={to(`records/adapter/${adapter.id}`)}>
                      not plugged in
                    </Link>
                  )}
                </td>
                <td className={`whitespace-nowrap ${adapter.mac ? 'font-mono' : 'text-faint'}`}>{adapter.mac ?? 'unknown'}</td>
                <td>
                  {estate.referring('address', 'adapterId', adapter.id).map((address) => (
                    <span key={address.id} className="flex items-baseline gap-2 whitespace-nowrap">
                      <Link className="font-mono hover:underline" to={to(`records/address/${address.id}`)}>
                        {address.ip}
                      </Link>
                      {mayRecord(basis) && (
                        <button
                          type="button"
                          className="link"
                          aria-label={`Release ${address.ip}`}
                          onClick={() => void release(address.id)}
                        >
                          release
                        </button>
                      )}
                    </span>
                  ))}
                </td>
                <td>
                  {mayRecord(basis) && adapter.networkId && (
                    <form
                      className="flex gap-1"
                      onSubmit={(event) => {
                        event.preventDefault()
                        void assign(adapter.id)
                      }}
                    >
                      <input
                        className="field font-mono !w-32"
                        aria-label={`Address for adapter ${adapter.position}`}
                        placeholder="next free"
                        value={wanted[adapter.id] ?? ''}
                        onChange={(event) => setWanted((before) => ({ ...before, [adapter.id]: event.target.value }))}
                      />
                      <Button type="submit">Assign</Button>
                    </form>
                  )}
                </td>
              </tr>
            )
          })}
        </Ledger>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
    </Part>
  )
}
