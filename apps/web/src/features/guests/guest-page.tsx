import {
  disksOf,
  formatBytes,
  formatMiB,
  guestOverhead,
  platformOf,
  printSpecLine,
  specOf,
  sumFigure,
  type Adapter,
  type Guest,
} from '@insel/core'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import { useEstate } from '../../lib/estate'
import { usePaths } from '../../lib/paths'
import { useRecord } from '../../lib/use-record'
import { Button, ButtonLink } from '../../ui/button'
import { FigureView } from '../../ui/figure-view'
import { Ledger } from '../../ui/ledger'
import { Gone, Page, Part, Trouble } from '../../ui/page'
import { FindingsOf } from '../findings/findings-of'
import { History } from '../logbook/history'

/** One guest: what it is, its disks, adapters and addresses, findings, history, and what can be done with it. */
export function GuestPage() {
  const { id = '' } = useParams()
  const { estate, basis } = useEstate()
  const { to } = usePaths()
  const guest = estate.find('guest', id)
  if (!guest) return <Gone what="guest" />
  const host = estate.find('host', guest.hostId)
  const original = estate.find('guest', guest.clonedFromId)
  const backup = estate.find('store', guest.backupStoreId)
  const copies = estate.referring('guest', 'clonedFromId', guest.id)
  const adapters = [...estate.referring('adapter', 'guestId', guest.id)].sort((a, b) => a.position - b.position)
  const disks = disksOf(estate, guest.id)
  const addresses = adapters.flatMap((adapter) => estate.referring('address', 'adapterId', adapter.id))
  return (
    <Page
      title={guest.name}
      about={
        <>
          {guest.kind === 'machine' ? `Guest, ${guest.state}` : guest.kind === 'template' ? 'Template' : `External machine, ${guest.state}`}
          {host && (
            <>
              {' '}
              on{' '}
              <Link className="text-accent underline" to={to(`hosts/${host.id}`)}>
                {host.name}
              </Link>
            </>
          )}
          {guest.purpose && `, for ${guest.purpose}`}
          {guest.system && `, ${guest.system}`}
          <p className="font-mono text-[13px] mt-1.5 bg-sheet border border-line rounded-md px-2 py-1 w-fit max-w-full break-words select-all">
            {printSpecLine(specOf(estate, guest))}
          </p>
          {guest.note && <p className="mt-1 max-w-[70ch] whitespace-pre-wrap wrap-anywhere">{guest.note}</p>}
        </>
      }
      actions={
        basis === 'recorded' ? (
          <Actions guest={guest} />
        ) : (
          <p className="text-soft text-[13px] max-w-56">Shown with the plan. Switch to Recorded to change it.</p>
        )
      }
    >
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
            {disks.length === 0 && <p className="text-soft py-1">None.</p>}
            {disks.length > 0 && (
              <Ledger headings={['#', 'use', 'size', 'used', 'kind', 'store']}>
                {disks.map((disk) => (
                  <tr key={disk.id}>
                    <td className="font-mono">{disk.position}</td>
                    <td>
                      <Link className="hover:text-accent hover:underline" to={to(`records/disk/${disk.id}`)}>
                        {disk.use}
                      </Link>
                    </td>
                    <td className="font-mono">{formatBytes(disk.sizeBytes)}</td>
                    <td className="font-mono">{disk.usedBytes === null ? 'not seen yet' : formatBytes(disk.usedBytes)}</td>
                    <td>{disk.provisioning}</td>
                    <td className="font-mono">{estate.find('store', disk.storeId)?.name ?? 'its own drive'}</td>
                  </tr>
                ))}
              </Ledger>
            )}
          </Part>
          <Adapters guest={guest} adapters={adapters} />
          <History id={guest.id} />
        </div>
        <div>
          <Part title="Size">
            <dl className="grid grid-cols-[130px_1fr] gap-y-1 text-[13px] py-1">
              <dt className="text-faint">Processors</dt>
              <dd>
                {guest.vcpu} vCPU, {guest.latency}
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
              </dd>
              <dt className="text-faint">Firmware</dt>
              <dd>{guest.firmware}</dd>
              <dt className="text-faint">Backed up to</dt>
              <dd>{backup ? <span className="font-mono">{backup.name}</span> : 'nothing recorded'}</dd>
              <dt className="text-faint">Generalised</dt>
              <dd>{guest.isGeneralised ? 'yes' : 'no'}</dd>
              {original && (
                <>
                  <dt className="text-faint">Cloned from</dt>
                  <dd>
                    <Link className="text-accent underline" to={to(`guests/${original.id}`)}>
                      {original.name}
                    </Link>
                  </dd>
                </>
              )}
              {copies.length > 0 && (
                <>
                  <dt className="text-faint">Copies</dt>
                  <dd>
                    {copies.map((copy, index) => (
                      <span key={copy.id}>
                        {index > 0 && ', '}
                        <Link className="text-accent underline" to={to(`guests/${copy.id}`)}>
                          {copy.name}
                        </Link>
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
          <FindingsOf ids={[guest.id, ...disks.map((d) => d.id), ...adapters.map((a) => a.id), ...addresses.map((a) => a.id)]} />
        </div>
      </div>
    </Page>
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

function Actions({ guest }: { guest: Guest }) {
  const { to } = usePaths()
  const { record, trouble } = useRecord()
  const power = (state: 'running' | 'stopped') => record([{ type: 'guest.power', guestId: guest.id, state }])
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
        {guest.kind === 'machine' &&
          (guest.state === 'running' ? (
            <Button onClick={() => void power('stopped')}>Record as stopped</Button>
          ) : (
            <Button onClick={() => void power('running')}>Record as running</Button>
          ))}
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
                    <Link className="hover:text-accent hover:underline" to={to(`records/adapter/${adapter.id}`)}>
                      {network.name}
                    </Link>
                  ) : (
                    <Link className="text-warning hover:underline" to={to(`records/adapter/${adapter.id}`)}>
                      not plugged in
                    </Link>
                  )}
                </td>
                <td className="font-mono whitespace-nowrap">{adapter.mac}</td>
                <td>
                  {estate.referring('address', 'adapterId', adapter.id).map((address) => (
                    <span key={address.id} className="flex items-baseline gap-2 whitespace-nowrap">
                      <Link className="font-mono hover:underline" to={to(`records/address/${address.id}`)}>
                        {address.ip}
                      </Link>
                      {basis === 'recorded' && (
                        <button
                          type="button"
                          className="text-accent hover:underline"
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
                  {basis === 'recorded' && adapter.networkId && (
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
