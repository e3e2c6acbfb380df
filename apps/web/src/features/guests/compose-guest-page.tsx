import {
  composeGuest,
  demandOfDraft,
  formatBytes,
  nextFree,
  parseSize,
  preferredSubnet,
  probablyMeant,
  readSpecLine,
  formatMiB,
  type Estate,
  type Field,
  type Fit,
  type GuestDraft,
  type GuestSpec,
  type NewRecord,
  kinds,
} from '@insel/core'
import { Plus, X } from 'lucide-react'
import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { usePlaces, usePreview } from '../../lib/checks'
import { browserContext } from '../../lib/context'
import { useEstate } from '../../lib/estate'
import { useKey } from '../../lib/keys'
import { usePaths } from '../../lib/paths'
import { useGo } from '../../lib/use-go'
import { Button, ButtonLink, Key } from '../../ui/button'
import { Effect } from '../../ui/effect'
import { Mark } from '../../ui/mark'
import { Ledger } from '../../ui/ledger'
import { Empty, Page, Part, Trouble } from '../../ui/page'
import { SpecInput } from '../../ui/spec-input'
import { inputText, inputValue } from '../records/field-text'

interface DiskRow {
  readonly use: string
  readonly size: string
  readonly provisioning: 'thin' | 'thick'
  /** Empty: the store that the check proposes on the host. */
  readonly storeId: string
}
interface AdapterRow {
  readonly networkId: string
  readonly addressing: 'fixed' | 'DHCP reservation' | 'none'
  /** Empty: the next free one. */
  readonly ip: string
}
/** What the page holds: texts as typed, until they are read. */
interface Draft {
  readonly texts: Readonly<Record<string, string>>
  readonly disks: readonly DiskRow[]
  readonly adapters: readonly AdapterRow[]
}

const FIELDS = ['name', 'kind', 'purpose', 'system', 'vcpu', 'latency', 'memoryMiB', 'firmware', 'hostId', 'backupStoreId', 'tags'] as const
const guestFields = kinds.guest.fields as Readonly<Record<string, Field>>
const USES = ['system', 'data', 'media']

/** The draft as a spec line fills it. */
function draftOf(estate: Estate, spec: GuestSpec): Draft {
  const record: Record<string, unknown> = {
    kind: spec.kind ?? 'machine',
    latency: spec.latency ?? 'general',
    firmware: spec.firmware ?? 'UEFI',
    tags: spec.tags,
    name: spec.name,
    vcpu: spec.vcpu,
    memoryMiB: spec.memoryMiB,
    purpose: spec.purpose,
    hostId: estate.byKey('host', { name: spec.host ?? '' })[0]?.id,
  }
  const storeId = estate.byKey('store', { name: spec.store ?? '' })[0]?.id ?? ''
  return {
    texts: Object.fromEntries(FIELDS.map((name) => [name, guestFields[name] ? inputText(guestFields[name], record[name]) : ''])),
    disks: spec.disks.map((disk, index) => ({
      use: USES[index] ?? 'data',
      size: formatBytes(disk.sizeBytes, 3).replaceAll('\u2009', ''),
      provisioning: spec.provisioning ?? 'thin',
      storeId,
    })),
    adapters: spec.networks.flatMap((name, index): AdapterRow[] => {
      const network = estate.byKey('network', { name })[0]
      return network
        ? [{ networkId: network.id, addressing: spec.kind === 'template' ? 'none' : 'fixed', ip: spec.ips?.[index] ?? '' }]
        : []
    }),
  }
}

/** What the line changed, put into the draft; what was filled in by hand and the line does not say stays. */
function merged(current: Draft, before: Draft, after: Draft): Draft {
  const isSame = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)
  return {
    texts: Object.fromEntries(FIELDS.map((name) => [name, (before.texts[name] === after.texts[name] ? current : after).texts[name] ?? ''])),
    disks: isSame(before.disks, after.disks) ? current.disks : after.disks,
    adapters: isSame(before.adapters, after.adapters) ? current.adapters : after.adapters,
  }
}

