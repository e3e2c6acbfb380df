import {
  counted,
  demandOfDraft,
  type Estate,
  fitOn,
  formatBytes,
  formatMiB,
  type Guest,
  guestColumns,
  guestMarkdown,
  guestNameOf,
  guestsCsv,
  guestSizeColumns,
  type GuestTable,
  importGuests,
  type ManifestCheck,
  ovfCommands,
  ovfDraft,
  type OvfMapping,
  type OvfReading,
  type OvfSystem,
  ovfVersions,
  rankHosts,
  readGuestTable,
  readOvf,
  type Store,
  storesForDisks,
  writeOvf,
} from '@insel/core'
import { proxy, wrap } from 'comlink'
import { useMemo, useRef, useState, type ReactNode } from 'react'
import { api } from '../../lib/api'
import { mayRecord, useEstate } from '../../estate'
import { ids } from '../../lib/context'
import { download } from '../../lib/csv'
import { usePaths } from '../../lib/paths'
import { useQueryParam } from '../../lib/query-param'
import { useGo } from '../../lib/use-go'
import { ColumnMapping } from './column-mapping'
import { Button, ButtonLink } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { Page, Part, Trouble } from '../../ui/page'
import { GuestsNav } from '../guests/guests-nav'
import type { Packages } from './ovf-package.worker'

/** Guests in open formats, out and in: descriptors, tables, sheets, and the whole estate. */
export function ExchangePage() {
  return (
    <Page
      title="In and out"
      about={
        <>
          Open formats: OVF descriptors (DMTF DSP0243), CSV (RFC 4180), Markdown, and the whole estate as JSON.
          <GuestsNav />
        </>
      }
    >
      <div className="grid lg:grid-cols-2 gap-x-10">
        <div>
          <Out />
          <WholeEstate />
        </div>
        <div>
          <OvfIn />
          <TableIn />
        </div>
      </div>
    </Page>
  )
}

function Out() {
  const { estate, estateId, revision } = useEstate()
  const { to } = usePaths()
  const [id, setId] = useQueryParam('guest')
  const guests = [...estate.all('guest')].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))
  const guest = estate.find('guest', id) ?? guests[0]
  const save = (of: Guest, ending: string, text: string, type: string) => download(`${of.name}.${ending}`, text, type)
  return (
    <>
      <Part title="A guest, out">
        {!guest && <p className="text-soft py-1">No guest is recorded yet.</p>}
        {guest && (
          <div className="grid gap-2 py-2 text-[13px]">
            <label className="inline-flex items-center gap-2">
              Guest
              <select className="field !w-64" value={guest.id} onChange={(event) => setId(event.target.value)}>
                {guests.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </select>
            </label>
            <span className="flex flex-wrap gap-2">
              {ovfVersions.map((version) => (
                <Button key={version} onClick={() => save(guest, 'ovf', writeOvf(estate, guest, version), 'application/xml')}>
                  OVF descriptor {version}
                </Button>
              ))}
              <Button onClick={() => save(guest, 'md', guestMarkdown(estate, guest), 'text/markdown')}>Sheet as Markdown</Button>
              <ButtonLink to={to(`guests/${guest.id}/install`)}>Sheet to print</ButtonLink>
            </span>
            <p className="text-faint">
              A descriptor holds the plan, not the content of disks. What the standard has no element for stands in a section that others
              leave out.
            </p>
          </div>
        )}
      </Part>
      <Part title="All guests, out">
        <Button className="my-2" onClick={() => download('guests.csv', guestsCsv(estate), 'text/csv')}>
          Guests as CSV
        </Button>
        <p className="text-faint text-[13px]">
          For scripts: <span className="font-mono break-all">/api/v1/estates/{estateId}/exports/guests.csv</span>, revision {revision}.
        </p>
      </Part>
    </>
  )
}

function WholeEstate() {
  const { estateId } = useEstate()
  const go = useGo()
  const [trouble, setTrouble] = useState<readonly string[]>([])
  const [isBusy, setBusy] = useState(false)
  const take = async (file: File) => {
    setBusy(true)
    const refusal = await api.importEstate(file)
    setBusy(false)
    if ('problems' in refusal) setTrouble(refusal.problems)
    else await go(`/estates/${refusal.id}`)
  }
  return (
    <Part title="The whole estate">
      <p className="text-[13px] py-1">
        <a className="text-accent underline" href={`/api/v1/estates/${estateId}/exports/estate.json`} download="estate.json">
          Download it as JSON
        </a>
        , of a{' '}
        <a className="text-accent underline" href="/api/v1/estates/schema" target="_blank" rel="noreferrer">
          published JSON Schema
        </a>
        . The logbook and observations are not in it; a backup has both.
      </p>
      <label className="text-accent text-[13px] cursor-pointer hover:underline">
        {isBusy ? 'Reading…' : 'Make a new estate of such a file'}
        <input
          type="file"
          accept=".json,application/json"
          className="sr-only"
          disabled={isBusy}
          onChange={(event) => event.target.files?.[0] && void take(event.target.files[0])}
        />
      </label>
      {trouble.length > 0 && (
        <Trouble>
          Nothing was made. {trouble.slice(0, 6).join(' ')}
          {trouble.length > 6 && ` And ${trouble.length - 6} more.`}
        </Trouble>
      )}
    </Part>
  )
}

