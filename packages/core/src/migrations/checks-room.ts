import { heldOnHost, leftToPromise, memoryBudget, storeBudget } from '../capacity/index.js'
import { failoverOutcomes } from '../placement/index.js'
import { policyOf, type Store } from '../estate/index.js'
import { methodFacts, takenWhereItArrives } from '../methods/index.js'
import { leastTarget } from '../transfers/index.js'
import { counted, formatBytes, formatDuration, formatExactBytes, formatMiB, formatNumber, GiB } from '../units/index.js'
import type { Precheck } from './check.js'
import { wholeMove } from './move-sheet.js'
import { isToMetal, type MoveView } from './move-view.js'

/** Used bytes of a disk's volumes that have to fit where it shrinks. */
const needed = ({ estate }: MoveView, diskId: string, usedBytes: number | null): number | undefined => {
  const volumes = estate.referring('volume', 'diskId', diskId).filter(({ isTaken }) => isTaken)
  if (volumes.length === 0) return usedBytes ?? undefined
  return volumes.reduce((sum, volume) => sum + (volume.usedBytes ?? volume.sizeBytes), 0)
}

const DISK_SIZES: Precheck = {
  id: 'disk-sizes',
  title: 'Disk sizes',
  group: 'room',
  check(view) {
    const { disks, becomes, method } = view
    const isByFiles = methodFacts[method].copies === 'files'
    const missing = disks.find(({ sizeBytes, isCopied }) => isCopied && sizeBytes === undefined)
    if (missing)
      return {
        verdict: 'error',
        sentence: `${becomes?.name ?? 'The target'} has no disk ${missing.disk.position} for ${missing.disk.use}, ${formatBytes(missing.disk.sizeBytes)}.`,
        remedy: 'Add a disk with that number to it, or leave its volumes out.',
      }
    for (const { disk, sizeBytes = 0 } of disks) {
      const tooSmall = leastTarget(disk.sizeBytes, sizeBytes)
      if (!tooSmall) continue
      const used = needed(view, disk.id, disk.usedBytes)
      const evidence: readonly (readonly [label: string, value: string])[] = [
        ['source', formatExactBytes(disk.sizeBytes)],
        ['target', formatExactBytes(sizeBytes)],
        ...(used === undefined ? [] : [['used', formatExactBytes(used)] as const]),
      ]
      if (isByFiles && used !== undefined && used <= sizeBytes * 0.95)
        return {
          verdict: 'warning',
          sentence: `Disk ${disk.position} shrinks from ${formatBytes(disk.sizeBytes)} to ${formatBytes(sizeBytes)}; it holds ${formatBytes(used)}, so its files fit.`,
          evidence,
          remedy: 'Leave room for what it grows by; common practice is a quarter.',
        }
      return {
        verdict: 'error',
        sentence: isByFiles
          ? `Disk ${disk.position} shrinks to ${formatBytes(sizeBytes)}, and ${used === undefined ? 'what it holds is not recorded' : `it holds ${formatBytes(used)}`}. ${tooSmall}`
          : `Disk ${disk.position}: ${tooSmall}`,
        evidence,
        remedy: `Make the target at least ${formatBytes(Math.ceil(disk.sizeBytes / GiB) * GiB + GiB)}, or copy it file by file after shrinking its file system.`,
      }
    }
    const larger = disks.find(({ disk, sizeBytes }) => (sizeBytes ?? 0) > disk.sizeBytes)
    return {
      verdict: 'fine',
      sentence: larger
        ? `Every target disk is at least as large; the system on disk ${larger.disk.position} still shows ${formatBytes(larger.disk.sizeBytes)} of ${formatBytes(larger.sizeBytes ?? 0)} until its partition is extended.`
        : 'Every target disk is at least as large as its source.',
    }
  },
}

const STORE_ROOM: Precheck = {
  id: 'store-room',
  title: 'Room on stores',
  group: 'room',
  check({ estate, after, disks, move, method, becomes }) {
    const policy = policyOf(estate)
    const stores = [...new Set(disks.filter(({ isCopied }) => isCopied).flatMap(({ store }) => store ?? []))]
    for (const store of stores) {
      const now = storeBudget(estate, store)
      const then = storeBudget(after, after.find('store', store.id) ?? store)
      // What is held for this move is in the figures already once it is begun.
      const comes = disks
        .filter((one) => one.isCopied && one.store?.id === store.id)
        .reduce(
          (sum, { disk, provisioning, sizeBytes = 0 }) =>
            sum + takenWhereItArrives(estate, disk, method, { sizeBytes, isThick: provisioning === 'thick' }),
          0,
        )
      const free = now.freeBytes + (move ? comes : 0)
      if (comes > free && !becomes)
        return {
          verdict: 'error',
          sentence: `${store.name} has ${formatBytes(free)} free and ${formatBytes(comes)} arrive.`,
          evidence: [
            ['free', formatBytes(free)],
            ['arrives', formatBytes(comes)],
          ],
          remedy: 'Choose another store, or make room on it.',
        }
      const percent = then.promiseRatio * 100
      if (then.freeBytes < 0)
        return {
          verdict: 'error',
          sentence: `${store.name} would be over-full by ${formatBytes(-then.freeBytes)}.`,
          remedy: 'Choose another store.',
        }
      if (percent > policy.thinPromiseMaxPercent)
        return {
          verdict: 'warning',
          sentence: `Disks on ${store.name} would promise ${formatNumber(percent, 0)} % of it; the policies allow ${formatNumber(policy.thinPromiseMaxPercent, 0)} %.`,
          remedy: 'Watch its growth, or choose another store.',
        }
    }
    return stores.length > 0
      ? { verdict: 'fine', sentence: `${stores.map(({ name }) => name).join(', ')}: enough room, now and promised.` }
      : undefined
  },
}

