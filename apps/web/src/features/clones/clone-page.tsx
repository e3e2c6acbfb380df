import {
  adaptersOf,
  addressings,
  batchMinutes,
  batchStores,
  composeBatch,
  counted,
  disksOf,
  formatBytes,
  formatDuration,
  holdsDisks,
  identityOfCopy,
  kinds,
  NAMES_MAX,
  patternFor,
  spreads,
  templateOf,
  type BatchWish,
  type Command,
  type ComposedBatch,
  type Guest,
} from '@insel/core'
import { useDeferredValue, useId, useMemo, useState, type ReactNode } from 'react'
import { Link, useParams } from 'react-router'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { useKey } from '../../lib/keys'
import { usePaths } from '../../lib/paths'
import { useToday } from '../../estate/today'
import { useGo } from '../../lib/use-go'
import { asOptions, byName, Choice } from '../../ui/choice'
import { Ledger } from '../../ui/ledger'
import { Page, Part } from '../../ui/page'
import { Mark } from '../../ui/mark'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { inputText, inputValue } from '../records/field-text'
import { RemovedPage } from '../records/removed'
import { CopyTable } from './copy-table'
import { useBatchDraft, type BatchDraft } from './use-batch-draft'

/** Copies of a guest or template, one or many: what they are called, where they go, which addresses they get; and what that takes. */
export function ClonePage() {
  const { id = '' } = useParams()
  const { estate } = useEstate()
  const guest = estate.find('guest', id)
  if (!guest) return <RemovedPage kind="guest" id={id} />
  return <Composing key={guest.id} template={guest} />
}

function Composing({ template }: { template: Guest }) {
  const { estate, basis, submit } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const draft = useBatchDraft(template)
  const { wish, idOf } = draft
  const [batchId] = useState(newId)
  const [isMade, setMade] = useState<boolean>()
  const [ownerId, setOwner] = useState('')
  const day = useToday()
  // Typing is not held up by what follows from it.
  const asked = useDeferredValue(draft)
  const composed = useMemo(() => composeBatch(estate, asked.wish, asked.idOf, asked.edits), [estate, asked])
  const isBehind = asked !== draft
  const { rows, commands, problems } = composed
  const version = templateOf(estate, template.id)
  const startsAs = identityOfCopy(estate, template)
  const isOne = rows.length === 1
  const isFollowed = !(isMade ?? isOne)
  const begin = (copies: readonly Command[]): readonly Command[] => [
    {
      type: 'batch.begin',
      id: batchId,
      name: `${template.name}, ${day}`,
      copies,
      ...(ownerId ? { ownerId } : {}),
      ...(wish.isIsolated ? { school: 'isolated first boot' } : {}),
    },
  ]
  const hasErrors = problems.some(({ severity }) => severity === 'error')
  const proposal = useProposal({
    commands: isBehind || hasErrors ? undefined : commands,
    recordBy: (ready) => submit(isFollowed ? begin(ready) : ready),
    recorded() {
      const first = idOf(0)
      draft.clear()
      return go(to(isFollowed ? `clones/${batchId}` : isOne ? `guests/${first}` : 'clones'))
    },
    planned: draft.clear,
    planAt: 'board',
  })
  useKey('mod+Enter', () => void proposal.record())
  return (
    <Page
      title={`Clone ${template.name}`}
      about={
        <>
          {version ? `Version ${version.version}. ` : ''}Each copy gets its own name, ids and MACs.{' '}
          {template.kind === 'template' && (
            <Link className="link target" to={to(`guests/${template.id}/template`)}>
              Template sheet
            </Link>
          )}
        </>
      }
      isWide
    >
      <form
        onSubmit={(event) => {
          event.preventDefault()
          void proposal.record()
        }}
      >
        <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-10">
          <Wishes draft={draft} template={template} count={rows.length} />
          <Costs composed={composed} template={template} wish={asked.wish} />
        </div>
        {problems.map(({ severity, sentence }) => (
          <p key={sentence} className="flex gap-2 items-baseline mb-1" role={severity === 'error' ? 'alert' : undefined}>
            <Mark of={severity} /> {sentence}
          </p>
        ))}
        {rows.length > 0 && <CopyTable draft={draft} composed={composed} template={template} />}
        {basis.on !== 'item' && rows.length > 0 && (
          <label className="flex gap-2 items-center mt-3">
            <input
              type="checkbox"
              className="size-5 accent-[var(--accent)]"
              checked={!isFollowed}
              onChange={(event) => setMade(event.target.checked)}
            />
            {isOne ? 'It is made already' : 'They are made already'}: record {isOne ? 'it' : 'them'} as stopped, without following{' '}
            {isOne ? 'it' : 'them'} step by step
          </label>
        )}
        {isFollowed && basis.on !== 'item' && rows.length > 0 && (
          <label className="flex gap-2 items-center mt-2">
            Owner
            <Choice
              options={byName(estate.all('person').filter(({ kind }) => kind === 'person'))}
              none="whoever begins it"
              value={ownerId}
              choose={setOwner}
              className="!w-48"
            />
          </label>
        )}
        <ProposalFooter
          proposal={proposal}
          label={
            isFollowed
              ? `Begin ${isOne ? 'the copy' : `batch of ${rows.length}`}`
              : isOne
                ? `Clone ${template.name}`
                : `Record ${counted(rows.length, 'copy', 'copies')}`
          }
          isReady={commands !== undefined && !hasErrors && !isBehind}
          isForm
        />
      </form>
      <p className="text-dense text-soft">
        {wish.isIsolated || startsAs.identity === 'copied'
          ? `A copy starts with the identity of ${template.name}${wish.isIsolated ? ' and gets its own on its isolated first boot' : ''}.`
          : 'A copy starts without an identity and gets its own at its first boot.'}
      </p>
      {isOne && <Effect commands={hasErrors ? undefined : commands} />}
    </Page>
  )
}

