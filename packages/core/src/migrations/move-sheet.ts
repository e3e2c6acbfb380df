import { madeOf } from '../capacity/index.js'
import type { Estate, Migration } from '../estate/index.js'
import { hasKernelDrivers } from '../guests/index.js'
import { sheetOf, workSheet, type PlannedStep, type SheetStep, type WorkSheet } from '../sheets/index.js'
import { methodFacts } from '../methods/index.js'
import { moveTime, type MoveTime } from '../transfers/index.js'
import { counted, formatBytes, formatExactBytes } from '../units/index.js'
import { renamedOf } from './checks-network.js'
import { addressChange, ipsOf, isSamePlatform, isToMetal, moveView, type MoveView } from './move-view.js'

/** Minutes that each step usually takes, but those that copy; registering a machine whose disks stay is the copy that is none. Common practice, no source: see “Around it” in the facts of the trade. */
const USUAL_MINUTES: Readonly<Record<string, number>> = {
  'note-down': 5,
  announce: 5,
  'lower-ttl': 5,
  drivers: 20,
  media: 15,
  'boot-media': 10,
  'install-agent': 20,
  'stop-services': 5,
  'power-off': 2,
  copy: 5,
  'final-stop': 5,
  rebuild: 60,
  'boot-fixes': 10,
  'first-boot': 5,
  'device-names': 5,
  gateway: 1,
  outside: 1,
  resolve: 1,
  login: 2,
  services: 5,
  extend: 5,
  'media-out': 2,
  'new-backup': 10,
  names: 5,
  monitoring: 5,
  told: 3,
  leftover: 5,
}

/** When a step is done, seen from the states of the move. */
export type MovePhase = 'before' | 'copying' | 'after the cut-over' | 'at the end'

/** The steps that are done before copying begins, while it copies, once it is cut over, and to end it. */
const phases: readonly (readonly [MovePhase, readonly string[]])[] = [
  ['before', ['note-down', 'announce', 'lower-ttl', 'drivers', 'media', 'install-agent']],
  [
    'copying',
    [
      'stop-services',
      'power-off',
      'boot-media',
      'image',
      'restore',
      'export',
      'import',
      'rebuild',
      'copy',
      'final-pass',
      'final-stop',
      'checksum',
    ],
  ],
  ['after the cut-over', ['boot-fixes', 'first-boot', 'device-names', 'gateway', 'outside', 'resolve', 'login', 'services', 'extend']],
  ['at the end', ['media-out', 'new-backup', 'names', 'monitoring', 'told', 'leftover']],
]

/** The phase of a step, by its key; steps that people add belong to the end. */
export const phaseOf = (key: string): MovePhase => phases.find(([, keys]) => keys.includes(key))?.[0] ?? 'at the end'

/**
 * The sheet of a move: what its method and its mapping ask for, in order; steps that are needless here are left out. Checks that a person
 * settles are beside it, under keys of their own. The steps that copy take what the move is estimated to take.
 *
 * @param copyLeftSeconds what is left of the copying, as it goes now, where it is known
 */
export function moveSheet(estate: Estate, move: Migration, today: string, copyLeftSeconds?: number): WorkSheet {
  const view = moveView(estate, move, today)
  const sheet = sheetOf(estate, 'migrationId', move.id, 'move')
  if (!view) return workSheet(estate, sheet, 'migrationId', [], USUAL_MINUTES, 'move')
  const time = timeOf(view)
  const said: Estimated =
    copyLeftSeconds !== undefined
      ? { copySeconds: copyLeftSeconds, from: 'as it goes now', isLeft: true }
      : move.estimateSeconds === null
        ? { copySeconds: time.copySeconds.p50, from: 'the estimate of the copy' }
        : { copySeconds: move.estimateSeconds, from: 'the estimate of the copy, when it was begun' }
  return workSheet(estate, sheet, 'migrationId', stepsOf(view), USUAL_MINUTES, 'move', copyingMinutes(view, time, said))
}

/** How long a move takes in all: its copying, and the steps of its sheet around that. */
export interface WholeMove {
  readonly time: MoveTime
  /** Seconds of the steps that do not copy. */
  readonly aroundSeconds: number
  readonly wholeSeconds: { readonly p50: number; readonly p90: number }
}

/**
 * How long a move takes in all, by its sheet: own sheets' times for its steps, or the usual ones.
 *
 * @param dirtyPerSecond what a running guest writes to its memory, bytes a second
 * @example wholeMove(view).wholeSeconds // { p50: 3800, p90: 4300 }
 */