const MEDIUM: Precheck = {
  id: 'medium-room',
  title: 'Drive or share for the image',
  group: 'room',
  check(view) {
    if (view.method !== 'image and restore') return undefined
    const used = view.disks.reduce((sum, { disk }) => sum + (needed(view, disk.id, disk.usedBytes) ?? disk.sizeBytes), 0)
    const withRoom = (...kinds: readonly Store['kind'][]) =>
      view.estate
        .all('store')
        .filter(({ kind }) => kinds.includes(kind))
        .map((store) => ({ store, free: storeBudget(view.estate, store).freeBytes }))
        .sort((a, b) => b.free - a.free)
    // A drive in the hand comes first; what is reached over the network will do, too.
    const media = [...withRoom('removable'), ...withRoom('backup', 'shared')]
    const best = media.find(({ free }) => free >= used) ?? media.sort((a, b) => b.free - a.free)[0]
    // Compressed, an image takes about half of what is used. From memory.
    const least = Math.ceil(used / 2)
    if (!best)
      return {
        verdict: 'warning',
        sentence: `An image takes about ${formatBytes(least)} compressed, up to ${formatBytes(used)}; no removable drive and no share is recorded.`,
        remedy: 'Bring a drive or share with that much room; it need not be empty.',
        isByHand: true,
      }
    return best.free >= used
      ? { verdict: 'fine', sentence: `${best.store.name} has ${formatBytes(best.free)} free for an image of at most ${formatBytes(used)}.` }
      : {
          verdict: best.free >= least ? 'warning' : 'error',
          sentence: `${best.store.name} has ${formatBytes(best.free)} free; the image takes about ${formatBytes(least)} compressed, up to ${formatBytes(used)}.`,
          remedy: 'Take a larger drive, or leave volumes out.',
        }
  },
}

const MEMORY: Precheck = {
  id: 'memory',
  title: 'Memory',
  group: 'room',
  check({ estate, after, host, source, becomes, memoryMiB, move }) {
    if (!host || isToMetal({ becomes })) return undefined
    const most = estate.find('platform', host.platformId)?.guestMemoryMaxMiB
    if (most && memoryMiB > most)
      return {
        verdict: 'error',
        sentence: `${formatMiB(memoryMiB)} is more than the platform gives one guest (${formatMiB(most)}).`,
        remedy: 'Give it less.',
      }
    const there = after.find('host', host.id) ?? host
    const left = memoryBudget(after, there).left.value
    const { reserveMiB } = memoryBudget(after, there)
    const held = heldOnHost(estate, host.id).filter(({ migrationId }) => migrationId !== move?.id)
    const extra = held.length > 0 ? `, with ${counted(held.length, 'other move')} counted` : ''
    if (left >= 0)
      return {
        verdict: 'fine',
        sentence: `${host.name} has ${formatMiB(left)} left with ${becomes?.name ?? source.name} on it, the reserve kept${extra}.`,
      }
    return {
      verdict: left + reserveMiB >= 0 ? 'warning' : 'error',
      sentence:
        left + reserveMiB >= 0
          ? `${host.name} is ${formatMiB(-left)} into its failover reserve then${extra}.`
          : `${host.name} is short of ${formatMiB(-left - reserveMiB)} then, even with its reserve used up${extra}.`,
      remedy: 'Choose another host, make it smaller, or move another guest away first.',
    }
  },
}

const CORES: Precheck = {
  id: 'cores',
  title: 'Processor load',
  group: 'room',
  check({ after, host, becomes }) {
    if (!host || isToMetal({ becomes })) return undefined
    const { cores } = leftToPromise(after, after.find('host', host.id) ?? host)
    return cores >= 0
      ? undefined
      : {
          verdict: 'warning',
          sentence: `The guests of ${host.name} are ${formatNumber(-cores)} cores over its ceiling then.`,
          remedy: 'Choose another host, or give fewer vCPUs.',
        }
  },
}