/** What is asked for. */
function Wishes({ draft: { wish, setWish }, template, count }: { draft: BatchDraft; template: Guest; count: number }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const templates = estate
    .all('guest')
    .filter(({ id, kind }) => id === template.id || (kind === 'template' && !templateOf(estate, id)?.withdrawnOn))
  const adapters = adaptersOf(estate, template.id)
  const networks = byName(estate.all('network'))
  const hosts = byName(estate.all('host').filter(({ state }) => state !== 'retired'))
  const [first] = disksOf(estate, template.id)
  return (
    <div>
      {templates.length > 1 && (
        <Line label="Template">
          {(id) => (
            <Choice
              id={id}
              options={templates.map((one) => {
                const version = templateOf(estate, one.id)?.version
                return [one.id, version ? `${one.name}, version ${version}` : one.name] as const
              })}
              value={template.id}
              choose={(other: string) => void go(to(`guests/${other}/clone`))}
              className="!w-80"
            />
          )}
        </Line>
      )}
      <Line label="How many">
        {(id) => (
          <input
            id={id}
            type="number"
            min={1}
            max={NAMES_MAX}
            className="field !w-24 font-mono"
            value={count || ''}
            onChange={(event) => {
              const wanted = Math.floor(event.target.valueAsNumber)
              if (wanted >= 1 && wanted <= NAMES_MAX) setWish({ names: patternFor(estate, template, wanted) })
            }}
          />
        )}
      </Line>
      <Line label="Names" about="A pattern such as edge-{01..05}, {a..c}-web, or names one to a line.">
        {(id) => (
          <textarea
            id={id}
            className="field font-mono field-sizing-content max-h-40"
            rows={Math.min(6, wish.names.split('\n').length)}
            spellCheck={false}
            autoFocus
            value={wish.names}
            onChange={(event) => setWish({ names: event.target.value })}
          />
        )}
      </Line>
      <Line label="Spread" about="The failover reserve is kept where it can be.">
        {(id) => (
          <span className="flex flex-wrap gap-2">
            <Choice id={id} options={asOptions(spreads)} value={wish.spread} choose={(spread) => setWish({ spread })} className="!w-36" />
            {wish.spread === 'one host' && (
              <Choice
                options={hosts}
                value={wish.hostId ?? template.hostId ?? ''}
                choose={(hostId) => setWish({ hostId })}
                aria-label="Host of all"
                className="!w-40"
              />
            )}
          </span>
        )}
      </Line>
      <Line label="Addresses" about="Of the first adapter that is on a network.">
        {(id) => (
          <>
            <Choice
              id={id}
              options={asOptions(addressings)}
              value={wish.addressing}
              choose={(addressing) => setWish({ addressing })}
              className="!w-52"
            />
            {wish.addressing.startsWith('listed') && (
              <textarea
                className="field font-mono mt-1"
                aria-label="List of addresses"
                placeholder="10.61.30.20-10.61.30.29"
                rows={2}
                value={wish.addressList}
                onChange={(event) => setWish({ addressList: event.target.value })}
              />
            )}
          </>
        )}
      </Line>
      {adapters.map((adapter) => (
        <Line key={adapter.id} label={`Network of adapter ${adapter.position}`}>
          {(id) => (
            <Choice
              id={id}
              options={networks}
              none={`as the original: ${estate.find('network', adapter.networkId)?.name ?? 'none'}`}
              value={wish.networks[adapter.id] ?? ''}
              choose={(networkId) => {
                const { [adapter.id]: _, ...others } = wish.networks
                setWish({ networks: networkId ? { ...others, [adapter.id]: networkId } : others })
              }}
              className="!w-64"
            />
          )}
        </Line>
      ))}
      <Line label="Identity" about="Isolated: its adapters stay disconnected until it has an identity of its own.">
        {(id) => (
          <Choice
            id={id}
            options={[
              ['no', 'from a generalised template'],
              ['yes', 'each generalised on an isolated first boot'],
            ]}
            value={wish.isIsolated ? 'yes' : 'no'}
            choose={(value) => setWish({ isIsolated: value === 'yes' })}
            className="!w-80"
          />
        )}
      </Line>
      <details className="my-2">
        <summary className="text-accent min-h-7 content-center">Stores, sizes, group and tags</summary>
        <Sized name="vcpu" template={template} draft={{ wish, setWish }} />
        <Sized name="memoryMiB" template={template} draft={{ wish, setWish }} />
        {first && (
          <Sized
            name="systemDiskBytes"
            template={template}
            draft={{ wish, setWish }}
            placeholder={formatBytes(first.sizeBytes)}
            label="System disk"
          />
        )}
        <Line label="Store" about="Worked out for each copy, unless one is chosen.">
          {(id) => (
            <Choice
              id={id}
              options={byName(estate.all('store').filter(holdsDisks))}
              none="worked out"
              value={wish.storeId ?? ''}
              choose={(storeId: string) => setWish({ storeId: storeId === '' ? null : storeId })}
              className="!w-52"
            />
          )}
        </Line>
        <Line label="Provisioning">
          {(id) => (
            <Choice
              id={id}
              options={asOptions(['thin', 'thick'] as const)}
              none="as the original"
              value={wish.provisioning ?? ''}
              choose={(value: string) => setWish({ provisioning: value === 'thin' || value === 'thick' ? value : null })}
              className="!w-40"
            />
          )}
        </Line>
        {(['purpose', 'group', 'tags'] as const).map((name) => (
          <Sized key={name} name={name} template={template} draft={{ wish, setWish }} />
        ))}
      </details>
    </div>
  )
}

