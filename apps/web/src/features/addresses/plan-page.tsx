import {
  counted,
  formatNumber,
  isPrivate,
  isWithin,
  nextPlace,
  parsePrefix,
  planBlock,
  prefixAround,
  prefixOf,
  readField,
  siblingOf,
  kinds,
  type BlockPlan,
  type Command,
  type Estate,
  type Network,
  type SegmentWant,
} from '@insel/core'
import { useMemo, useState } from 'react'
import { useEstate } from '../../estate'
import { newId } from '../../lib/context'
import { readStored, store } from '../../lib/storage'
import { useGo } from '../../lib/use-go'
import { usePaths } from '../../lib/paths'
import { Button } from '../../ui/button'
import { Effect } from '../proposals/effect'
import { ProposalFooter } from '../proposals/proposal-footer'
import { useProposal } from '../proposals/use-proposal'
import { Empty, Page, Part } from '../../ui/page'
import { BlockDrawing, type BlockKey, type DrawnPrefix } from './block-drawing'
import { NetworksNav } from '../networks/networks-nav'

const roles = kinds.network.fields.role.options

/** A wanted segment as it is edited: numbers as they are typed. */
interface Draft {
  readonly name: string
  readonly role: Network['role']
  readonly machines: string
  readonly growth: string
  readonly vlan: string
  readonly prefix?: string
}
interface Sketch {
  readonly block: string
  readonly drafts: readonly Draft[]
  readonly hosts: readonly string[]
}

/** The segments of a usual build. Common practice, no source. */
const usual: readonly Draft[] = [
  { name: 'management', role: 'management', machines: '20', growth: '50', vlan: '' },
  { name: 'store', role: 'storage', machines: '10', growth: '50', vlan: '' },
  { name: 'servers', role: 'guests', machines: '100', growth: '50', vlan: '' },
  { name: 'moves', role: 'live migration', machines: '10', growth: '50', vlan: '' },
  { name: 'trial', role: 'lab', machines: '40', growth: '25', vlan: '' },
]

/** A block to begin with: the /16 around the first private prefix of the plan. */
function firstBlock(estate: Estate): string {
  const subnet = estate.all('subnet').find((one) => prefixOf(one).family === 4 && isPrivate(one.prefix.split('/')[0] ?? ''))
  return subnet ? prefixAround(subnet.prefix.split('/')[0] ?? '', Math.min(16, prefixOf(subnet).bits)).text : '10.0.0.0/16'
}

const count = (text: string, max: number): number | undefined =>
  /^\d{1,7}$/.test(text.trim()) && Number(text) <= max ? Number(text) : undefined

/** What is wrong with a row, if anything. */
function problemOf({ name, machines, growth, vlan }: Draft, names: readonly string[]): string | undefined {
  const named = readField(kinds.network.fields.name, name)
  if (!named.ok) return named.sentence
  if (names.filter((one) => one.toLowerCase() === name.toLowerCase()).length > 1)
    return `${name} is in the list twice; give each a name of its own.`
  if (!count(machines, 1_000_000)) return 'Machines is a whole number from 1.'
  if (count(growth, 1000) === undefined) return 'Growth is a whole number of percent, 0 to 1000.'
  if (vlan.trim() !== '' && !(count(vlan, 4094) ?? 0)) return 'VLAN is a whole number from 1 to 4094, or empty (IEEE 802.1Q).'
  return undefined
}