/** The draft read: a guest that can be checked, or the sentences for what cannot be read, by field. */
function readDraft(draft: Draft, fit: Fit | undefined): { guest: GuestDraft } | { problems: Readonly<Record<string, string>> } {
  const values: Record<string, unknown> = {}
  const problems: Record<string, string> = {}
  for (const name of FIELDS) {
    const field = guestFields[name]
    if (!field) continue
    const reading = inputValue(field, draft.texts[name] ?? '')
    if ('value' in reading) values[name] = reading.value
    else problems[name] = reading.sentence
  }
  const disks = draft.disks.map((disk, index) => {
    const reading = parseSize(disk.size, 'disk')
    if (!reading.ok) problems[`disk.${index}`] = reading.sentence
    return {
      use: disk.use.trim() || 'data',
      sizeBytes: reading.ok ? reading.bytes : 0,
      provisioning: disk.provisioning,
      storeId: disk.storeId || (fit?.stores[index]?.id ?? null),
    }
  })
  if (Object.keys(problems).length > 0) return { problems }
  const adapters = draft.adapters.map((adapter) => ({
    networkId: adapter.networkId || null,
    ip: adapter.ip.trim() || null,
    addressing: adapter.addressing,
  }))
  return {
    guest: { guest: { ...(values as NewRecord<'guest'>), state: values['kind'] === 'template' ? 'stopped' : 'planned' }, disks, adapters },
  }
}

/** A new guest on one page: the spec line on top, the fields filled from it, where it fits beside them. */
export function ComposeGuestPage() {
  const { estate } = useEstate()
  const { to } = usePaths()
  if (estate.count('host') === 0)
    return (
      <Page title="New guest">
        <Empty
          action={
            <ButtonLink look="primary" to={to('hosts/new')}>
              Compose a host
            </ButtonLink>
          }
        >
          A guest runs on a host: record one first.
        </Empty>
      </Page>
    )
  return <Compose />
}

