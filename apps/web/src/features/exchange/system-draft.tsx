import {
  demandOfDraft,
  type Estate,
  fitOn,
  formatBytes,
  formatMiB,
  type Guest,
  guestNameOf,
  ovfCommands,
  ovfDraft,
  ovfSystemOf,
  type OvfMapping,
  type OvfSystem,
  rankHosts,
  type Store,
  storesForDisks,
  inNameOrder,
  kinds,
} from '@insel/core'
import { useMemo, useState, type ReactNode } from 'react'
import { useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { asOptions, byName, Choice } from '../../ui/choice'
import { Trouble } from '../../ui/page'
import { TickLine } from '../../ui/tick-line'

/** What a system of a descriptor is to become, with what was chosen, or else proposed: the host where it fits best, and its stores. */
function mappingOf(
  estate: Estate,
  system: OvfSystem,
  { hostId, storeIds, ...chosen }: Chosen,
): { readonly mapping: OvfMapping; readonly stores: readonly Store[] } {
  const bare = { ...chosen, hostId: hostId ?? '', stores: [] }
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
interface Chosen extends Omit<OvfMapping, 'hostId' | 'stores'> {
  readonly hostId: string | undefined
  readonly storeIds: readonly (string | null)[]
}

/** What the descriptor allows of processors and memory, where it says it. */
function limitsText({ limits }: OvfSystem): string {
  const said = (what: string, { min, max }: OvfSystem['limits']['vcpu'], text: (value: number) => string) =>
    min === null && max === null
      ? []
      : [`${what} ${[min === null ? '' : `from ${text(min)}`, max === null ? '' : `up to ${text(max)}`].filter(Boolean).join(' ')}`]
  const all = [...said('processors', limits.vcpu, String), ...said('memory', limits.memoryMiB, formatMiB)]
  return all.length > 0 ? `. It allows ${all.join(', ')}.` : ''
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
  const [firmware, setFirmware] = useState<Guest['firmware']>()
  const [systemId, setSystem] = useState(() => ovfSystemOf(estate, system)?.id ?? null)
  const [isWithout, setWithout] = useState(false)
  const { mapping, stores } = useMemo(
    () => mappingOf(estate, system, { name, hostId, networks, storeIds, firmware, systemId, keepsMacs }),
    [estate, system, name, hostId, networks, storeIds, firmware, systemId, keepsMacs],
  )
  const asksFirmware = system.more.firmware === undefined
  const isAnswered = mapping.hostId !== '' && (!asksFirmware || firmware !== undefined) && (system.refusals.length === 0 || isWithout)
  const commands = useMemo(
    () => (isAnswered ? ovfCommands(estate, system, mapping, ids) : undefined),
    [estate, system, mapping, isAnswered],
  )
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
        {limitsText(system)}
      </p>
      {system.remarks.length > 0 && (
        <ul className="text-dense text-warning" aria-label="What was left out or taken for something else">
          {system.remarks.map((remark) => (
            <li key={remark}>{remark}</li>
          ))}
        </ul>
      )}
      {system.refusals.length > 0 && (
        <Trouble>
          {system.refusals.join(' ')} The standard has a deployment refused where that is so.
          <TickLine isTicked={isWithout} onTick={setWithout} className="py-1">
            Plan it all the same, without what is said there
          </TickLine>
        </Trouble>
      )}
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
      {row(
        'System',
        <Choice
          aria-label="System"
          value={systemId ?? ''}
          choose={(id) => setSystem(id || null)}
          none={system.system ? `none of these: “${system.system}” goes into the note` : 'none'}
          options={byName(inNameOrder(estate.all('system')))}
        />,
      )}
      {asksFirmware &&
        row(
          'Firmware',
          <Choice
            aria-label="Firmware"
            value={firmware ?? ''}
            choose={(one) => setFirmware(kinds.guest.fields.firmware.options.find((option) => option === one))}
            none="not said: choose what it boots with"
            options={asOptions<string>(kinds.guest.fields.firmware.options)}
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
      <TickLine isTicked={keepsMacs} onTick={setKeepsMacs} className="text-dense py-1">
        Keep its MACs: only if the original never runs at the same time
      </TickLine>
      <Effect commands={commands} withDifference={false} />
      <ProposalFooter proposal={proposal} label="Add the guest" isReady={isAnswered} />
    </div>
  )
}