/** Plans segments in a block: wanted sizes become prefixes that nest and align, drawn to scale; then they are recorded and carried to hosts. */
export function PlanPage() {
  const { estate, estateId } = useEstate()
  const { to } = usePaths()
  const go = useGo()
  const [sketch, keepSketch] = useState<Sketch>(
    () => readStored<Sketch>(`block.${estateId}`) ?? { block: firstBlock(estate), drafts: [], hosts: [] },
  )
  const [pending, setPending] = useState<readonly Command[]>()
  const setSketch = (next: Sketch) => {
    store(`block.${estateId}`, next.drafts.length > 0 ? next : undefined)
    keepSketch(next)
  }
  const setDraft = (index: number, changes: Partial<Draft>) =>
    setSketch({ ...sketch, drafts: sketch.drafts.map((draft, at) => (at === index ? { ...draft, ...changes } : draft)) })
  const { blockRead, block, inside, problems, made } = useMemo(() => workOut(estate, sketch), [estate, sketch])
  const indexOf = (want: SegmentWant) => (want as SegmentWant & { index: number }).index
  const drawn: readonly DrawnPrefix[] = [
    ...inside.map((subnet): DrawnPrefix => {
      const addresses = estate.referring('address', 'subnetId', subnet.id).length
      return {
        key: subnet.id,
        prefix: prefixOf(subnet),
        name: estate.find('network', subnet.networkId)?.name ?? '',
        holds: `${counted(addresses, 'address', 'addresses')} recorded`,
        look: 'recorded',
      }
    }),
    ...(made?.segments ?? []).map(({ want, prefix, needed, room }): DrawnPrefix => ({
      key: `draft ${indexOf(want)}`,
      prefix,
      name: want.name,
      holds: `${formatNumber(needed, 0)} wanted, room for ${formatNumber(room, 0)} more`,
      look: 'drafted',
    })),
  ]
  const move = (key: string, place: { readonly text: string }) => {
    if (key.startsWith('draft ')) setDraft(Number(key.slice(6)), { prefix: place.text })
    else setPending([{ type: 'subnet.move', subnetId: key, prefix: place.text }])
  }
  const onKey = (key: string, asked: BlockKey) => {
    const one = drawn.find((other) => other.key === key)
    if (!one || !block) return
    const others = drawn.filter((other) => other.key !== key).map(({ prefix }) => prefix)
    if (asked === 'up' || asked === 'down') {
      const place = nextPlace(block, others, one.prefix, asked)
      if (place) move(key, place)
      return
    }
    if (key.startsWith('draft ')) {
      const bits = one.prefix.bits + (asked === 'longer' || asked === 'split' ? 1 : -1)
      const resized = prefixAround(one.prefix.text.split('/')[0] ?? '', bits)
      if (bits <= 30 && isWithin(resized, block) && !others.some((other) => isWithin(other, resized)))
        setDraft(Number(key.slice(6)), { prefix: resized.text })
      return
    }
    if (asked === 'split') setPending([{ type: 'subnet.split', subnetId: key, id: newId() }])
    if (asked === 'merge') {
      const twin = inside.find(({ prefix }) => prefix === siblingOf(one.prefix))
      if (twin) setPending([{ type: 'subnet.merge', subnetId: key, withId: twin.id }])
    }
  }
  const commands = useMemo(() => (made ? commandsOf(made, sketch.hosts) : []), [made, sketch.hosts])
  const isSound = problems.every((problem) => problem === undefined) && made?.problems.length === 0 && commands.length > 0
  const hosts = estate.all('host').filter(({ state }) => state !== 'retired')
  const clear = () => setSketch({ ...sketch, drafts: [] })
  const segments = useProposal({
    commands,
    says: `${made?.segments.length ?? 0} segments planned`,
    recorded() {
      clear()
      return go(to('networks'))
    },
    planned: clear,
  })
  const leave = () => setPending(undefined)
  const change = useProposal({ commands: pending, recorded: leave, planned: leave })
  return (
    <Page
      title="Plan a block"
      about={
        <>
          Say what the segments have to hold; they are placed so that they nest, align, and leave room.
          <NetworksNav />
        </>
      }
      isWide
    >
      <div className="grid xl:grid-cols-[minmax(0,680px)_minmax(0,1fr)] gap-x-8 gap-y-4 max-w-[1400px]">
        <div>
          <label className="flex gap-2 items-center mb-2">
            Block
            <input
              className="field font-mono !w-48"
              value={sketch.block}
              aria-invalid={!blockRead.ok}
              spellCheck={false}
              onChange={(event) => setSketch({ ...sketch, block: event.target.value })}
            />
            {!blockRead.ok && <span className="text-error text-[13px]">{blockRead.sentence}</span>}
          </label>
          {block && made && (
            <>
              <BlockDrawing block={block} drawn={drawn} free={made.free} onMove={move} onKey={onKey} />
              <p className="text-[12.5px] text-soft mt-1.5">
                Area is to scale. Drag a prefix, or focus it and press the arrows; <kbd>s</kbd> splits, <kbd>m</kbd> merges with its other
                half, <kbd>+</kbd> and <kbd>-</kbd> change a drafted one’s size.
              </p>
            </>
          )}
          {pending && (
            <div className="border border-accent rounded-md px-4 py-3 mt-3" role="region" aria-label="Change of a recorded subnet">
              <p className="font-medium mb-1">This changes what is recorded: machines have to be renumbered by hand, too.</p>
              <Effect commands={pending} />
              <ProposalFooter proposal={change} label="Record it" leave={leave} />
            </div>
          )}
        </div>
        <div className="min-w-0">
          <Part
            title="Wanted segments"
            aside={
              <Button
                look="quiet"
                className="!min-h-6"
                onClick={() =>
                  setSketch({ ...sketch, drafts: [...sketch.drafts, { name: '', role: 'guests', machines: '20', growth: '50', vlan: '' }] })
                }
              >
                Add a segment
              </Button>
            }
          >
            {sketch.drafts.length === 0 ? (
              <Empty action={<Button onClick={() => setSketch({ ...sketch, drafts: usual })}>Begin with the usual five</Button>}>
                No segment is wanted yet. Begin with five roles of a usual build, or add one.
              </Empty>
            ) : (
              <ul>
                <li aria-hidden className={`${columns} text-faint text-[12.5px]`}>
                  <span>name</span>
                  <span>role</span>
                  <span>machines</span>
                  <span>growth %</span>
                  <span>VLAN</span>
                </li>
                {sketch.drafts.map((draft, index) => (
                  <DraftRow
                    key={index}
                    draft={draft}
                    problem={problems[index] ?? made?.problems.find(({ name }) => name === draft.name)?.sentence}
                    placed={made?.segments.find(({ want }) => indexOf(want) === index)}
                    onChange={(changes) => setDraft(index, changes)}
                    onRemove={() => setSketch({ ...sketch, drafts: sketch.drafts.filter((_, at) => at !== index) })}
                  />
                ))}
              </ul>
            )}
          </Part>
          {sketch.drafts.length > 0 && (
            <>
              <Part title="Carried to">
                {hosts.length === 0 && <p className="text-soft text-[13px] py-1">No host is recorded yet; carry them there later.</p>}
                <div className="flex flex-wrap gap-x-5 gap-y-1 py-1 max-h-40 overflow-auto">
                  {hosts.map(({ id, name }) => (
                    <label key={id} className="flex gap-1.5 items-center min-h-7">
                      <input
                        type="checkbox"
                        className="size-4 accent-[var(--accent)]"
                        checked={sketch.hosts.includes(id)}
                        onChange={(event) =>
                          setSketch({
                            ...sketch,
                            hosts: event.target.checked ? [...sketch.hosts, id] : sketch.hosts.filter((one) => one !== id),
                          })
                        }
                      />
                      {name}
                    </label>
                  ))}
                </div>
              </Part>
              <ProposalFooter proposal={segments} label={`Record ${made?.segments.length ?? 0} segments`} isReady={isSound} />
              <Effect commands={isSound ? commands : undefined} withDifference={false} />
            </>
          )}
        </div>
      </div>
    </Page>
  )
}

