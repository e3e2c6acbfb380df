import { changesOf, madeOf, type MoveMade } from '../capacity/index.js'
import { attempt, type Command } from '../commands/index.js'
import {
  adaptersOf,
  CommandError,
  disksOf,
  isPoweredOn,
  makeIds,
  seededRandom,
  type Adapter,
  type Difference,
  type Disk,
  type Estate,
  type Guest,
  type Hardware,
  type Host,
  type Migration,
  type Step,
  type Store,
  type System,
} from '../estate/index.js'
import { sheetOf } from '../sheets/index.js'
import { adapterPairs, backOfCutOver, hostOfMapping, type Mapping } from './pass-over.js'

/** A disk of the source, and what it comes to be. */
export interface MovedDisk {
  readonly disk: Disk
  readonly from: Store | undefined
  /** Whether its data is copied; otherwise it stays on its store. */
  readonly isCopied: boolean
  readonly store: Store | undefined
  readonly sizeBytes: number | undefined
  readonly bus: Disk['bus']
  readonly provisioning: Disk['provisioning']
}

/** An adapter of the source, and what it comes to be. */
export interface MovedAdapter {
  readonly adapter: Adapter
  /** That of the machine that takes over; undefined where it has none for it. */
  readonly target: Adapter | undefined
  readonly networkId: string | null
  readonly model: Adapter['model']
  readonly mac: string | null
  readonly isKept: boolean
}

/** A move as it is looked at: from what to what, and the estate as its cut-over would leave it. */
export interface MoveView {
  readonly estate: Estate
  readonly today: string
  readonly move: Migration | undefined
  readonly mapping: Mapping
  readonly method: Migration['method']
  readonly source: Guest
  readonly sourceHost: Host | undefined
  readonly hardware: Hardware | undefined
  readonly system: System | undefined
  /** The machine that takes over; undefined where the guest itself goes to another host. */
  readonly becomes: Guest | undefined
  readonly host: Host | undefined
  readonly disks: readonly MovedDisk[]
  readonly adapters: readonly MovedAdapter[]
  readonly firmware: Guest['firmware']
  readonly vcpu: number
  readonly memoryMiB: number
  /** Why the cut-over would be refused, in a sentence. */
  readonly refusal: string | undefined
  /** The estate after the cut-over; as it is where that would be refused. */
  readonly after: Estate
  /** What became of its checks and steps, by their keys. */
  readonly steps: ReadonlyMap<string, Step>
}

/** Whether a machine outside any host is what the move leads to. */
export const isToMetal = ({ becomes }: Pick<MoveView, 'becomes'>): boolean => becomes?.kind === 'external'
/** Whether source and target are hosts of one platform. */
export const isSamePlatform = ({ sourceHost, host }: Pick<MoveView, 'sourceHost' | 'host'>): boolean =>
  sourceHost !== undefined && host !== undefined && sourceHost.platformId === host.platformId

/**
 * A move that is begun, or only thought of.
 *
 * @returns undefined where the machine or where it goes is not there
 */
export function moveView(now: Estate, of: Migration | Mapping, today: string): MoveView | undefined {
  const move = 'made' in of ? of : undefined
  // Once it is cut over, it is looked at from where it was: what changes by it would not be seen otherwise.
  const estate = move?.did && move.state !== 'rolled back' ? now.with(backOfCutOver(now, move.did as unknown as Difference)) : now
  const mapping = move
    ? ((move.made[0] ?? { guestId: move.guestId, toHostId: move.toHostId, becomesId: move.becomesId }) as unknown as Mapping)
    : (of as Mapping)
  const source = estate.find('guest', move ? move.guestId : mapping.guestId)
  if (!source) return undefined
  const becomes = mapping.becomesId ? estate.find('guest', mapping.becomesId) : undefined
  const host = hostOfMapping(estate, mapping)
  if (!host && !becomes) return undefined
  const made = move ? madeOf(move) : (mapping as unknown as MoveMade)
  const { after, refusal } = afterCutOver(estate, source, mapping)
  const sheet = move ? sheetOf(estate, 'migrationId', move.id, 'move') : undefined
  const own = changesOf(made, becomes?.id ?? source.id)
  const whole = { ...(becomes ?? source), ...own } as Guest
  return {
    estate,
    today,
    move,
    mapping,
    method: move?.method ?? mapping.method ?? 'cold copy',
    source,
    sourceHost: estate.find('host', source.hostId),
    hardware: estate.referring('hardware', 'guestId', source.id)[0],
    system: estate.find('system', source.systemId),
    becomes,
    host,
    disks: movedDisks(estate, source, becomes, made),
    adapters: movedAdapters(estate, source, becomes, mapping, made),
    firmware: whole.firmware,
    vcpu: whole.vcpu,
    memoryMiB: whole.memoryMiB,
    refusal,
    after,
    steps: new Map((sheet ? estate.referring('step', 'sheetId', sheet.id) : []).map((step) => [step.step, step])),
  }
}

