import {
  isPrivate,
  isWithin,
  parsePrefix,
  planBlock,
  prefixAround,
  prefixOf,
  readField,
  kinds,
  type BlockPlan,
  type Command,
  type Estate,
  type Network,
  type SegmentWant,
} from '@insel/core'
import { newId } from '../../lib/context'

export const roles = kinds.network.fields.role.options

/** A wanted segment as it is edited: numbers as they are typed. */
export interface SegmentRow {
  readonly name: string
  readonly role: Network['role']
  readonly machines: string
  readonly growth: string
  readonly vlan: string
  readonly prefix?: string
}

export interface Sketch {
  readonly block: string
  readonly drafts: readonly SegmentRow[]
  readonly hosts: readonly string[]
}

/** The segments of a usual build. Common practice, no source. */
export const usual: readonly SegmentRow[] = [
  { name: 'management', role: 'management', machines: '20', growth: '50', vlan: '' },
  { name: 'store', role: 'storage', machines: '10', growth: '50', vlan: '' },
  { name: 'servers', role: 'guests', machines: '100', growth: '50', vlan: '' },
  { name: 'moves', role: 'live migration', machines: '10', growth: '50', vlan: '' },
  { name: 'trial', role: 'lab', machines: '40', growth: '25', vlan: '' },
]

/** A block to begin with: the /16 around the first recorded private prefix. */
export function firstBlock(estate: Estate): string {
  const subnet = estate.all('subnet').find((one) => prefixOf(one).family === 4 && isPrivate(one.prefix.split('/')[0] ?? ''))
  return subnet ? prefixAround(subnet.prefix.split('/')[0] ?? '', Math.min(16, prefixOf(subnet).bits)).text : '10.0.0.0/16'
}

const count = (text: string, max: number): number | undefined =>
  /^\d{1,7}$/.test(text.trim()) && Number(text) <= max ? Number(text) : undefined

/** What is wrong with a row, if anything. */
function problemOf({ name, machines, growth, vlan }: SegmentRow, names: readonly string[]): string | undefined {
  const named = readField(kinds.network.fields.name, name)
  if (!named.ok) return named.sentence
  if (names.filter((one) => one.toLowerCase() === name.toLowerCase()).length > 1)
    return `${name} appears twice; give each segment a different name.`
  if (!count(machines, 1_000_000)) return 'Machines must be a whole number, at least 1.'
  if (count(growth, 1000) === undefined) return 'Growth must be a whole percentage from 0 to 1000.'
  if (vlan.trim() !== '' && !(count(vlan, 4094) ?? 0)) return 'VLAN must be a whole number from 1 to 4094, or empty (IEEE 802.1Q).'
  return undefined
}

/** What a sketch comes to in an estate: the block, what is recorded in it, what is wrong with the rows, the plan. */
export function workOut(estate: Estate, sketch: Sketch) {
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
export function commandsOf({ segments }: BlockPlan, hostIds: readonly string[]): readonly Command[] {
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