export function wholeMove(view: MoveView, dirtyPerSecond?: number): WholeMove {
  const { estate } = view
  const time = timeOf(view, dirtyPerSecond)
  const steps = stepsOf(view)
  const copying = copyingMinutes(view, time, { copySeconds: time.copySeconds.p50, from: '' })
  const { leftMinutes } = workSheet(estate, undefined, 'migrationId', steps, USUAL_MINUTES, 'move', copying)
  const aroundSeconds = leftMinutes * 60 - time.copySeconds.p50
  return { time, aroundSeconds, wholeSeconds: { p50: aroundSeconds + time.copySeconds.p50, p90: aroundSeconds + time.copySeconds.p90 } }
}

const timeOf = ({ estate, source, host, method, mapping, becomes, move }: MoveView, dirtyPerSecond?: number): MoveTime =>
  moveTime(estate, {
    guest: source,
    to: host,
    method,
    stores: mapping.stores ?? {},
    isTakenOver: becomes !== undefined,
    dirtyPerSecond,
    migrationId: move?.id,
  })

/**
 * What a move has to copy, bytes: as recorded, or as its method copies it.
 *
 * @example bytesToMove(estate, move) // 65_498_251_264
 */
export function bytesToMove(estate: Estate, move: Migration): number {
  if (move.totalBytes) return move.totalBytes
  const guest = estate.find('guest', move.guestId)
  if (!guest) return move.movedBytes ?? 0
  return moveTime(estate, {
    guest,
    to: estate.find('host', move.toHostId),
    method: move.method,
    stores: madeOf(move).stores ?? {},
    isTakenOver: move.becomesId !== null,
  }).bytes.value
}

/** What the copying of a move is thought to take, and how that is known. */
interface Estimated {
  readonly copySeconds: number
  readonly from: string
  /** Whether it is only what is left of it. */
  readonly isLeft?: boolean
}

/** The steps in which everything is copied, which share the time that it takes. */
const copyingSteps = (method: Migration['method']): readonly string[] =>
  method === 'image and restore' ? ['image', 'restore'] : method === 'export and import' ? ['export', 'import'] : ['copy']

/** How long the steps take that copy or read what is moved: by its size, whatever other moves took. */
function copyingMinutes(
  view: MoveView,
  { readBackSeconds, finalPassSeconds, bytes }: MoveTime,
  { copySeconds, from, isLeft = false }: Estimated,
): ReadonlyMap<string, SheetStep['estimate']> {
  const all = copyingSteps(view.method)
  const open = all.filter((key) => (view.steps.get(key)?.state ?? 'open') === 'open')
  // What is left is shared by the steps that are.
  const steps = isLeft && open.length > 0 ? open : all
  // Where its disks stay, it is registered on its new host, and nothing is copied.
  if (bytes.value === 0) return new Map()
  return new Map([
    ...steps.map((key) => [key, { minutes: copySeconds / steps.length / 60, from }] as const),
    ['final-pass', { minutes: Math.max(1, finalPassSeconds / 60), from: 'what changes while it is copied' }],
    ['checksum', { minutes: Math.max(1, readBackSeconds / 60), from: 'reading source and copy once more, both at once' }],
  ])
}

const WIPE_CAUTION =
  'This wipes the disk it writes to. Look twice which is source and which is target, by serial number and size, and unplug what is not needed. When in doubt, stop.'

/** The steps of a move by its method. Common practice, no source: see “Cut-over order” in the facts of the trade. */
function stepsOf(view: MoveView): readonly PlannedStep[] {
  return [...before(view), ...copying(view), ...afterwards(view), ...atTheEnd(view)]
}