type Text = 'vcpu' | 'memoryMiB' | 'systemDiskBytes' | 'purpose' | 'group' | 'tags'
const fieldOf = (name: Text) => (name === 'systemDiskBytes' ? kinds.disk.fields.sizeBytes : kinds.guest.fields[name])

/** A field of the guest that all copies get another value of. */
function Sized({
  name,
  template,
  draft: { wish, setWish },
  placeholder,
  label,
}: {
  name: Text
  template: Guest
  draft: Pick<BatchDraft, 'wish' | 'setWish'>
  placeholder?: string
  label?: string
}) {
  const field = fieldOf(name)
  const [typed, setTyped] = useState(() => (wish[name] === null ? '' : inputText(field, wish[name])))
  const read = (text: string) => (text.trim() === '' ? { value: null } : inputValue(field, text))
  const reading = read(typed)
  return (
    <Line label={label ?? field.label} trouble={'sentence' in reading ? reading.sentence : undefined}>
      {(id) => (
        <input
          id={id}
          className="field !w-40"
          aria-invalid={'sentence' in reading}
          placeholder={placeholder ?? (name === 'systemDiskBytes' ? '' : inputText(field, template[name]))}
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value)
            const reread = read(event.target.value)
            if ('value' in reread) setWish({ [name]: reread.value })
          }}
        />
      )}
    </Line>
  )
}

