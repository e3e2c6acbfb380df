import { moveMethods, type Estate, type Guest, type Host } from '../estate/index.js'
import { methodFacts, type MoveMethod } from '../methods/index.js'
import type { MoveTime } from '../transfers/index.js'
import { formatBytes, formatDuration } from '../units/index.js'
import { lacksFor } from '../hosts/index.js'
import { wholeMove } from './move-sheet.js'
import { moveView, isSamePlatform, isToMetal, type MoveView } from './move-view.js'
import type { Mapping } from './pass-over.js'

/** How a method suits a move. */
export type Suits = 'fits' | 'remark' | 'out'

/** One way of copying, held against a move. */
export interface AdvisedMethod {
  readonly method: MoveMethod
  readonly suits: Suits
  /** Why it fits, or why it is out. */
  readonly reasons: readonly string[]
  readonly time: MoveTime
  /** Seconds of the steps of its sheet that do not copy. */
  readonly aroundSeconds: number
  /** Seconds of all of it: its copying, and the steps of its sheet around that. */
  readonly wholeSeconds: { readonly p50: number; readonly p90: number }
  readonly risk: string
  /** What has to be at hand. */
  readonly needs: readonly string[]
  /** Whether the source is copied while it runs, or off: the two schools. */
  readonly school: 'while it runs' | 'off, and certain'
  /** What own moves by it, of machines like this, taught. */
  readonly lessons: readonly string[]
}

/** What is wished of a move. */
export interface MoveWish {
  /** How long it may be off, minutes; undefined: as long as it takes. */
  readonly downtimeMinutes?: number | undefined
  /** What a running guest writes to its memory, bytes a second. */
  readonly dirtyPerSecond?: number | undefined
}

/** What each way risks. Common practice, no source. */
const risks: Readonly<Record<MoveMethod, string>> = {
  live: 'Low: the guest runs on where it is until the last moment.',
  'cold copy': 'Low: nothing changes while it is copied, and the original stays.',
  'disk-to-disk over the network':
    'High: whoever takes the target’s disk for the source’s wipes the source. Low afterwards: the disk is the same.',
  'agent conversion': 'Middle: what was open or changed while it was copied may be missing; drivers are exchanged on the way.',
  'image and restore': 'Middle: the restore wipes the target’s disk; the image is one more copy to go back to.',
  'export and import': 'Middle: devices the file cannot say are lost, and are set by hand.',
  'rebuild and move the data': 'Low for the data, high for what was never written down: settings, jobs, accounts.',
}

const needsOf: Readonly<Record<MoveMethod, readonly string[]>> = {
  live: ['A network for live migration between both hosts', 'Administrator of both hosts'],
  'cold copy': ['Administrator of both hosts', 'A time at which it is off'],
  'disk-to-disk over the network': ['Two live media, one for each end', 'Both consoles', 'A cable between both ends, 1 Gbit/s or more'],
  'agent conversion': ['The converter’s agent and its drivers', 'A local administrator of the source', 'Administrator of the target host'],
  'image and restore': [
    'A live medium with an imaging tool',
    'Drivers for the target on a stick, the network one first',
    'The console of the target',
  ],
  'export and import': ['A place for the exported file, reached from both ends', 'Administrator of both platforms'],
  'rebuild and move the data': ['The install medium and its licence', 'A list of what is configured on it', 'Accounts for its services'],
}

/**
 * Every way of copying held against a move, the best first, with the reason for each and why the others are out.
 *
 * @param mapping from what to what; its method does not matter
 * @see facts of the trade, “Migrations”; common practice, no source
 */
export function adviseMethods(estate: Estate, mapping: Mapping, wish: MoveWish, today: string): readonly AdvisedMethod[] {
  const view = moveView(estate, mapping, today)
  if (!view) return []
  const order = { fits: 0, remark: 1, out: 2 }
  return moveMethods
    .map((method) => advise(view, method, wish))
    .sort((a, b) => order[a.suits] - order[b.suits] || a.wholeSeconds.p50 - b.wholeSeconds.p50)
}

function advise(view: MoveView, method: MoveMethod, wish: MoveWish): AdvisedMethod {
  const { estate, source } = view
  const { time, aroundSeconds, wholeSeconds } = wholeMove({ ...view, method }, wish.dirtyPerSecond)
  const facts = methodFacts[method]
  const out = whyOut(view, method, time)
  const allowed = wish.downtimeMinutes === undefined ? undefined : wish.downtimeMinutes * 60
  const late = allowed !== undefined && time.downSeconds.p90 > allowed
  const remarks = [
    ...(late
      ? [
          `It is off for ${formatDuration(time.downSeconds.p50)} to ${formatDuration(time.downSeconds.p90)}; ${formatDuration(allowed)} are allowed.`,
        ]
      : []),
    ...remarksOf(view, method),
  ]
  return {
    method,
    suits: out ? 'out' : remarks.length > 0 ? 'remark' : 'fits',
    reasons: out ? [out] : [...whyIn(view, method, time), ...remarks],
    time,
    aroundSeconds,
    wholeSeconds,
    risk: risks[method],
    needs: [
      ...needsOf[method],
      ...(method === 'image and restore'
        ? [
            `A removable drive or share with ${formatBytes(Math.ceil(time.bytes.value / 2))} to ${formatBytes(time.bytes.value)} free; it need not be empty`,
          ]
        : []),
      ...(view.hardware?.recoveryKeyAt ? [`The recovery key, kept: ${view.hardware.recoveryKeyAt}`] : []),
    ],
    school: facts.isRunning ? 'while it runs' : 'off, and certain',
    lessons: lessonsOf(estate, source, method),
  }
}