function before(view: MoveView): readonly PlannedStep[] {
  const { source, becomes, host, method, disks, adapters, estate, hardware, system } = view
  const target = becomes?.name ?? host?.name ?? 'the target'
  const isLive = method === 'live'
  return [
    {
      key: 'note-down',
      title: 'Note what it is',
      lines: [
        `${source.name}: ${source.vcpu} vCPU, ${source.memoryMiB} MiB, ${source.firmware}${source.secureBoot ? ', secure boot' : ''}${hardware && hardware.controller !== 'unknown' ? `, controller ${hardware.controller}` : ''}.`,
        ...disks.map(
          ({ disk, bus }) =>
            `Disk ${disk.position} (${disk.use}): ${formatExactBytes(disk.sizeBytes)}, ${disk.bus}${bus === disk.bus ? '' : `, becomes ${bus}`}.`,
        ),
        ...adapters.map(
          ({ adapter }) =>
            `Adapter ${adapter.position}${adapter.deviceName ? ` (${adapter.deviceName})` : ''}: ${adapter.mac ?? 'MAC not known'}, ${
              estate
                .referring('address', 'adapterId', adapter.id)
                .map(({ ip }) => ip)
                .join(', ') || 'no fixed address'
            }, ${estate.find('network', adapter.networkId)?.name ?? 'no network'}.`,
        ),
        'Compare with the machine; what differs is changed in the record first.',
      ],
    },
    ...(isLive
      ? []
      : [
          {
            key: 'announce',
            title: 'Announce it',
            lines: [
              `When ${source.name} is off and for how long, to those who use it.`,
              ...(hardware?.services ? [`It serves: ${hardware.services}.`] : []),
            ],
          },
        ]),
    ...(addressChanges(view)
      ? [
          {
            key: 'lower-ttl',
            title: 'Lower the time to live of its names',
            lines: ['To five minutes, one old time to live before the cut-over.'],
          },
        ]
      : []),
    ...(needsDrivers(view)
      ? [
          {
            key: 'drivers',
            title: 'Stage drivers on the source',
            lines: [
              `For ${target}: the network driver first, then the disk’s; a system without network fetches nothing.`,
              `${system?.name ?? 'Its system is not recorded'}.`,
            ],
            ...(hardware?.drivers === 'missing' ? { gap: 'As recorded, its drivers are missing.' } : {}),
          },
        ]
      : []),
    ...(isByMedia(view)
      ? [
          {
            key: 'media',
            title: method === 'disk-to-disk over the network' ? 'Prepare two live media' : 'Prepare a live medium and a drive',
            lines: [
              'Write them, and boot each once on another machine.',
              'Boot order: the medium first, on each machine that starts from one; note what it was.',
            ],
          },
        ]
      : []),
    ...(method === 'agent conversion'
      ? [
          {
            key: 'install-agent',
            title: 'Install the agent',
            lines: [`On ${source.name}, as a local administrator; restart it where the agent asks for it.`, ...volumesTaken(view)],
          },
        ]
      : []),
  ]
}

function copying(view: MoveView): readonly PlannedStep[] {
  const { method, source, becomes, host, disks } = view
  const facts = methodFacts[method]
  const target = becomes?.name ?? host?.name ?? 'the target'
  const moved = disks.filter(({ isCopied }) => isCopied)
  const wipes = isToMetal(view) || method === 'disk-to-disk over the network'
  const copy: PlannedStep = {
    key: 'copy',
    title: method === 'live' ? 'Move it live' : 'Copy it',
    lines: [
      ...(moved.length === 0 && method !== 'live' ? ['Its disks stay on the stores they are on; register it on the new host.'] : []),
      ...moved.map(
        ({ disk, store, sizeBytes, provisioning, bus }) =>
          `Disk ${disk.position} (${disk.use}), ${formatBytes(disk.sizeBytes)}, to ${store?.name ?? target}${sizeBytes && sizeBytes !== disk.sizeBytes ? ` with ${formatBytes(sizeBytes)}` : ''}${becomes ? `, ${provisioning}, ${bus}` : ''}.`,
      ),
      'Its progress goes in above: typed, pasted from the tool, or by an address.',
    ],
    ...(wipes ? { caution: WIPE_CAUTION, tool: 'wipe' as const } : {}),
  }
  const serials = wipes && becomes ? [`Target: ${becomes.name}${serialOf(view) ? `, serial ${serialOf(view) ?? ''}` : ''}.`] : []
  const stop: readonly PlannedStep[] = facts.isRunning
    ? []
    : [
        {
          key: 'stop-services',
          title: 'Stop its services',
          lines: ['From then on nothing is written to it, and what was written is on the disk.'],
        },
        {
          key: 'power-off',
          title: 'Power the source off',
          lines: [
            `${source.name}, by its own command; then record it as stopped.`,
            'Never source and copy at once with one address or MAC.',
          ],
          tool: 'state',
          ...(source.state === 'running' ? { gap: 'As recorded, it is running.' } : {}),
        },
      ]
  const way: readonly PlannedStep[] =
    method === 'image and restore'
      ? [
          {
            key: 'image',
            title: 'Make the image',
            lines: ['Boot the source from the medium; image every disk onto the drive, compressed, and let the tool verify it.'],
          },
          {
            key: 'restore',
            title: 'Restore the image',
            lines: ['Boot the target from the medium, and restore.', ...serials],
            caution: WIPE_CAUTION,
            tool: 'wipe',
          },
        ]
      : method === 'disk-to-disk over the network'
        ? [
            {
              key: 'boot-media',
              title: 'Boot both from the media',
              lines: ['Give both live systems addresses of their own, not the source’s.', ...serials],
            },
          ]
        : method === 'export and import'
          ? [
              { key: 'export', title: 'Export it', lines: ['With its descriptor, its disks, and a manifest of checksums.'] },
              { key: 'import', title: 'Import it', lines: [`On ${host?.name ?? target}; each network by hand.`] },
            ]
          : method === 'rebuild and move the data'
            ? [{ key: 'rebuild', title: 'Install the new system', lines: [`${target}: by its install sheet, with a temporary address.`] }]
            : []
  const last: readonly PlannedStep[] =
    facts.isRunning && method !== 'live'
      ? [
          {
            key: 'final-stop',
            title: 'Stop its services',
            lines: ['The moment from which it is off: databases stopped or dumped, shares closed.'],
          },
          {
            key: 'final-pass',
            title: 'Final pass',
            lines: ['Copy what changed since the copy began, then power the source off and record it as stopped.'],
            tool: 'state',
          },
        ]
      : []
  const [, into] = copyingSteps(method)
  const verify: readonly PlannedStep[] = facts.hasChecksum
    ? [{ key: 'checksum', title: 'Compare checksums', lines: ['Of source and copy, by the tool’s own verification or by sha256 of both.'] }]
    : []
  // What is copied by way of a file says at its second step where each disk goes.
  if (into)
    return [...stop, ...way.map((step) => (step.key === into ? { ...step, lines: [...copy.lines, ...step.lines] } : step)), ...verify]
  return [...stop, ...way, copy, ...last, ...verify]
}

