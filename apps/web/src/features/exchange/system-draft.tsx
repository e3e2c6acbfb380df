import {
  demandOfDraft,
  type Estate,
  fitOn,
  formatBytes,
  formatMiB,
  guestNameOf,
  ovfCommands,
  ovfDraft,
  type OvfMapping,
  type OvfSystem,
  rankHosts,
  type Store,
  storesForDisks,
  inNameOrder,
} from '@insel/core'
import { useMemo, useState, type ReactNode } from 'react'
import { useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { byName, Choice } from '../../ui/choice'

/** What a system of a descriptor is to become, with what was chosen, or else proposed: the host where it fits best, and its stores. */
function mappingOf(
  estate: Estate,
  system: OvfSystem,
  { name, hostId, networks, storeIds, keepsMacs }: Chosen,
): { readonly mapping: OvfMapping; readonly stores: readonly Store[] } {
  const bare = { name, hostId: hostId ?? '', networks, stores: [], keepsMacs }
  const demand = demandOfDraft(ovfDraft(estate, system, bare))
  const host = estate.find('host', hostId) ?? estate.find('host', rankHosts(estate, demand)[0]?.hostId)
  const stores = host ? storesForDisks(estate, host) : []
  const proposed = host ? fitOn(estate, host, demand).stores : []
  return {
    stores,
    mapping: {
      ...bare,
      hostId: host?.id ?? '',
      stores: system.disks.map((_, index) => (stores.find(({ id }) => id === storeIds[index]) ?? proposed[index] ?? stores[0])?.id ?? null),
    },
  }
}
/** What a person has chosen so far; what is not there is proposed. */
interface Chosen extends Pick<OvfMapping, 'name' | 'networks' | 'keepsMacs'> {
  readonly hostId: string | undefined
  readonly storeIds: readonly (string | null)[]
}

/** A system of a descriptor as the guest it is to become: where it goes, what it is plugged into, what that would do. */
export function SystemDraft({ system }: { system: OvfSystem }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const names = [...new Set(system.adapters.flatMap(({ network }) => network ?? []))]
  const [name, setName] = useState(() => guestNameOf(estate, system.name))
  const [hostId, setHost] = useState<string>()
  const [networks, setNetworks] = useState<Readonly<Record<string, string | null>>>(() =>
    Object.fromEntries(names.map((one) => [one, estate.byKey('network', { name: one })[0]?.id ?? null])),
  )
  const [storeIds, setStores] = useState<readonly (string | null)[]>([])
  const [keepsMacs, setKeepsMacs] = useState(false)
  const { mapping, stores } = useMemo(
    () => mappingOf(estate, system, { name, hostId, networks, storeIds, keepsMacs }),
    [estate, system, name, hostId, networks, storeIds, keepsMacs],
  )
  const commands = useMemo(() => (mapping.hostId ? ovfCommands(estate, system, mapping, ids) : undefined), [estate, system, mapping])
  const proposal = useProposal({
    commands,
    recorded(done) {
      const guest = done.find(({ type }) => type === 'guest.add')
      if (guest?.type === 'guest.add') return go(to(`guests/${guest.record.id ?? ''}`))
    },
    planAt: 'board',
  })
  const row = (label: string, input: ReactNode) => (
    <label key={label} className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[150px_minmax(0,1fr)] gap-3 items-center text-dense py-0.5">
      <span>{label}</span>
      {input}
    </label>
  )
  return (
    <div className="border-l-2 border-accent pl-3 mt-2">
      <p className="text-dense">
        {system.vcpu} vCPU, {formatMiB(system.memoryMiB)},{' '}
        {system.disks.map(({ sizeBytes }) => formatBytes(sizeBytes)).join(' + ') || 'no disk'}
        {system.system && `, ${system.system}`}
      </p>
      {row('Name', <input className="field font-mono" value={name} onChange={(event) => setName(event.target.value)} />)}
      {row(
        'Host',
        <Choice
          aria-label="Host"
          value={mapping.hostId}
          choose={setHost}
          none={mapping.hostId === '' ? 'none is recorded' : undefined}
          options={byName(inNameOrder(estate.all('host')))}
        />,
      )}
      {names.map((one) =>
        row(
          `Network ${one}`,
          <Choice
            key={one}
            aria-label={`Network ${one}`}
            value={networks[one] ?? ''}
            choose={(networkId) => setNetworks({ ...networks, [one]: networkId || null })}
            none="none"
            options={byName(inNameOrder(estate.all('network')))}
          />,
        ),
      )}
      {system.disks.map((disk, index) =>
        row(
          `Disk ${index + 1}, ${disk.use}`,
          <select
            key={index}
            className="field"
            aria-label={`Store of disk ${index + 1}`}
            value={mapping.stores[index] ?? ''}
            onChange={(event) =>
              setStores(system.disks.map((_, other) => (other === index ? event.target.value : (storeIds[other] ?? null))))
            }
          >
            {stores.map((store) => (
              <option key={store.id} value={store.id}>
                {store.name}
              </option>
            ))}
          </select>,
        ),
      )}
      <label className="flex items-center gap-2 text-dense py-1">
        <input
          type="checkbox"
          className="size-4 accent-[var(--accent)]"
          checked={keepsMacs}
          onChange={(event) => setKeepsMacs(event.target.checked)}
        />
        Keep its MACs: only if the original never runs at the same time
      </label>
      <Effect commands={commands} withDifference={false} />
      <ProposalFooter proposal={proposal} label="Add the guest" isReady={commands !== undefined} />
    </div>
  )
}
