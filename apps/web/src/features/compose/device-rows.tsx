import { type Fit, inNameOrder, kinds, nextFree, preferredSubnet, storesForDisks } from '@insel/core'
import { Plus, X } from 'lucide-react'
import type { ReactNode } from 'react'
import { useEstate } from '../../estate'
import { Button } from '../../ui/button'
import { Ledger } from '../../ui/ledger'
import { USES, type AdapterRow, type DiskRow, type GuestForm } from './guest-form'
import { asOptions, byName, Choice } from '../../ui/choice'

const ADDRESSINGS = [
  ['fixed', 'fixed'],
  ['DHCP reservation', 'DHCP reservation'],
  ['none', 'DHCP'],
] as const

/** A table of rows that are added and taken out: the disks or the adapters of a draft. */
function Rows({
  title,
  one,
  headings,
  count,
  row,
  add,
  remove,
}: {
  title: string
  one: 'disk' | 'adapter'
  headings: readonly string[]
  count: number
  row: (index: number) => ReactNode
  add: () => void
  remove: (index: number) => void
}) {
  return (
    <section className="mt-5">
      <h2 className="mb-1">{title}</h2>
      {count > 0 && (
        <Ledger headings={[...headings, '.remove']}>
          {Array.from({ length: count }, (_, index) => (
            <tr key={index}>
              {row(index)}
              <td>
                <Button look="quiet" aria-label={`Remove ${one} ${index + 1}`} onClick={() => remove(index)}>
                  <X size={14} aria-hidden />
                </Button>
              </td>
            </tr>
          ))}
        </Ledger>
      )}
      <Button look="quiet" className="!px-0" onClick={add}>
        <Plus size={14} aria-hidden /> Add {one}
      </Button>
    </section>
  )
}

/** What the tables of disks and adapters work on. */
interface RowsProps {
  readonly draft: GuestForm
  readonly setDraft: (draft: GuestForm) => void
}

/** The disks of a draft, each with its store as proposed or chosen. */
export function Disks({
  draft,
  setDraft,
  problems,
  fit,
  hostId,
}: RowsProps & { problems: Readonly<Record<string, string>>; fit: Fit | undefined; hostId: string }) {
  const { estate } = useEstate()
  const host = estate.find('host', hostId)
  const stores = host ? storesForDisks(estate, host) : []
  const change = (at: number, next: Partial<DiskRow>) =>
    setDraft({ ...draft, disks: draft.disks.map((disk, index) => (index === at ? { ...disk, ...next } : disk)) })
  const cells = (disk: DiskRow, index: number) => (
    <>
      <td>
        <input
          className="field"
          aria-label={`Use of disk ${index + 1}`}
          value={disk.use}
          onChange={(event) => change(index, { use: event.target.value })}
        />
      </td>
      <td>
        <input
          className="field font-mono"
          aria-label={`Size of disk ${index + 1}`}
          aria-invalid={problems[`disk.${index}`] !== undefined}
          value={disk.size}
          onChange={(event) => change(index, { size: event.target.value })}
        />
        {problems[`disk.${index}`] && <span className="text-error">{problems[`disk.${index}`]}</span>}
      </td>
      <td>
        <Choice
          aria-label={`Provisioning of disk ${index + 1}`}
          value={disk.provisioning}
          options={asOptions(kinds.disk.fields.provisioning.options)}
          choose={(provisioning) => change(index, { provisioning })}
        />
      </td>
      <td>
        <Choice
          aria-label={`Bus of disk ${index + 1}`}
          value={disk.bus}
          options={asOptions(kinds.disk.fields.bus.options)}
          choose={(bus) => change(index, { bus })}
        />
      </td>
      <td>
        <Choice
          aria-label={`Store of disk ${index + 1}`}
          value={disk.storeId}
          choose={(storeId) => change(index, { storeId })}
          none={fit?.stores[index] ? `${fit.stores[index].name}, proposed` : 'the best store'}
          options={byName(stores)}
        />
      </td>
    </>
  )
  return (
    <Rows
      title="Disks"
      one="disk"
      headings={['use', 'size', 'kind', 'bus', 'store']}
      count={draft.disks.length}
      row={(index) => {
        const disk = draft.disks[index]
        return disk && cells(disk, index)
      }}
      remove={(index) => setDraft({ ...draft, disks: draft.disks.filter((_, at) => at !== index) })}
      add={() =>
        setDraft({
          ...draft,
          disks: [
            ...draft.disks,
            {
              use: USES[draft.disks.length] ?? 'data',
              size: '40 GiB',
              provisioning: 'thin',
              bus: 'paravirtual',
              storeId: '',
              growthBytesPerMonth: null,
            },
          ],
        })
      }
    />
  )
}

/** The adapters of a draft, each with the address it would get. */
export function Adapters({ draft, setDraft }: RowsProps) {
  const { estate } = useEstate()
  const change = (at: number, next: Partial<AdapterRow>) =>
    setDraft({ ...draft, adapters: draft.adapters.map((adapter, index) => (index === at ? { ...adapter, ...next } : adapter)) })
  const networks = inNameOrder(estate.all('network'))
  const nextOf = (networkId: string) => {
    const subnet = preferredSubnet(estate, networkId)
    return subnet ? (nextFree(estate, subnet) ?? 'none free') : 'no subnet'
  }
  const cells = (adapter: AdapterRow, index: number) => (
    <>
      <td className="font-mono pt-3">{index + 1}</td>
      <td>
        <Choice
          aria-label={`Network of adapter ${index + 1}`}
          value={adapter.networkId}
          choose={(networkId) => change(index, { networkId })}
          none="none"
          options={byName(networks)}
        />
      </td>
      <td>
        <Choice
          aria-label={`Model of adapter ${index + 1}`}
          value={adapter.model}
          options={asOptions(kinds.adapter.fields.model.options)}
          choose={(model) => change(index, { model })}
        />
      </td>
      <td>
        <Choice
          aria-label={`Addressing of adapter ${index + 1}`}
          value={adapter.addressing}
          options={ADDRESSINGS}
          choose={(addressing) => change(index, { addressing })}
        />
      </td>
      <td>
        <input
          className="field font-mono"
          aria-label={`Address of adapter ${index + 1}`}
          disabled={adapter.addressing === 'none'}
          value={adapter.ip}
          placeholder={adapter.addressing === 'none' ? '' : adapter.networkId ? `${nextOf(adapter.networkId)}, next free` : ''}
          onChange={(event) => change(index, { ip: event.target.value })}
        />
      </td>
    </>
  )
  return (
    <Rows
      title="Adapters"
      one="adapter"
      headings={['#', 'network', 'model', 'addressing', 'address']}
      count={draft.adapters.length}
      row={(index) => {
        const adapter = draft.adapters[index]
        return adapter && cells(adapter, index)
      }}
      remove={(index) => setDraft({ ...draft, adapters: draft.adapters.filter((_, at) => at !== index) })}
      add={() =>
        setDraft({ ...draft, adapters: [...draft.adapters, { networkId: '', model: 'paravirtual', addressing: 'fixed', ip: '' }] })
      }
    />
  )
}