const columns = 'grid grid-cols-[minmax(90px,1fr)_132px_64px_64px_64px_76px] gap-1.5 items-center text-[13px]'

function DraftRow({
  draft,
  problem,
  placed,
  onChange,
  onRemove,
}: {
  draft: Draft
  problem: string | undefined
  placed: BlockPlan['segments'][number] | undefined
  onChange: (changes: Partial<Draft>) => void
  onRemove: () => void
}) {
  const of = draft.name || 'the new segment'
  const field = 'field !min-h-7 !py-0.5'
  return (
    <li className="border-t border-line first:border-0 py-2">
      <div className={columns}>
        <input
          className={field}
          aria-label={`Name of ${of}`}
          placeholder="name"
          value={draft.name}
          onChange={(event) => onChange({ name: event.target.value })}
        />
        <select
          className={field}
          aria-label={`Role of ${of}`}
          value={draft.role}
          onChange={(event) => onChange({ role: event.target.value as Network['role'] })}
        >
          {roles.map((role) => (
            <option key={role}>{role}</option>
          ))}
        </select>
        <input
          className={field}
          aria-label={`Machines on ${of}`}
          title="machines"
          inputMode="numeric"
          value={draft.machines}
          onChange={(event) => onChange({ machines: event.target.value })}
        />
        <input
          className={field}
          aria-label={`Growth of ${of}, percent`}
          title="growth, percent"
          inputMode="numeric"
          value={draft.growth}
          onChange={(event) => onChange({ growth: event.target.value })}
        />
        <input
          className={field}
          aria-label={`VLAN of ${of}`}
          title="VLAN ID"
          inputMode="numeric"
          placeholder={placed ? String(placed.vlanId) : 'VLAN'}
          value={draft.vlan}
          onChange={(event) => onChange({ vlan: event.target.value })}
        />
        <Button look="quiet" className="!min-h-7" aria-label={`Take ${of} out`} onClick={onRemove}>
          Take out
        </Button>
      </div>
      {problem ? (
        <p className="text-error text-[13px] mt-1">{problem}</p>
      ) : (
        placed && (
          <p className="text-[12.5px] text-soft mt-1">
            <span className="font-mono text-ink">{placed.prefix.text}</span>, VLAN {placed.vlanId},{' '}
            {placed.gateway ? `gateway ${placed.gateway}` : 'no gateway'}
            {placed.pool && `, pool from ${placed.pool.first}`}. {draft.machines} machines and {draft.growth} % make{' '}
            {formatNumber(placed.needed, 0)}; room for {formatNumber(placed.room, 0)} more.{' '}
            {draft.prefix && (
              <Button look="quiet" className="!min-h-6 !px-0" onClick={() => onChange({ prefix: '' })}>
                Place it freely
              </Button>
            )}
          </p>
        )
      )}
    </li>
  )
}