/** Why a method cannot be used for a move, or undefined. */
function whyOut(view: MoveView, method: MoveMethod, time: MoveTime): string | undefined {
  const { source, sourceHost, host, becomes, hardware, disks, system } = view
  const isOutside = source.kind === 'external'
  const isOff = source.state !== 'running'
  const size = disks.find(({ disk, sizeBytes, isCopied }) => isCopied && (sizeBytes ?? 0) < disk.sizeBytes)
  switch (method) {
    case 'live':
      if (isOutside || becomes) return 'Live moves are of guests between hosts, not of machines that another takes the place of.'
      if (!isSamePlatform(view)) return 'Source and target are of different platforms.'
      if (isOff) return `${source.name} is ${source.state}; there is no running guest to move.`
      if (hardware?.devices) return `It uses devices of its host: ${hardware.devices}.`
      if (
        source.processorMode === 'host' &&
        sourceHost?.processorModel &&
        host?.processorModel &&
        sourceHost.processorModel !== host.processorModel
      )
        return `It sees its host’s processor as it is, and the processors differ: ${sourceHost.processorModel}, ${host.processorModel}.`
      if (source.processorMode !== 'host' && host?.cpuFlags && lacksFor(source.processorMode, host.cpuFlags).length > 0)
        return `${host.name} is below ${source.processorMode}.`
      return time.live && !time.live.converges ? time.live.sentence : undefined
    case 'cold copy':
      if (isOutside || becomes) return 'The files of its disks are on no platform that could copy them.'
      return isSamePlatform(view) ? undefined : 'Source and target are of different platforms: their disk files and settings differ.'
    case 'disk-to-disk over the network':
      return size ? `Disk ${size.disk.position} of the target is smaller; block by block it has to be at least as large.` : undefined
    case 'agent conversion':
      if (isToMetal(view)) return 'The agent makes guests, not physical machines.'
      if (isOff) return `${source.name} is ${source.state}; the agent copies a running system.`
      return system === undefined ? `The system of ${source.name} is not recorded; an agent runs on few systems.` : undefined
    case 'image and restore':
      return size ? `Disk ${size.disk.position} of the target is smaller than the image’s.` : undefined
    case 'export and import':
      if (isOutside) return 'No platform exports a machine that is on none.'
      return isToMetal(view) ? 'A physical machine imports no descriptor.' : undefined
    default:
      return undefined
  }
}

function whyIn({ source, becomes, sourceHost, host }: MoveView, method: MoveMethod, time: MoveTime): readonly string[] {
  switch (method) {
    case 'live':
      return [`It stays in service, but for a pause of about ${time.live?.converges ? time.live.pauseSeconds.toFixed(1) : '?'} s.`]
    case 'cold copy':
      return [
        `Both hosts are of one platform, so its disks are copied as they are${sourceHost && host ? `, from ${sourceHost.name} to ${host.name}` : ''}.`,
      ]
    case 'disk-to-disk over the network':
      return ['The disk is the same afterwards, whatever system is on it.']
    case 'agent conversion':
      return [
        `${source.name} stays in service while it is copied; a final pass brings what changed, about ${formatBytes(time.finalPassBytes)}.`,
      ]
    case 'image and restore':
      return [
        `It works to and from physical machines, and needs no network between them${becomes?.kind === 'external' ? '' : '; the image can be kept'}.`,
      ]
    case 'export and import':
      return ['Any platform that reads the open format takes it.']
    default:
      return ['The system is fresh, its old faults stay behind, and its data is copied while it runs.']
  }
}

function remarksOf(view: MoveView, method: MoveMethod): readonly string[] {
  const { hardware, system } = view
  const facts = methodFacts[method]
  return [
    ...(facts.isRunning && method !== 'live' && hardware?.data && hardware.data !== 'no' && hardware.data !== 'unknown'
      ? [`It holds a ${hardware.data}, which has to be stopped for the final pass.`]
      : []),
    ...(method === 'export and import' && isSamePlatform(view) ? ['A cold copy loses less: both hosts are of one platform.'] : []),
    ...(method === 'rebuild and move the data' && !system ? ['Its system is not recorded.'] : []),
    ...(hardware?.encryption === 'encrypted' && facts.copies === 'used blocks' && method !== 'cold copy'
      ? ['Its disks are encrypted: every block counts as used, or the protection is suspended first.']
      : []),
  ]
}

/** What was written down after moves by a method, of machines from the same kind of place. */
function lessonsOf(estate: Estate, source: Guest, method: MoveMethod): readonly string[] {
  return estate
    .all('migration')
    .filter(
      (move) =>
        move.method === method && (move.nextTime ?? move.wentWrong) !== null && (move.fromHostId === null) === (source.hostId === null),
    )
    .sort((a, b) => (b.endedAt ?? '').localeCompare(a.endedAt ?? ''))
    .slice(0, 3)
    .map((move) => `${move.guestName ?? estate.find('guest', move.guestId)?.name ?? 'A move'}: ${move.nextTime ?? move.wentWrong ?? ''}`)
}

/** The hosts that a machine could go to, without those it is on. */
export const targetHosts = (estate: Estate, guest: Guest): readonly Host[] =>
  estate.all('host').filter(({ id, state }) => id !== guest.hostId && state !== 'retired')
