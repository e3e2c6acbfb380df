import { policyOf, type Disk, type Estate, type Guest, type Host, type Store } from '../estate/index.js'
import {
  carries,
  coreLoad,
  guestCost,
  logicalCpus,
  memoryBudget,
  platformOf,
  storeBudget,
  storeReach,
  takenBytes,
  vcpuBudget,
} from '../hosts/index.js'
import { formatBytes, formatMiB, formatNumber } from '../units/index.js'

/** What a guest asks of a host, whether it exists already or is only being composed. */
export interface Demand {
  readonly name: string
  readonly vcpu: number
  readonly latency: Guest['latency']
  readonly memoryMiB: number
  readonly disks: readonly Pick<Disk, 'sizeBytes' | 'usedBytes' | 'provisioning' | 'use'>[]
  readonly networkIds: readonly string[]
  /** Template or machine: a template takes no memory and no processors. */
  readonly kind: Guest['kind']
  /** Whether it runs now, so that it needs a host in service. */
  readonly isRunning: boolean
}

export type Verdict = 'fits' | 'remark' | 'no'

/** One line of a check in words. */
export interface FitLine {
  readonly about: 'host' | 'memory' | 'processors' | 'store' | 'network'
  readonly verdict: Verdict
  readonly sentence: string
}

/** Whether a demand fits on a host, why, and where its disks would go. */
export interface Fit {
  readonly hostId: string
  readonly verdict: Verdict
  readonly lines: readonly FitLine[]
  /** The store proposed for each disk of the demand, in order; undefined where none has room. */
  readonly stores: readonly (Store | undefined)[]
}

/** What an existing guest asks of a host. */
export function demandOf(estate: Estate, guest: Guest): Demand {
  const adapters = estate.referring('adapter', 'guestId', guest.id)
  return {
    name: guest.name,
    vcpu: guest.vcpu,
    latency: guest.latency,
    memoryMiB: guest.memoryMiB,
    kind: guest.kind,
    isRunning: guest.state === 'running',
    disks: disksOf(estate, guest.id),
    networkIds: [...new Set(adapters.flatMap((adapter) => adapter.networkId ?? []))],
  }
}

/** A guest's disks in their order. */
export const disksOf = (estate: Estate, guestId: string): readonly Disk[] =>
  [...estate.referring('disk', 'guestId', guestId)].sort((a, b) => a.position - b.position)

/**
 * Checks in words whether a guest could go on a host: its state, memory with the reserve kept, processors, stores and
 * networks.
 *
 * @param demand what the guest asks; it must not be on the host yet
 * @returns one line for each aspect, with figures, and the store proposed for each disk
 */
export function fitOn(estate: Estate, host: Host, demand: Demand): Fit {
  const { lines: storeLines, stores } = fitStores(estate, host, demand)
  const lines = [
    ...fitState(host, demand),
    ...fitMemory(estate, host, demand),
    ...fitProcessors(estate, host, demand),
    ...storeLines,
    ...fitNetworks(estate, host, demand),
  ]
  return { hostId: host.id, verdict: worst(lines), lines, stores }
}

const worst = (lines: readonly FitLine[]): Verdict =>
  lines.some((l) => l.verdict === 'no') ? 'no' : lines.some((l) => l.verdict === 'remark') ? 'remark' : 'fits'

function fitState(host: Host, demand: Demand): FitLine[] {
  if (host.state === 'in service') return []
  if (host.state === 'retired') return [{ about: 'host', verdict: 'no', sentence: `${host.name} is retired` }]
  if (demand.isRunning) return [{ about: 'host', verdict: 'no', sentence: `${host.name} is ${host.state} and ${demand.name} is running` }]
  return [{ about: 'host', verdict: 'remark', sentence: `${host.name} is ${host.state}: a plan, not yet a place` }]
}

function fitMemory(estate: Estate, host: Host, demand: Demand): FitLine[] {
  if (demand.kind === 'template') return []
  const platform = platformOf(estate, host)
  const budget = memoryBudget(estate, host)
  const cost = guestCost(platform, demand.memoryMiB)
  const left = budget.left.value - cost
  const lines: FitLine[] = []
  if (demand.memoryMiB > platform.guestMemoryMaxMiB)
    lines.push({
      about: 'memory',
      verdict: 'no',
      sentence: `${formatMiB(demand.memoryMiB)} is more than ${platform.name} gives one guest (${formatMiB(platform.guestMemoryMaxMiB)})`,
    })
  if (left >= 0)
    lines.push({
      about: 'memory',
      verdict: 'fits',
      sentence: `Memory: ${formatMiB(cost)} into ${formatMiB(budget.left.value)} left, ${formatMiB(left)} remain, reserve kept`,
    })
  else if (left + budget.reserveMiB >= 0)
    lines.push({
      about: 'memory',
      verdict: 'remark',
      sentence: `Memory: ${formatMiB(-left)} into the failover reserve of ${formatMiB(budget.reserveMiB)}`,
    })
  else
    lines.push({
      about: 'memory',
      verdict: 'no',
      sentence: `Memory: short of ${formatMiB(-left - budget.reserveMiB)}, even with the reserve used up`,
    })
  return lines
}