function afterwards(view: MoveView): readonly PlannedStep[] {
  const { method, source, becomes, host, disks, firmware, after } = view
  if (method === 'live')
    return [{ key: 'login', title: 'Log in', lines: ['Its console answers, and its clock is right.'] }, servicesStep(view)]
  const renamed = renamedOf(view)
  const machine = becomes?.id ?? source.id
  const ips = ipsOf(after, machine)
  const gateways = [
    ...new Set(
      after
        .referring('adapter', 'guestId', machine)
        .flatMap((adapter) => after.referring('subnet', 'networkId', adapter.networkId ?? '').flatMap(({ gateway }) => gateway ?? [])),
    ),
  ]
  const larger = disks.filter(({ disk, sizeBytes }) => (sizeBytes ?? 0) > disk.sizeBytes)
  const isOtherMachine = becomes !== undefined || !isSamePlatform(view)
  return [
    ...(isOtherMachine
      ? [
          {
            key: 'boot-fixes',
            title: 'Before it boots',
            lines: [
              `Firmware: ${firmware}, as at the source.`,
              ...(view.hardware && view.hardware.controller !== 'unknown'
                ? [`Disk controller: ${view.hardware.controller}, as at the source.`]
                : []),
              'Boot loader or boot entry: from the rescue medium, where it does not start by itself.',
              ...(view.hardware?.clock === 'local time' ? ['Clock: local time.'] : []),
            ],
          },
        ]
      : []),
    {
      key: 'first-boot',
      title: isOtherMachine ? 'First boot, disconnected' : 'Start it',
      lines: isOtherMachine
        ? ['Without its network first: it looks for drivers, and restarts once or twice.', 'Then plug it in; the source is off.']
        : [`On ${host?.name ?? 'its new host'}; the source is off.`],
      tool: 'state',
    },
    ...(renamed.length > 0
      ? [
          {
            key: 'device-names',
            title: 'Rename devices',
            lines: [
              ...renamed.map(
                ({ what, position, was, becomes: name }) =>
                  `${what === 'adapter' ? 'Adapter' : 'Disk'} ${position}: ${was} becomes ${name}.`,
              ),
              `Look in ${[...new Set(renamed.flatMap(({ namedIn }) => namedIn))].join(', ')}.`,
            ],
            tool: 'first-boot text' as const,
          },
        ]
      : []),
    ...(gateways.length > 0 ? [{ key: 'gateway', title: 'Ping the gateway', lines: gateways.map((ip) => `ping ${ip}`) }] : []),
    ...(ips.length > 0
      ? [
          { key: 'outside', title: 'Ping outside', lines: ['An address beyond the gateway.'] },
          { key: 'resolve', title: 'Resolve a name', lines: ['One of this site, and one outside.'] },
        ]
      : []),
    {
      key: 'login',
      title: 'Log in',
      lines: ['As its users do, not only at its console.', ...(ips.length > 0 ? [`Its address: ${ips.join(', ')}.`] : [])],
    },
    servicesStep(view),
    ...larger.map(({ disk, sizeBytes }) => ({
      key: larger.length === 1 ? 'extend' : `extend-${disk.position}`,
      title: 'Extend the partition',
      lines: [
        `Disk ${disk.position} (${disk.use}): ${formatBytes(disk.sizeBytes)} seen of ${formatBytes(sizeBytes ?? 0)}, until its partition and file system are extended.`,
      ],
    })),
  ]
}

