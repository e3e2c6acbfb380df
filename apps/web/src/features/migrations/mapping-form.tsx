import {
  adaptersOf,
  carries,
  disksOf,
  formatBytes,
  formatMiB,
  kinds,
  parseSize,
  storesForDisks,
  targetSize,
  type Adapter,
  type Disk,
  type Estate,
  type Guest,
  type Host,
  type Mapping,
} from '@insel/core'
import { useState } from 'react'
import { asOptions, byName, Choice } from '../../ui/choice'
import { Scrolling } from '../../ui/scrolling'
import type { AdapterWish, DiskWish, MoveDraft } from './use-move-draft'

const provisionings = kinds.disk.fields.provisioning.options
const buses = kinds.disk.fields.bus.options
const models = kinds.adapter.fields.model.options

/** Each disk to a store, with its size, provisioning and bus; each adapter to a network: everything can be changed. */
export function MappingForm({
  estate,
  guest,
  host,
  draft,
  change,
  mapping,
}: {
  estate: Estate
  guest: Guest
  host: Host
  draft: MoveDraft
  change: (changes: Partial<MoveDraft>) => void
  mapping: Mapping
}) {
  const isNew = draft.way === 'new'
  const setDisk = (id: string, wish: DiskWish) => change({ disks: { ...draft.disks, [id]: { ...draft.disks[id], ...wish } } })
  const setAdapter = (id: string, wish: AdapterWish) =>
    change({ adapters: { ...draft.adapters, [id]: { ...draft.adapters[id], ...wish } } })
  return (
    <>
      <h2 className="mt-6">Disks</h2>
      <Scrolling>
        <table className="text-dense w-full" aria-label="Disks">
          <thead>
            <tr className="text-left text-faint">
              <th scope="col">disk</th>
              <th scope="col">to store</th>
              <th scope="col">size</th>
              <th scope="col">provisioning</th>
              <th scope="col">bus</th>
            </tr>
          </thead>
          <tbody>
            {disksOf(estate, guest.id).map((disk) => (
              <DiskRow
                key={disk.id}
                estate={estate}
                disk={disk}
                host={host}
                isNew={isNew}
                storeId={draft.disks[disk.id]?.storeId ?? mapping.stores?.[disk.id] ?? (isNew ? '' : (disk.storeId ?? ''))}
                wish={draft.disks[disk.id] ?? {}}
                set={(wish) => setDisk(disk.id, wish)}
              />
            ))}
          </tbody>
        </table>
      </Scrolling>
      <h2 className="mt-5">Networks</h2>
      {adaptersOf(estate, guest.id).length === 0 && <p className="text-soft py-1 text-dense">No adapter is recorded.</p>}
      {adaptersOf(estate, guest.id).map((adapter) => (
        <AdapterRow
          key={adapter.id}
          estate={estate}
          adapter={adapter}
          host={host}
          isNew={isNew}
          wish={draft.adapters[adapter.id] ?? {}}
          set={(wish) => setAdapter(adapter.id, wish)}
        />
      ))}
      <details className="mt-3 text-dense">
        <summary className="text-accent min-h-7 content-center">
          Processors, memory, {isNew ? 'name' : 'firmware'}: {draft.vcpu ?? guest.vcpu} vCPU,{' '}
          {formatMiB(draft.memoryMiB ?? guest.memoryMiB)}
          {isNew ? '' : `, ${draft.firmware ?? guest.firmware}`}
        </summary>
        <Sizes guest={guest} draft={draft} change={change} isNew={isNew} />
      </details>
    </>
  )
}