function fitProcessors(estate: Estate, host: Host, demand: Demand): FitLine[] {
  if (demand.kind === 'template') return []
  const budget = vcpuBudget(estate, host)
  const logical = logicalCpus(host)
  if (demand.vcpu > logical)
    return [{ about: 'processors', verdict: 'no', sentence: `Processors: ${demand.vcpu} vCPU on a host with ${logical} logical CPUs` }]
  const load = coreLoad(policyOf(estate), demand)
  const left = budget.left.value - load
  if (left < 0)
    return [
      {
        about: 'processors',
        verdict: 'remark',
        sentence: `Processors: ${formatNumber(-left)} cores over the ceiling (${formatNumber(budget.load.value + load)} of ${budget.cores})`,
      },
    ]
  if (demand.vcpu > host.coresPerSocket && host.sockets > 1)
    return [
      {
        about: 'processors',
        verdict: 'remark',
        sentence: `Processors: ${demand.vcpu} vCPU span more than one socket of ${host.coresPerSocket} cores (NUMA)`,
      },
    ]
  return [
    {
      about: 'processors',
      verdict: 'fits',
      sentence: `Processors: load ${formatNumber(budget.load.value + load)} of ${budget.cores} cores`,
    },
  ]
}

/** Puts each disk on a reached store: a local one before a shared one, then the one that promises least; backup stores are left out. */
function fitStores(estate: Estate, host: Host, demand: Demand): { lines: FitLine[]; stores: (Store | undefined)[] } {
  const policy = policyOf(estate)
  const rooms = estate
    .all('store')
    .filter((store) => (store.kind === 'local' || store.kind === 'shared') && storeReach(store, host))
    .map((store) => {
      const budget = storeBudget(estate, store)
      return { store, freeBytes: budget.freeBytes, promisedBytes: budget.promised.value }
    })
  /** Whether one more disk would promise more of a store than the policies allow. */
  const isStrained = (room: (typeof rooms)[number], sizeBytes: number) =>
    ((room.promisedBytes + sizeBytes) / room.store.capacityBytes) * 100 > policy.thinPromiseMaxPercent
  const lines: FitLine[] = []
  const stores = demand.disks.map((disk) => {
    const taken = Math.max(takenBytes(disk), disk.provisioning === 'thin' ? 1 : 0)
    const room = rooms
      .filter((r) => r.freeBytes >= taken && r.store.capacityBytes >= disk.sizeBytes)
      .sort(
        (a, b) =>
          Number(isStrained(a, disk.sizeBytes)) - Number(isStrained(b, disk.sizeBytes)) ||
          Number(a.store.kind === 'shared') - Number(b.store.kind === 'shared') ||
          b.store.capacityBytes - b.promisedBytes - (a.store.capacityBytes - a.promisedBytes),
      )[0]
    if (!room) {
      const best = Math.max(0, ...rooms.map((r) => r.freeBytes))
      lines.push({
        about: 'store',
        verdict: 'no',
        sentence:
          rooms.length === 0
            ? `Stores: ${host.name} has none for guests`
            : `Stores: no room for ${disk.use}, ${formatBytes(disk.sizeBytes)}; most free is ${formatBytes(best)}`,
      })
      return undefined
    }
    room.freeBytes -= taken
    room.promisedBytes += disk.sizeBytes
    const promise = (room.promisedBytes / room.store.capacityBytes) * 100
    const full = ((room.store.capacityBytes - room.freeBytes) / room.store.capacityBytes) * 100
    const what = `${room.store.name}: ${disk.use} ${formatBytes(disk.sizeBytes)} ${disk.provisioning}`
    if (promise > policy.thinPromiseMaxPercent)
      lines.push({ about: 'store', verdict: 'remark', sentence: `${what}, promises then ${formatNumber(promise, 0)} % of it` })
    else if (full > policy.storeWarnPercent)
      lines.push({ about: 'store', verdict: 'remark', sentence: `${what}, in use then ${formatNumber(full, 0)} %` })
    else lines.push({ about: 'store', verdict: 'fits', sentence: `${what}, ${formatBytes(room.freeBytes)} free` })
    return room.store
  })
  return { lines, stores }
}

function fitNetworks(estate: Estate, host: Host, demand: Demand): FitLine[] {
  const isCarried = (networkId: string) => carries(estate, host.id, networkId)
  const phrase = (ids: readonly string[]) =>
    `${ids.length === 1 ? 'Network' : 'Networks'} ${ids.map((id) => estate.find('network', id)?.name ?? id).join(' and ')} ${ids.length === 1 ? 'is' : 'are'}`
  const [carried, missing] = [demand.networkIds.filter(isCarried), demand.networkIds.filter((id) => !isCarried(id))]
  return [
    ...(missing.length > 0
      ? [{ about: 'network' as const, verdict: 'no' as const, sentence: `${phrase(missing)} not carried to ${host.name} yet` }]
      : []),
    ...(carried.length > 0 ? [{ about: 'network' as const, verdict: 'fits' as const, sentence: `${phrase(carried)} carried` }] : []),
  ]
}

/** Every host with its fit, best first: what fits, then with remarks, then not; most memory left first among equals. */
export function rankHosts(estate: Estate, demand: Demand): readonly Fit[] {
  const order: Record<Verdict, number> = { fits: 0, remark: 1, no: 2 }
  return estate
    .all('host')
    .map((host) => ({ fit: fitOn(estate, host, demand), left: memoryBudget(estate, host).left.value, name: host.name }))
    .sort((a, b) => order[a.fit.verdict] - order[b.fit.verdict] || b.left - a.left || a.name.localeCompare(b.name))
    .map(({ fit }) => fit)
}