interface Opened {
  readonly name: string
  readonly reading: OvfReading
  readonly manifest?: readonly ManifestCheck[] | undefined
}

function OvfIn() {
  const [opened, setOpened] = useState<Opened>()
  const [trouble, setTrouble] = useState<string>()
  const [done, setDone] = useState<{ bytes: number; of: number }>()
  const isWanted = useRef(true)
  const show = (name: string, text: string, manifest?: readonly ManifestCheck[]) => {
    const reading = readOvf(text)
    if ('sentence' in reading) setTrouble(`${name}, line ${reading.line}: ${reading.sentence}`)
    else setOpened({ name, reading, manifest })
  }
  const open = async (file: File) => {
    setTrouble(undefined)
    setOpened(undefined)
    if (!/\.ova$/i.test(file.name)) return show(file.name, await file.text())
    isWanted.current = true
    setDone({ bytes: 0, of: file.size })
    const worker = new Worker(new URL('./ovf-package.worker.ts', import.meta.url), { type: 'module' })
    try {
      const answer = await wrap<Packages>(worker).read(
        file,
        proxy((bytes: number) => {
          setDone({ bytes, of: file.size })
          return Promise.resolve(isWanted.current)
        }),
      )
      if (answer && 'sentence' in answer) setTrouble(`${file.name}: ${answer.sentence}`)
      else if (answer) show(file.name, answer.descriptor, answer.manifest ?? [])
    } finally {
      worker.terminate()
      setDone(undefined)
    }
    return undefined
  }
  return (
    <Part title="A descriptor, in">
      <p className="text-soft text-[13px] py-1">
        An OVF descriptor, or an OVA package: it is read in this browser, its disks are hashed and not kept.
      </p>
      <label className="text-accent text-[13px] cursor-pointer hover:underline">
        Choose a descriptor or package
        <input
          type="file"
          accept=".ovf,.ova,.xml"
          className="sr-only"
          onChange={(event) => {
            if (event.target.files?.[0]) void open(event.target.files[0])
            event.target.value = ''
          }}
        />
      </label>
      {done && (
        <p className="text-[13px] flex gap-3 items-center" role="status">
          {formatBytes(done.bytes)} of {formatBytes(done.of)} read
          <Button className="!min-h-6" onClick={() => (isWanted.current = false)}>
            Stop
          </Button>
        </p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      {opened && <Imported key={`${opened.name} ${opened.reading.systems.length}`} opened={opened} />}
    </Part>
  )
}

function Imported({ opened }: { opened: Opened }) {
  const [at, setAt] = useState(0)
  const { systems, unused, version } = opened.reading
  const system = systems[at]
  return (
    <div className="mt-2">
      <p className="text-[13px]" role="status">
        {opened.name}: OVF {version}, {counted(systems.length, 'system')}.
      </p>
      {opened.manifest && (
        <ul className="text-[13px]" aria-label="Manifest">
          {opened.manifest.length === 0 && (
            <li className="text-warning">The package has no manifest: nobody can say whether it is whole.</li>
          )}
          {opened.manifest.map(({ file, verdict }) => (
            <li key={file} className={verdict === 'as the manifest says' ? 'text-soft' : 'text-error'}>
              <span className="font-mono">{file}</span> {verdict}
            </li>
          ))}
        </ul>
      )}
      {systems.length > 1 && (
        <label className="inline-flex items-center gap-2 text-[13px] my-1">
          Which
          <select className="field !w-56" value={at} onChange={(event) => setAt(Number(event.target.value))}>
            {systems.map(({ name }, index) => (
              <option key={index} value={index}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
      {unused.length > 0 && (
        <details className="text-[13px] my-1">
          <summary className="cursor-pointer text-warning min-h-6">{counted(unused.length, 'element')} could not be used</summary>
          <ul className="max-h-48 overflow-auto">
            {unused.map(({ path, sentence }) => (
              <li key={path}>
                {sentence} <span className="font-mono text-[11.5px] text-faint break-all">{path}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
      {system && <SystemDraft key={at} system={system} />}
    </div>
  )
}

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

function SystemDraft({ system }: { system: OvfSystem }) {
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
    <label className="grid grid-cols-[150px_minmax(0,1fr)] gap-3 items-center text-[13px] py-0.5">
      <span>{label}</span>
      {input}
    </label>
  )
  return (
    <div className="border-l-2 border-accent pl-3 mt-2">
      <p className="text-[13px]">
        {system.vcpu} vCPU, {formatMiB(system.memoryMiB)},{' '}
        {system.disks.map(({ sizeBytes }) => formatBytes(sizeBytes)).join(' + ') || 'no disk'}
        {system.system && `, ${system.system}`}
      </p>
      {row('Name', <input className="field font-mono" value={name} onChange={(event) => setName(event.target.value)} />)}
      {row(
        'Host',
        <select className="field" aria-label="Host" value={mapping.hostId} onChange={(event) => setHost(event.target.value)}>
          {mapping.hostId === '' && <option value="">none is recorded</option>}
          {estate.all('host').map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>,
      )}
      {names.map((one) =>
        row(
          `Network ${one}`,
          <select
            key={one}
            className="field"
            aria-label={`Network ${one}`}
            value={networks[one] ?? ''}
            onChange={(event) => setNetworks({ ...networks, [one]: event.target.value || null })}
          >
            <option value="">none</option>
            {estate.all('network').map((network) => (
              <option key={network.id} value={network.id}>
                {network.name}
              </option>
            ))}
          </select>,
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
      <label className="flex items-center gap-2 text-[13px] py-1">
        <input
          type="checkbox"
          className="size-4 accent-[var(--accent)]"
          checked={keepsMacs}
          onChange={(event) => setKeepsMacs(event.target.checked)}
        />
        Keep its MACs: only where the machine it is of never runs beside it
      </label>
      <Effect commands={commands} withDifference={false} />
      <ProposalFooter proposal={proposal} label="Add the guest" isReady={commands !== undefined} />
    </div>
  )
}

function TableIn() {
  const { estate, basis, submitImport } = useEstate()
  const [text, setText] = useState('')
  const [mapping, setMapping] = useState<GuestTable['proposed']>()
  const [kept, setKept] = useState<string>()
  const table = useMemo(() => (text.trim() === '' ? undefined : readGuestTable(text)), [text])
  const columns = table && 'rows' in table ? (mapping ?? table.proposed) : undefined
  const reading = useMemo(
    () => (table && 'rows' in table && columns ? importGuests(estate, table, columns, ids) : undefined),
    [table, columns, estate],
  )
  const take = (next: string) => {
    setText(next)
    setMapping(undefined)
    setKept(undefined)
  }
  const says = reading ? `${reading.added.length} guests added and ${reading.changed.length} changed from a table` : ''
  const proposal = useProposal({
    commands: reading?.commands,
    says,
    ...(mayRecord(basis) && columns ? { recordBy: (commands) => submitImport({ kind: 'guests', text, columns }, commands, says) } : {}),
    recorded() {
      take('')
      setKept(says)
    },
    planned: () => take(''),
  })
  return (
    <Part title="A table of guests, in">
      <p className="text-soft text-[13px] py-1">
        CSV with headings. A known name changes that guest, another adds one; disks, networks and addresses are taken for new guests only.
      </p>
      <textarea
        className="field font-mono text-[12px]"
        rows={4}
        aria-label="Table of guests"
        placeholder={'name,host,vCPU,memory,disks,networks\nweb-1,gannet,2,4G,40G + 100G,office'}
        value={text}
        onChange={(event) => take(event.target.value)}
      />
      <label className="text-accent text-[13px] cursor-pointer hover:underline">
        Choose a file of guests
        <input
          type="file"
          accept=".csv,.tsv,.txt,text/csv"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0]
            if (file) void file.text().then(take)
          }}
        />
      </label>
      {table && 'sentence' in table && <Trouble>{table.sentence}</Trouble>}
      {table && 'rows' in table && columns && reading && (
        <>
          <ColumnMapping table={table} mapping={columns} options={guestColumns} sizes={guestSizeColumns} choose={setMapping} />
          <p className="text-[13px] py-1" role="status">
            {reading.added.length} new, {reading.changed.length} changed, {reading.same} as they are, {reading.rejected.length}{' '}
            {reading.rejected.length === 1 ? 'line' : 'lines'} not taken.
          </p>
          <ul className="text-[13px] text-warning">
            {reading.rejected.slice(0, 6).map(({ line, reason }) => (
              <li key={line}>
                Line {line}: {reason}
              </li>
            ))}
            {reading.rejected.length > 6 && <li>And {reading.rejected.length - 6} more.</li>}
          </ul>
          {reading.commands.length > 0 && (
            <>
              <Effect commands={reading.commands} />
              <ProposalFooter proposal={proposal} label="Record them" />
            </>
          )}
        </>
      )}
      {kept && (
        <p className="text-[13px]" role="status">
          {kept}.
        </p>
      )}
    </Part>
  )
}