function Line({
  label,
  about,
  trouble,
  children,
}: {
  label: string
  about?: string
  trouble?: string | undefined
  children: (id: string) => ReactNode
}) {
  const id = useId()
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] sm:grid-cols-[150px_minmax(0,1fr)] gap-x-4 gap-y-0.5 items-start py-1.5 border-t border-line first:border-0">
      <label htmlFor={id} className="pt-1">
        {label}
      </label>
      <div>
        {children(id)}
        {trouble ? <p className="text-error text-dense">{trouble}</p> : about && <p className="text-faint text-dense">{about}</p>}
      </div>
    </div>
  )
}

/** What the batch takes: of the stores now, with all copies, and in 90 days; and of everybody's time. */
function Costs({ composed, template, wish }: { composed: ComposedBatch; template: Guest; wish: BatchWish }) {
  const { estate } = useEstate()
  const { rows, stores, withoutAddress } = composed
  const cost = useMemo(
    () => ({
      stores: batchStores(estate, template, rows, stores),
      minutes: batchMinutes(estate, template, rows, wish.isIsolated ? 'isolated first boot' : 'template generalised'),
    }),
    [estate, template, rows, stores, wish.isIsolated],
  )
  if (rows.length === 0) return <div />
  const noPlace = rows.filter(({ place }) => place.host === undefined).length
  const share = (bytes: number, of: number) => `${Math.round((bytes / of) * 100)} %`
  const { copying, booting, byHand, total, installing, from, installingFrom } = cost.minutes
  return (
    <div>
      <Part title={`What ${counted(rows.length, 'copy', 'copies')} ${rows.length === 1 ? 'takes' : 'take'}`}>
        <Ledger headings={['store', 'copies', 'takes', 'in use now', 'then', 'in 90 days', 'promised then']}>
          {cost.stores.map((store) => (
            <tr key={store.storeId}>
              <td>{store.name}</td>
              <td>{store.copies}</td>
              <td title={store.takes.formula}>{formatBytes(store.takes.value)}</td>
              <td>{share(store.usedNowBytes, store.capacityBytes)}</td>
              <td>{share(store.usedThenBytes, store.capacityBytes)}</td>
              <td className={store.usedIn90DaysBytes > store.capacityBytes ? 'text-error' : ''}>
                {share(store.usedIn90DaysBytes, store.capacityBytes)}
              </td>
              <td className={store.promisedThenBytes > store.capacityBytes ? 'text-warning' : ''}>
                {share(store.promisedThenBytes, store.capacityBytes)}
              </td>
            </tr>
          ))}
        </Ledger>
        <p className="text-dense mt-2">
          About {formatDuration(total * 60)}: {formatDuration(copying * 60)} copying, {formatDuration(booting * 60)} first boots,{' '}
          {formatDuration(byHand * 60)} by hand. <span className="text-soft">Basis: {from}.</span> As many fresh installs:{' '}
          {formatDuration(installing * 60)}. <span className="text-soft">Basis: {installingFrom}.</span>
        </p>
        {noPlace > 0 && (
          <p className="text-error text-dense mt-1" role="status">
            {counted(noPlace, 'copy', 'copies')} {noPlace === 1 ? 'finds' : 'find'} no place; the row says by how much.
          </p>
        )}
        {withoutAddress > 0 && (
          <p className="text-error text-dense mt-1" role="status">
            For {counted(withoutAddress, 'copy', 'copies')} no address is left.
          </p>
        )}
      </Part>
    </div>
  )
}