/** What a sketch comes to in an estate: the block, what is recorded in it, what is wrong with the rows, the plan. */
function workOut(estate: Estate, sketch: Sketch) {
  const blockRead = readField(kinds.subnet.fields.prefix, sketch.block)
  const block = blockRead.ok ? parsePrefix(blockRead.value as string) : undefined
  const inside = block ? estate.all('subnet').filter((subnet) => isWithin(prefixOf(subnet), block)) : []
  const names = sketch.drafts.map(({ name }) => name)
  const problems = sketch.drafts.map((draft) => problemOf(draft, names))
  const wants = sketch.drafts.flatMap((draft, index): (SegmentWant & { index: number })[] =>
    problems[index]
      ? []
      : [
          {
            index,
            name: draft.name,
            role: draft.role,
            machines: Number(draft.machines),
            growthPercent: Number(draft.growth),
            vlanId: draft.vlan.trim() === '' ? null : Number(draft.vlan),
            ...(draft.prefix ? { prefix: draft.prefix } : {}),
          },
        ],
  )
  const made: BlockPlan | undefined =
    block &&
    planBlock(
      block.text,
      wants,
      inside.map(({ prefix }) => prefix),
      estate.all('network').flatMap(({ vlanId }) => vlanId ?? []),
    )
  return { blockRead, block, inside, problems, made }
}

/** The commands that record the planned segments and carry them to hosts. */
function commandsOf({ segments }: BlockPlan, hostIds: readonly string[]): readonly Command[] {
  return segments.flatMap(({ want, prefix, vlanId, gateway, pool }): Command[] => {
    const [networkId, subnetId] = [newId(), newId()]
    return [
      {
        type: 'network.add',
        record: { id: networkId, name: want.name, role: want.role, vlanId, ...(want.role === 'storage' ? { mtu: 9000 } : {}) },
      },
      { type: 'subnet.add', record: { id: subnetId, networkId, prefix: prefix.text, gateway } },
      ...(pool ? [{ type: 'pool.add' as const, record: { subnetId, ...pool } }] : []),
      ...hostIds.map((hostId): Command => ({ type: 'attachment.add', record: { hostId, networkId } })),
    ]
  })
}
