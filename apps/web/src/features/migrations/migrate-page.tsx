import {
  adaptersOf,
  type Command,
  counted,
  disksOf,
  type Fit,
  formatBytes,
  formatDuration,
  moveTime,
  type MoveTime,
  proposeMigration,
  sayRate,
  storesForDisks,
  verbs,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useParams } from 'react-router'
import { useEstate } from '../../estate'
import { useKey } from '../../lib/keys'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { FigureView } from '../figures/figure-view'
import { HostChoice } from '../placement/host-choice'
import { Page } from '../../ui/page'
import { RemovedPage } from '../records/removed'
import { Choice } from '../../ui/choice'

/** A guest's move to another host: where to, its disks to which stores, its adapters to which networks, and the difference. */
export function MigratePage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const guest = estate.find('guest', id)
  const [hostId, setHostId] = useState('')
  const [stores, setStores] = useState<Readonly<Record<string, string>>>({})
  const [networks, setNetworks] = useState<Readonly<Record<string, string>>>({})
  const [method, setMethod] = useState<(typeof methods)[number]>('cold copy')
  const fits = useMemo((): readonly Fit[] => {
    if (!guest) return []
    const order = { fits: 0, remark: 1, no: 2 }
    return estate
      .all('host')
      .filter((host) => host.id !== guest.hostId)
      .map((host) => proposeMigration(estate, guest, host).fit)
      .sort((a, b) => order[a.verdict] - order[b.verdict])
  }, [estate, guest])
  const host = estate.find('host', hostId)
  const commands = useMemo((): readonly Command[] | undefined => {
    if (!guest || !host) return undefined
    const proposed = proposeMigration(estate, guest, host).command
    const mapped = { ...proposed.stores, ...stores }
    return [
      {
        ...proposed,
        method,
        ...(Object.keys(mapped).length > 0 ? { stores: mapped } : {}),
        ...(Object.keys(networks).length > 0 ? { networks } : {}),
      },
    ]
  }, [estate, guest, host, stores, networks, method])
  const chooseHost = (next: string) => {
    setHostId(next)
    setStores({})
    setNetworks({})
  }
  const proposal = useProposal({ commands, recorded: () => go(to(`guests/${id}`)), planAt: 'board' })
  useKey('mod+Enter', () => void proposal.record())
  if (!guest) return <RemovedPage kind="guest" id={id} />
  const command = commands?.[0]?.type === 'guest.migrate' ? commands[0] : undefined
  const reached = host ? storesForDisks(estate, host) : []
  const adapters = adaptersOf(estate, guest.id)
  return (
    <Page title={`Migrate ${guest.name}`} about={`It is on ${estate.find('host', guest.hostId)?.name ?? 'no host'}, ${guest.state}.`}>
      <form
        className="beside"
        onSubmit={(event) => {
          event.preventDefault()
          void proposal.record()
        }}
      >
        <div>
          <HostChoice legend="Target host" fits={fits} chosen={hostId} choose={chooseHost} />
          {host && command && (
            <>
              <h2 className="mt-6">Disks</h2>
              {disksOf(estate, guest.id).map((disk) => {
                const chosen = command.stores?.[disk.id] ?? disk.storeId ?? ''
                return (
                  <label
                    key={disk.id}
                    className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[220px_240px] gap-3 items-center py-1.5 border-t border-line text-dense"
                  >
                    <span>
                      {disk.position} {disk.use}, <span className="font-mono">{formatBytes(disk.sizeBytes)}</span> from{' '}
                      {estate.find('store', disk.storeId)?.name}
                    </span>
                    <select
                      className="field"
                      value={reached.some((store) => store.id === chosen) ? chosen : ''}
                      onChange={(event) => setStores({ ...stores, [disk.id]: event.target.value })}
                    >
                      <option value="" disabled>
                        choose a store…
                      </option>
                      {reached.map(({ id: storeId, name }) => (
                        <option key={storeId} value={storeId}>
                          {name}
                        </option>
                      ))}
                    </select>
                  </label>
                )
              })}
              <h2 className="mt-5">Networks</h2>
              {adapters.map((adapter) => {
                const carried = estate
                  .referring('attachment', 'hostId', host.id)
                  .flatMap((attachment) => estate.find('network', attachment.networkId) ?? [])
                const current = estate.find('network', adapter.networkId)
                const isCarried = carried.some((network) => network.id === adapter.networkId)
                return (
                  <label
                    key={adapter.id}
                    className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[220px_240px] gap-3 items-center py-1.5 border-t border-line text-dense"
                  >
                    <span>
                      Adapter {adapter.position}, on {current?.name ?? 'no network'}
                    </span>
                    <Choice
                      value={networks[adapter.id] ?? adapter.networkId ?? ''}
                      choose={(networkId) => {
                        const { [adapter.id]: _, ...others } = networks
                        setNetworks(networkId === adapter.networkId ? others : { ...others, [adapter.id]: networkId })
                      }}
                      options={[
                        ...(current && !isCarried ? [[current.id, `${current.name}, not attached there`] as const] : []),
                        ...carried.map(
                          ({ id: networkId, name }) =>
                            [networkId, networkId === adapter.networkId ? name : `${name}, its addresses are released`] as const,
                        ),
                      ]}
                    />
                  </label>
                )
              })}
              <label className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[220px_240px] gap-3 items-center py-1.5 mt-4 text-dense">
                <b>Method</b>
                <select className="field" value={method} onChange={(event) => setMethod(event.target.value as typeof method)}>
                  {methods.map((one) => (
                    <option key={one}>{one}</option>
                  ))}
                </select>
              </label>
            </>
          )}
          {host && command && <HowLong time={moveTime(estate, guest, host, method, command.stores ?? {})} />}
          <ProposalFooter proposal={proposal} label="Record migration" isReady={commands !== undefined} isForm />
        </div>
        <div>{hostId ? <Effect commands={commands} /> : <p className="text-faint">Choose a host to see what would change.</p>}</div>
      </form>
    </Page>
  )
}

/** How long the copy takes, with its working, and what own moves say. */
function HowLong({ time: { bytes, limits, rate, copySeconds, aroundSeconds } }: { time: MoveTime }) {
  const [slowest, ...others] = limits
  return (
    <div className="mt-5 text-dense">
      <h2>How long</h2>
      {bytes.value === 0 ? (
        <p className="py-1">Nothing is copied: its disks stay where they are. About {formatDuration(aroundSeconds)} of work around it.</p>
      ) : (
        <>
          <p className="py-1">
            <FigureView figure={bytes} title="What is copied" /> in about <b className="font-medium">{formatDuration(copySeconds.p50)}</b>;
            one time in ten longer than {formatDuration(copySeconds.p90)}. Around it about {formatDuration(aroundSeconds)} of work.
          </p>
          <p className="text-soft">
            {rate.count > 0
              ? `${counted(rate.count, 'own move')} by this method ${rate.count === 1 ? 'stands' : 'stand'} behind it. `
              : 'No own move by this method says what it moved yet; record it on finished migrations. '}
            Slowest: {slowest?.label}, {sayRate(slowest?.bytesPerSecond ?? 0)} ({slowest?.from}).
          </p>
          {others.length > 0 && (
            <details>
              <summary className="text-accent min-h-7 content-center">What else it passes</summary>
              <ul className="text-soft">
                {others.map(({ label, bytesPerSecond, from }) => (
                  <li key={label}>
                    {label}: {sayRate(bytesPerSecond)} ({from})
                  </li>
                ))}
              </ul>
            </details>
          )}
        </>
      )}
    </div>
  )
}

const methods = verbs['guest.migrate'].fields.method.options