const servicesStep = ({ hardware, estate, source }: MoveView): PlannedStep => {
  const needing = estate.referring('dependency', 'needsId', source.id).flatMap(({ guestId }) => estate.find('guest', guestId)?.name ?? [])
  return {
    key: 'services',
    title: 'Open each service',
    lines: [
      hardware?.services ?? (source.purpose ? `What it is for: ${source.purpose}.` : 'As those do who use it.'),
      ...(needing.length > 0 ? [`Needed by ${needing.join(', ')}.`] : []),
    ],
  }
}

function atTheEnd(view: MoveView): readonly PlannedStep[] {
  const { method, source, becomes, estate, move } = view
  const leftovers = move ? estate.referring('leftover', 'migrationId', move.id) : []
  const until = leftovers[0]?.until
  return [
    ...(isByMedia(view) || method === 'rebuild and move the data'
      ? [
          {
            key: 'media-out',
            title: 'Media out, boot order back',
            lines: ['Every medium detached; the disk first in the boot order again.'],
          },
        ]
      : []),
    ...(becomes || method !== 'live'
      ? [
          { key: 'new-backup', title: 'Make a new backup', lines: [`Of ${becomes?.name ?? source.name}, and restore a file of it.`] },
          {
            key: 'names',
            title: 'Names and DHCP',
            lines: [
              addressChanges(view)
                ? 'Zone and reservations to the new address and MAC; time to live back to what it was.'
                : 'Reservations to the new MAC, where it changed.',
            ],
          },
        ]
      : []),
    ...(becomes ? [{ key: 'monitoring', title: 'Monitoring', lines: [`${becomes.name} is watched, ${source.name} no longer.`] }] : []),
    ...(method === 'live'
      ? []
      : [{ key: 'told', title: 'Tell its users', lines: ['That it is there again, and whom to ask when something is missing.'] }]),
    ...(leftovers.length > 0 || (becomes && !move?.endedAt)
      ? [
          {
            key: 'leftover',
            title: 'Keep the source until its date',
            lines: [
              until
                ? `Kept powered off until ${until}; then it is removed, and its name typed to say so.`
                : 'Kept powered off for the soak time; then it is removed.',
              ...(leftovers.length > 0
                ? [
                    `${counted(leftovers.length, 'leftover')}, ${formatBytes(leftovers.reduce((sum, { usedBytes }) => sum + usedBytes, 0))}.`,
                  ]
                : []),
            ],
            caution: 'Do not start it again: it still has what the other has, and their data would part.',
          },
        ]
      : []),
  ]
}

const isByMedia = (view: MoveView): boolean => view.method === 'image and restore' || view.method === 'disk-to-disk over the network'

const needsDrivers = (view: MoveView): boolean =>
  view.method !== 'live' &&
  view.method !== 'cold copy' &&
  view.method !== 'rebuild and move the data' &&
  !hasKernelDrivers(view.system?.family ?? '') &&
  view.hardware?.drivers !== 'staged'

const serialOf = ({ estate, becomes }: MoveView): string | null | undefined =>
  becomes ? estate.referring('hardware', 'guestId', becomes.id)[0]?.serial : undefined

const volumesTaken = ({ estate, disks }: MoveView): readonly string[] => {
  const volumes = disks.flatMap(({ disk }) => estate.referring('volume', 'diskId', disk.id))
  const [taken, left] = [volumes.filter(({ isTaken }) => isTaken), volumes.filter(({ isTaken }) => !isTaken)]
  return volumes.length === 0
    ? []
    : [
        `Take ${taken.map(({ name }) => name).join(', ') || 'nothing'}${left.length > 0 ? `; leave ${left.map(({ name }) => name).join(', ')}` : ''}.`,
      ]
}

const addressChanges = (view: MoveView): boolean => addressChange(view).gone.length > 0