function Compose() {
  const { estate, submit, plan, setPlan, showBasis } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [params] = useSearchParams()
  const [line, setLine] = useState(params.get('line') ?? '')
  const names = useMemo(
    () => ({
      hosts: estate.all('host').map((one) => one.name),
      networks: estate.all('network').map((one) => one.name),
      stores: estate.all('store').map((one) => one.name),
    }),
    [estate],
  )
  const reading = useMemo(() => readSpecLine(line, names), [line, names])
  const [draft, setDraft] = useState<Draft>(() => draftOf(estate, reading.spec))
  const [isTried, setTried] = useState(false)
  const [refusal, setRefusal] = useState<string>()
  const [ids] = useState(browserContext)

  const typeLine = (next: string) => {
    setLine(next)
    setDraft((current) => merged(current, draftOf(estate, reading.spec), draftOf(estate, readSpecLine(next, names).spec)))
    setRefusal(undefined)
  }
  const setText = (name: string, text: string) => setDraft({ ...draft, texts: { ...draft.texts, [name]: text } })

  const loose = useMemo(() => readDraft(draft, undefined), [draft])
  const demand = useMemo(() => ('guest' in loose ? demandOfDraft(loose.guest) : undefined), [loose])
  const places = usePlaces(demand)
  const hostId = draft.texts['hostId'] ?? ''
  const fit = places.data?.find((one) => one.hostId === hostId)
  const read = useMemo(() => readDraft(draft, fit), [draft, fit])
  const commands = useMemo(() => ('guest' in read ? composeGuest(estate, read.guest, ids) : undefined), [read, estate, ids])
  const preview = usePreview(commands)
  const problems = 'problems' in read ? read.problems : {}
  const memory = 'guest' in loose ? loose.guest.guest.memoryMiB : undefined
  const meant = memory === undefined ? undefined : probablyMeant(memory)

  /** Who is quicker than the places still gets the stores that are proposed for the disks. */
  const commandsOnceProposed = async () => {
    if (!demand || !places.isFetching) return undefined
    const { data } = await places.refetch({ cancelRefetch: false })
    const proposed = readDraft(
      draft,
      data?.find((one) => one.hostId === hostId),
    )
    return 'guest' in proposed ? composeGuest(estate, proposed.guest, ids) : undefined
  }

  const save = async () => {
    setTried(true)
    const ready = fit ? commands : ((await commandsOnceProposed()) ?? commands)
    if (!ready) return
    const problem = await submit(ready)
    setRefusal(problem?.sentence)
    const first = ready[0]
    if (!problem && first?.type === 'guest.add') await go(to(`guests/${first.record.id}`))
  }
  const addToPlan = async () => {
    setTried(true)
    if (!commands || !preview.data?.ok) return
    setPlan([...plan, ...commands])
    await go(to('board'))
    showBasis('plan')
  }
  useKey('mod+Enter', () => void save())

  const input = (name: (typeof FIELDS)[number]) => {
    const field = guestFields[name]
    const problem = problems[name]
    // A required field that is still empty is not wrong yet, only not filled.
    const isShown = problem !== undefined && (isTried || (draft.texts[name] ?? '') !== '')
    const id = `guest-${name}`
    const about = name === 'memoryMiB' && meant ? `Meant ${formatMiB(meant)}? ${memory} MiB is an unusual size.` : undefined
    const common = {
      id,
      className: 'field',
      value: draft.texts[name] ?? '',
      'aria-invalid': isShown,
      'aria-describedby': `${id}-about`,
      onChange: (event: { target: { value: string } }) => setText(name, event.target.value),
    }
    const options =
      field?.type === 'choice'
        ? field.options.map((option) => [option, option] as const)
        : name === 'hostId'
          ? estate.all('host').map((host) => [host.id, host.name] as const)
          : name === 'backupStoreId'
            ? estate
                .all('store')
                .filter((store) => store.kind === 'backup')
                .map((store) => [store.id, store.name] as const)
            : undefined
    return (
      <div key={name} className="grid sm:grid-cols-[110px_minmax(0,1fr)] gap-x-3 items-start py-1 border-t border-line">
        <label htmlFor={id} className="pt-1" title={field?.doc}>
          {field?.label}
        </label>
        {options ? (
          <select {...common}>
            {name === 'hostId' && <option value="">choose…</option>}
            {name === 'backupStoreId' && <option value="">none</option>}
            {options.map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        ) : (
          <input {...common} autoComplete="off" spellCheck={false} />
        )}
        <span id={`${id}-about`} className={`sm:col-start-2 text-[13px] ${isShown ? 'text-error' : 'text-warning'}`}>
          {isShown ? problem : about}
        </span>
      </div>
    )
  }

  return (
    <Page title="New guest" isWide>
      <div className="grid lg:grid-cols-[minmax(0,1fr)_380px] gap-8">
        <form
          noValidate
          onSubmit={(event) => {
            event.preventDefault()
            void save()
          }}
        >
          <SpecInput
            value={line}
            onChange={typeLine}
            parts={reading.parts}
            label="The guest in a line"
            placeholder="playout-3 4cpu 8G 40G+200G on gannet net office,storage"
            hint="Name, processors, memory, disks, on HOST, net A,B; also store S, for PURPOSE, thick, steady, BIOS, template, #tag. Or fill the fields."
          />
          <div className="mt-3 grid xl:grid-cols-2 gap-x-8">{FIELDS.map(input)}</div>
          <Disks draft={draft} setDraft={setDraft} problems={problems} fit={fit} hostId={hostId} />
          <Adapters draft={draft} setDraft={setDraft} />
          {refusal && <Trouble>{refusal}</Trouble>}
          <div className="flex gap-2 mt-4">
            <Button type="submit" look="primary">
              Add guest <Key>Ctrl ↵</Key>
            </Button>
            <Button onClick={() => void addToPlan()}>Add to the plan</Button>
          </div>
        </form>
        <div>
          <Places places={places.data ?? []} isAsked={demand !== undefined} chosen={hostId} choose={(id) => setText('hostId', id)} />
          <Effect commands={commands} withDifference={false} />
        </div>
      </div>
    </Page>
  )
}

function Places({
  places,
  isAsked,
  chosen,
  choose,
}: {
  places: readonly Fit[]
  isAsked: boolean
  chosen: string
  choose: (hostId: string) => void
}) {
  const { estate } = useEstate()
  return (
    <Part title="Where it fits">
      {!isAsked && <p className="text-faint py-1">Say its name, processors and memory to see where it fits.</p>}
      <ul aria-live="polite">
        {places.slice(0, 8).map((fit) => {
          const remarks = fit.lines.filter((line) => line.verdict !== 'fits')
          const shown = remarks.length > 0 ? remarks : fit.lines.slice(0, 1)
          return (
            <li
              key={fit.hostId}
              className={`grid grid-cols-[auto_84px_1fr] gap-2.5 items-baseline py-2 border-t border-line first:border-0 ${fit.hostId === chosen ? 'bg-accent-wash/60' : ''}`}
            >
              <Mark of={fit.verdict} />
              <button
                type="button"
                className="text-left font-medium truncate hover:text-accent hover:underline"
                aria-pressed={fit.hostId === chosen}
                onClick={() => choose(fit.hostId)}
              >
                {estate.find('host', fit.hostId)?.name}
              </button>
              <span className="text-[13px] text-soft">{shown.map((line) => line.sentence).join(' · ')}</span>
            </li>
          )
        })}
      </ul>
      {places.length > 8 && <p className="text-faint text-[13px] pt-1">And {places.length - 8} more hosts, none better.</p>}
    </Part>
  )
}

interface RowsProps {
  readonly draft: Draft
  readonly setDraft: (draft: Draft) => void
}

function Disks({
  draft,
  setDraft,
  problems,
  fit,
  hostId,
}: RowsProps & { problems: Readonly<Record<string, string>>; fit: Fit | undefined; hostId: string }) {
  const { estate } = useEstate()
  const host = estate.find('host', hostId)
  const stores = estate
    .all('store')
    .filter(
      (store) =>
        store.kind !== 'backup' &&
        (store.hostId === hostId || (store.hostId === null && (store.site === null || store.site === host?.site))),
    )
  const change = (at: number, next: Partial<DiskRow>) =>
    setDraft({ ...draft, disks: draft.disks.map((disk, index) => (index === at ? { ...disk, ...next } : disk)) })
  return (
    <section className="mt-5">
      <h2 className="mb-1">Disks</h2>
      {draft.disks.length > 0 && (
        <Ledger headings={['use', 'size', 'kind', 'store', '.remove']}>
          {draft.disks.map((disk, index) => (
            <tr key={index}>
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
                <select
                  className="field"
                  aria-label={`Provisioning of disk ${index + 1}`}
                  value={disk.provisioning}
                  onChange={(event) => change(index, { provisioning: event.target.value as DiskRow['provisioning'] })}
                >
                  <option>thin</option>
                  <option>thick</option>
                </select>
              </td>
              <td>
                <select
                  className="field"
                  aria-label={`Store of disk ${index + 1}`}
                  value={disk.storeId}
                  onChange={(event) => change(index, { storeId: event.target.value })}
                >
                  <option value="">{fit?.stores[index] ? `${fit.stores[index].name}, proposed` : 'the best store'}</option>
                  {stores.map(({ id, name }) => (
                    <option key={id} value={id}>
                      {name}
                    </option>
                  ))}
                </select>
              </td>
              <td>
                <Button
                  look="quiet"
                  aria-label={`Remove disk ${index + 1}`}
                  onClick={() => setDraft({ ...draft, disks: draft.disks.filter((_, at) => at !== index) })}
                >
                  <X size={14} aria-hidden />
                </Button>
              </td>
            </tr>
          ))}
        </Ledger>
      )}
      <Button
        look="quiet"
        className="!px-0"
        onClick={() =>
          setDraft({
            ...draft,
            disks: [...draft.disks, { use: USES[draft.disks.length] ?? 'data', size: '40 GiB', provisioning: 'thin', storeId: '' }],
          })
        }
      >
        <Plus size={14} aria-hidden /> Add a disk
      </Button>
    </section>
  )
}

function Adapters({ draft, setDraft }: RowsProps) {
  const { estate } = useEstate()
  const change = (at: number, next: Partial<AdapterRow>) =>
    setDraft({ ...draft, adapters: draft.adapters.map((adapter, index) => (index === at ? { ...adapter, ...next } : adapter)) })
  const networks = [...estate.all('network')].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))
  const nextOf = (networkId: string) => {
    const subnet = preferredSubnet(estate, networkId)
    return subnet ? (nextFree(estate, subnet) ?? 'none free') : 'no subnet'
  }
  return (
    <section className="mt-4">
      <h2 className="mb-1">Adapters</h2>
      {draft.adapters.length > 0 && (
        <Ledger headings={['#', 'network', 'addressing', 'address', '.remove']}>
          {draft.adapters.map((adapter, index) => (
            <tr key={index}>
              <td className="font-mono pt-3">{index + 1}</td>
              <td>
                <select
                  className="field"
                  aria-label={`Network of adapter ${index + 1}`}
                  value={adapter.networkId}
                  onChange={(event) => change(index, { networkId: event.target.value })}
                >
                  <option value="">none</option>
                  {networks.map(({ id, name }) => (
                    <option key={id} value={id}>
                      {name}
                    </option>
                  ))}
                </select>
              </td>
              <td>
                <select
                  className="field"
                  aria-label={`Addressing of adapter ${index + 1}`}
                  value={adapter.addressing}
                  onChange={(event) => change(index, { addressing: event.target.value as AdapterRow['addressing'] })}
                >
                  <option>fixed</option>
                  <option>DHCP reservation</option>
                  <option>none</option>
                </select>
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
              <td>
                <Button
                  look="quiet"
                  aria-label={`Remove adapter ${index + 1}`}
                  onClick={() => setDraft({ ...draft, adapters: draft.adapters.filter((_, at) => at !== index) })}
                >
                  <X size={14} aria-hidden />
                </Button>
              </td>
            </tr>
          ))}
        </Ledger>
      )}
      <Button
        look="quiet"
        className="!px-0"
        onClick={() => setDraft({ ...draft, adapters: [...draft.adapters, { networkId: '', addressing: 'fixed', ip: '' }] })}
      >
        <Plus size={14} aria-hidden /> Add an adapter
      </Button>
    </section>
  )
}