function DiskRow({
  estate,
  disk,
  host,
  isNew,
  storeId,
  wish,
  set,
}: {
  estate: Estate
  disk: Disk
  host: Host
  isNew: boolean
  storeId: string
  wish: DiskWish
  set: (wish: DiskWish) => void
}) {
  const reached = storesForDisks(estate, host)
  const from = estate.find('store', disk.storeId)
  const usual = isNew ? targetSize(disk.sizeBytes) : disk.sizeBytes
  const [text, setText] = useState(formatBytes(wish.sizeBytes ?? usual))
  const reading = parseSize(text, 'disk')
  return (
    <tr className="border-t border-line align-top">
      <td className="py-1.5 pr-2">
        {disk.position} {disk.use}, <span className="font-mono">{formatBytes(disk.sizeBytes)}</span>
        {from && ` from ${from.name}`}
      </td>
      <td className="pr-2">
        <select
          className="field !min-h-7 !w-32"
          aria-label={`Store of disk ${disk.position}`}
          value={reached.some((store) => store.id === storeId) ? storeId : ''}
          onChange={(event) => set({ storeId: event.target.value })}
        >
          <option value="" disabled>
            {isNew ? 'proposed' : 'choose a store…'}
          </option>
          {reached.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </td>
      <td className="pr-2">
        <input
          className="field font-mono !min-h-7 !w-28"
          aria-label={`Size of disk ${disk.position}`}
          aria-invalid={!reading.ok}
          value={text}
          onChange={(event) => {
            setText(event.target.value)
            const next = parseSize(event.target.value, 'disk')
            if (next.ok) set({ sizeBytes: next.bytes })
          }}
        />
        {!reading.ok && (
          <span role="alert" className="text-error block max-w-56">
            {reading.sentence}
          </span>
        )}
      </td>
      <td className="pr-2">
        <Choice
          className="!min-h-7 !w-24"
          aria-label={`Provisioning of disk ${disk.position}`}
          value={wish.provisioning ?? (isNew ? 'thin' : disk.provisioning)}
          choose={(provisioning) => set({ provisioning })}
          options={asOptions(provisionings)}
        />
      </td>
      <td>
        <Choice
          className="!min-h-7 !w-32"
          aria-label={`Bus of disk ${disk.position}`}
          value={wish.bus ?? (isNew ? '' : disk.bus)}
          choose={(bus) => set({ bus: buses.find((one) => one === bus) })}
          {...(isNew && !wish.bus ? { none: 'by its drivers' } : {})}
          options={asOptions<string>(buses)}
        />
      </td>
    </tr>
  )
}

function AdapterRow({
  estate,
  adapter,
  host,
  isNew,
  wish,
  set,
}: {
  estate: Estate
  adapter: Adapter
  host: Host
  isNew: boolean
  wish: AdapterWish
  set: (wish: AdapterWish) => void
}) {
  const carried = estate.referring('attachment', 'hostId', host.id).flatMap(({ networkId }) => estate.find('network', networkId) ?? [])
  const current = estate.find('network', adapter.networkId)
  const isCarried = current !== undefined && carries(estate, host.id, current.id)
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[220px_220px_130px_auto] gap-3 items-center py-1.5 border-t border-line text-dense">
      <span>
        Adapter {adapter.position}, on {current?.name ?? 'no network'}
      </span>
      <Choice
        className="!min-h-7"
        aria-label={`Network of adapter ${adapter.position}`}
        value={wish.networkId ?? adapter.networkId ?? ''}
        choose={(networkId) => set({ networkId })}
        {...(current ? {} : { none: 'no network' })}
        options={[
          ...(current && !isCarried ? [[current.id, `${current.name}, not attached there`] as const] : []),
          ...carried.map(({ id, name }) => [id, id === adapter.networkId || isNew ? name : `${name}, its addresses are released`] as const),
        ]}
      />
      <Choice
        className="!min-h-7"
        aria-label={`Model of adapter ${adapter.position}`}
        value={wish.model ?? (isNew ? '' : adapter.model)}
        choose={(model) => set({ model: models.find((one) => one === model) })}
        {...(isNew && !wish.model ? { none: 'by its drivers' } : {})}
        options={asOptions<string>(models)}
      />
      {!isNew && (
        <label className="inline-flex gap-2 items-center min-h-7">
          <input
            type="checkbox"
            className="accent-accent"
            checked={wish.isNewMac ?? false}
            onChange={(event) => set({ isNewMac: event.target.checked })}
          />
          new MAC
        </label>
      )}
    </div>
  )
}