function movedDisks(estate: Estate, source: Guest, becomes: Guest | undefined, made: MoveMade): readonly MovedDisk[] {
  const targets = becomes ? disksOf(estate, becomes.id) : []
  return disksOf(estate, source.id).map((disk) => {
    const target = targets.find(({ position }) => position === disk.position)
    const storeId = becomes ? target?.storeId : (made.stores?.[disk.id] ?? disk.storeId)
    const then = becomes
      ? { ...target, ...(target ? changesOf(made, target.id) : {}) }
      : ({ ...disk, ...changesOf(made, disk.id) } as Partial<Disk>)
    return {
      disk,
      from: estate.find('store', disk.storeId),
      isCopied: becomes !== undefined || storeId !== disk.storeId,
      store: estate.find('store', storeId),
      sizeBytes: then.sizeBytes,
      bus: then.bus ?? disk.bus,
      provisioning: then.provisioning ?? disk.provisioning,
    }
  })
}

function movedAdapters(
  estate: Estate,
  source: Guest,
  becomes: Guest | undefined,
  mapping: Mapping,
  made: MoveMade,
): readonly MovedAdapter[] {
  const sources = adaptersOf(estate, source.id)
  if (!becomes)
    return sources.map((adapter) => {
      const then = { ...adapter, ...changesOf(made, adapter.id) } as Adapter
      const networkId = mapping.networks?.[adapter.id] ?? then.networkId
      return { adapter, target: adapter, networkId, model: then.model, mac: then.mac, isKept: then.mac === adapter.mac }
    })
  const pairs = new Map(adapterPairs(sources, adaptersOf(estate, becomes.id), mapping.adapters).map(([from, to]) => [from.id, to]))
  return sources.map((adapter) => {
    const target = pairs.get(adapter.id)
    const then = target ? ({ ...target, ...changesOf(made, target.id) } as Adapter) : undefined
    const mac = mapping.takesMacs ? adapter.mac : (then?.mac ?? null)
    return { adapter, target, networkId: then?.networkId ?? null, model: then?.model ?? adapter.model, mac, isKept: mac === adapter.mac }
  })
}

/** The addresses of a guest's adapters. */
export const ipsOf = (estate: Estate, guestId: string): readonly string[] =>
  estate
    .referring('adapter', 'guestId', guestId)
    .flatMap((adapter) => estate.referring('address', 'adapterId', adapter.id).map(({ ip }) => ip))

/** The addresses there are after a move, and those of before that are not among them. */
export function addressChange({ estate, after, source, becomes }: MoveView): {
  readonly then: readonly string[]
  readonly gone: readonly string[]
} {
  const then = ipsOf(after, becomes?.id ?? source.id)
  return { then, gone: ipsOf(estate, source.id).filter((ip) => !then.includes(ip)) }
}

/** The estate as the cut-over would leave it, with the source stopped and what takes its place running. */
function afterCutOver(estate: Estate, source: Guest, mapping: Mapping): { readonly after: Estate; readonly refusal: string | undefined } {
  const isRunning = source.state === 'running'
  const target = mapping.becomesId ?? source.id
  const stop: readonly Command[] = isRunning ? [{ type: 'guest.power', guestId: source.id, state: 'stopped' }] : []
  const move = { ...mapping, type: 'guest.migrate' } as unknown as Command
  let tick = 0
  const context = { newId: makeIds(() => tick++, seededRandom(7)), now: '2000-01-01T00:00:00.000Z', revision: 0 }
  const outcome = attempt(estate.edit(), [...stop, move], context)
  if (!outcome.ok) return { after: estate, refusal: refusalOf(outcome.refusal) }
  const moved = estate.with(outcome.difference)
  const then = moved.find('guest', target)
  if (!isPoweredOn(source) || !then || isPoweredOn(then)) return { after: moved, refusal: undefined }
  const started = attempt(moved.edit(), [{ type: 'guest.power', guestId: target, state: 'running' }], context)
  return started.ok ? { after: moved.with(started.difference), refusal: undefined } : { after: moved, refusal: refusalOf(started.refusal) }
}

const refusalOf = (error: unknown): string => (error instanceof CommandError ? error.message : String(error))