const FAILOVER: Precheck = {
  id: 'failover',
  title: 'N+1 and pairs',
  group: 'room',
  check({ estate, after, source, becomes, host }) {
    const machine = becomes ?? source
    const pairs = [after.find('guest', machine.apartFromId), ...after.referring('guest', 'apartFromId', machine.id)].filter(
      (one) => one !== undefined,
    )
    const together = pairs.find((pair) => pair.hostId !== null && pair.hostId === after.find('guest', machine.id)?.hostId)
    if (together)
      return {
        verdict: 'warning',
        sentence: `${together.name} is to be kept apart from it and is on ${host?.name ?? 'the same host'} too: one failure takes both.`,
        remedy: 'Choose another host for one of them.',
      }
    const stranded = (of: typeof estate) => new Map(failoverOutcomes(of, 0).map((outcome) => [outcome.host.id, outcome.stranded.length]))
    const [before, then] = [stranded(estate), stranded(after)]
    const worse = [...then].filter(([id, count]) => count > (before.get(id) ?? 0))
    if (worse.length === 0) return { verdict: 'fine', sentence: 'A host that fails loses no more guests than before.' }
    const [id, count] = worse[0] ?? ['', 0]
    return {
      verdict: 'warning',
      sentence: `If ${after.find('host', id)?.name ?? 'a host'} fails then, ${counted(count, 'guest')} ${count === 1 ? 'has' : 'have'} no room elsewhere (now ${before.get(id) ?? 0}).`,
      remedy: 'Keep more memory free elsewhere, or accept it for the time being.',
    }
  },
}

const WINDOW: Precheck = {
  id: 'window',
  title: 'Time planned',
  group: 'room',
  check(view) {
    const { estate, move } = view
    const { time, wholeSeconds } = wholeMove(view)
    if (time.live && !time.live.converges)
      return { verdict: 'error', sentence: time.live.sentence, remedy: 'Move it when it has less to do, or powered off.' }
    const allowed = move?.downtimeMinutes
    const whole = wholeSeconds.p90
    const item = estate.find('item', move?.itemId)
    if (item?.minutes && item.minutes * 60 < whole)
      return {
        verdict: 'warning',
        sentence: `The plan keeps ${formatDuration(item.minutes * 60)} for it; one time in ten it takes longer than ${formatDuration(whole)}.`,
        remedy: 'Plan more time, or begin the copy earlier.',
      }
    if (allowed === null || allowed === undefined) return undefined
    return time.downSeconds.p90 <= allowed * 60
      ? {
          verdict: 'fine',
          sentence: `It may be off for ${formatDuration(allowed * 60)}; nine times in ten ${formatDuration(time.downSeconds.p90)} are enough.`,
        }
      : {
          verdict: 'warning',
          sentence: `It may be off for ${formatDuration(allowed * 60)}; one time in ten it is off for longer than ${formatDuration(time.downSeconds.p90)}.`,
          remedy: 'Agree on a longer window, or use a method that copies while it runs.',
        }
  },
}

const TURN: Precheck = {
  id: 'transfers-at-once',
  title: 'Transfers at once',
  group: 'room',
  check({ estate, sourceHost, host, move }) {
    const policy = policyOf(estate)
    const others = estate.all('migration').filter(({ id, state }) => state === 'copying' && id !== move?.id)
    const remedy = 'Wait for one to end, or raise the limit in the policies: each transfer makes the others slower.'
    for (const one of [sourceHost, host]) {
      if (!one) continue
      const here = others.filter(({ fromHostId, toHostId }) => fromHostId === one.id || toHostId === one.id)
      if (here.length >= policy.transfersPerHost)
        return {
          verdict: 'error',
          sentence: `${counted(here.length, 'transfer')} already ${here.length === 1 ? 'runs' : 'run'} from or to ${one.name}; the policies allow ${policy.transfersPerHost} at once.`,
          remedy,
        }
    }
    const ends = [sourceHost?.id ?? null, host?.id ?? null].sort().join()
    const same = others.filter(({ fromHostId, toHostId }) => [fromHostId, toHostId].sort().join() === ends)
    return same.length >= policy.transfersPerLink
      ? {
          verdict: 'error',
          sentence: `${counted(same.length, 'transfer')} already ${same.length === 1 ? 'runs' : 'run'} between these two; the policies allow ${policy.transfersPerLink} at once.`,
          remedy,
        }
      : undefined
  },
}

/** Checks of room: disks, stores, memory, the time that was planned, and what is left when a host fails. */
export const checksOfRoom: readonly Precheck[] = [DISK_SIZES, STORE_ROOM, MEDIUM, MEMORY, CORES, FAILOVER, WINDOW, TURN]