function Sizes({
  guest,
  draft,
  change,
  isNew,
}: {
  guest: Guest
  draft: MoveDraft
  change: (changes: Partial<MoveDraft>) => void
  isNew: boolean
}) {
  const [memory, setMemory] = useState(formatMiB(draft.memoryMiB ?? guest.memoryMiB))
  const reading = parseSize(memory, 'memory')
  return (
    <div className="flex flex-wrap gap-3 items-center py-1">
      {isNew && (
        <label>
          Name{' '}
          <input
            className="field font-mono !w-40 !min-h-7"
            placeholder={`${guest.name}-new`}
            value={draft.name ?? ''}
            onChange={(event) => change({ name: event.target.value.trim() || undefined })}
          />
        </label>
      )}
      <label>
        Processors{' '}
        <input
          className="field font-mono !w-20 !min-h-7"
          inputMode="numeric"
          defaultValue={draft.vcpu ?? guest.vcpu}
          onChange={(event) => change({ vcpu: Number(event.target.value) >= 1 ? Math.floor(Number(event.target.value)) : undefined })}
        />
      </label>
      <label>
        Memory{' '}
        <input
          className="field font-mono !w-28 !min-h-7"
          aria-invalid={!reading.ok}
          value={memory}
          onChange={(event) => {
            setMemory(event.target.value)
            const next = parseSize(event.target.value, 'memory')
            change({ memoryMiB: next.ok ? Math.round(next.bytes / 2 ** 20) : undefined })
          }}
        />
      </label>
      {!reading.ok && (
        <span role="alert" className="text-error">
          {reading.sentence}
        </span>
      )}
      {!isNew && (
        <label>
          Firmware{' '}
          <Choice
            className="!w-24 !min-h-7"
            value={draft.firmware ?? guest.firmware}
            choose={(firmware) => change({ firmware })}
            options={asOptions(kinds.guest.fields.firmware.options)}
          />
        </label>
      )}
    </div>
  )
}

/** Machines that could take over: external ones, and guests that are planned or stopped. */
export function BecomesChoice({
  estate,
  guest,
  chosen,
  choose,
}: {
  estate: Estate
  guest: Guest
  chosen: string
  choose: (id: string) => void
}) {
  const machines = estate
    .all('guest')
    .filter(
      ({ id, kind, state }) =>
        id !== guest.id && kind !== 'template' && (kind === 'external' || state === 'planned' || state === 'stopped'),
    )
    .filter(({ state }) => state !== 'retired')
    .map((one) => ({
      id: one.id,
      name: `${one.name}, ${one.kind === 'external' ? 'physical' : `guest on ${estate.find('host', one.hostId)?.name ?? 'no host'}`}, ${one.state}`,
    }))
  return (
    <label className="block my-3">
      <span className="font-bold">What it becomes</span>
      <Choice className="!w-80 block mt-1" value={chosen} choose={choose} none="choose a machine…" options={byName(machines)} />
      {machines.length === 0 && (
        <span className="text-soft text-dense">No other machine is recorded: add the physical machine, or the guest, first.</span>
      )}
    </label>
  )
}

/** Which adapter of the machine that takes over is in the place of each of the source’s. */
export function AdapterPairs({
  estate,
  guest,
  becomes,
  pairs,
  set,
}: {
  estate: Estate
  guest: Guest
  becomes: Guest
  pairs: Readonly<Record<string, string>>
  set: (pairs: Readonly<Record<string, string>>) => void
}) {
  const [sources, targets] = [adaptersOf(estate, guest.id), adaptersOf(estate, becomes.id)]
  if (targets.length < 2) return null
  return sources.map((adapter) => (
    <label key={adapter.id} className="flex flex-wrap gap-2 items-center text-dense py-1">
      Adapter {adapter.position} becomes
      <Choice
        className="!w-56 !min-h-7"
        value={pairs[adapter.id] ?? targets.find(({ position }) => position === adapter.position)?.id ?? ''}
        choose={(id) => set({ ...pairs, [adapter.id]: id })}
        none="none"
        options={targets.map(
          ({ id, position, networkId }) => [id, `adapter ${position}, ${estate.find('network', networkId)?.name ?? 'no network'}`] as const,
        )}
      />
    </label>
  ))
}
