import { checkStep, derivedId, type Command, type Kind } from '@insel/core'
import type { Recorded } from './skerry-plans.js'

const GiB = 2 ** 30

/** How the story of the moves names what is there. */
interface Known {
  id(kind: Kind, name: string): string
  newId(): string
  diskOf(guest: string, position: number): string
  adapterOf(guest: string, position: number): string
}

/** The ageing machine under the stairs: its disk, what it is tied to, and where it is plugged in. */
export function aukOf({ id, newId }: Pick<Known, 'id' | 'newId'>, auk: string): readonly Command[] {
  const [disk, adapter] = [newId(), newId()]
  return [
    {
      type: 'guest.add',
      record: {
        id: auk,
        name: 'auk',
        kind: 'external',
        state: 'running',
        vcpu: 4,
        memoryMiB: 8192,
        firmware: 'BIOS',
        purpose: 'scheduling',
        systemId: id('system', 'Graphical server, generic'),
        note: 'Under the stairs. Nobody has its manual.',
      },
    },
    {
      type: 'disk.add',
      record: {
        id: disk,
        guestId: auk,
        use: 'system',
        sizeBytes: 250_059_350_016,
        usedBytes: 61 * GiB,
        provisioning: 'thick',
        bus: 'SATA',
      },
    },
    {
      type: 'adapter.add',
      record: {
        id: adapter,
        guestId: auk,
        networkId: id('network', 'office'),
        mac: '00:00:5e:00:53:a4',
        model: 'emulated',
        deviceName: 'eth0',
      },
    },
    { type: 'address.assign', id: newId(), adapterId: adapter },
    {
      type: 'hardware.add',
      record: {
        id: newId(),
        guestId: auk,
        serial: 'SC-0031',
        partitionTable: 'MBR',
        sectorSize: '512 bytes',
        controller: 'IDE',
        clock: 'local time',
        services: 'the week’s schedule, read by playout at a quarter past each hour',
        encryption: 'none',
        data: 'no',
        drivers: 'staged',
      },
    },
    {
      type: 'volume.add',
      record: { id: newId(), diskId: disk, name: 'root', fileSystem: 'ext4', sizeBytes: 80 * GiB, usedBytes: 19 * GiB },
    },
    {
      type: 'volume.add',
      record: { id: newId(), diskId: disk, name: '/srv', fileSystem: 'ext4', sizeBytes: 120 * GiB, usedBytes: 42 * GiB },
    },
    {
      type: 'volume.add',
      record: { id: newId(), diskId: disk, name: '/old', fileSystem: 'ext3', sizeBytes: 30 * GiB, usedBytes: 21 * GiB, isTaken: false },
    },
  ]
}

/** Moves that were closed, with what they took and what they taught. */
const closed: readonly {
  readonly guest: string
  readonly from: string | null
  readonly to: string
  readonly method: 'agent conversion' | 'export and import' | 'cold copy' | 'image and restore' | 'disk-to-disk over the network'
  readonly begun: string
  readonly bytes: number
  readonly seconds: number
  readonly estimate: readonly [middle: number, late: number]
  readonly off: number
  readonly wrong?: string
  readonly next?: string
}[] = [
  {
    guest: 'archive-db',
    from: null,
    to: 'gannet',
    method: 'agent conversion',
    begun: '2026-03-06T17:00:00.000Z',
    bytes: 5_700_000_000_000,
    seconds: 263_500,
    estimate: [190_000, 355_000],
    off: 95,
    wrong: 'Millions of small files: half the speed that was thought.',
    next: 'Begin on a Friday evening, and keep the final pass for Monday night.',
  },
  {
    guest: 'weather-desk',
    from: null,
    to: 'gannet',
    method: 'image and restore',
    begun: '2026-04-14T07:30:00.000Z',
    bytes: 35_400_000_000,
    seconds: 1260,
    estimate: [885, 1640],
    off: 130,
    wrong: 'No network after the first boot: its driver was not on the stick.',
    next: 'The network driver goes on the stick first.',
  },
  {
    guest: 'intranet',
    from: 'gannet',
    to: 'fulmar',
    method: 'cold copy',
    begun: '2026-06-02T18:10:00.000Z',
    bytes: 87_000_000_000,
    seconds: 812,
    estimate: [850, 1560],
    off: 24,
  },
  {
    guest: 'dns-1',
    from: 'puffin',
    to: 'fulmar',
    method: 'export and import',
    begun: '2026-08-19T05:40:00.000Z',
    // 12 GiB disk, 544 s in all, 16.5 MB/s mean.
    bytes: 8_976_000_000,
    seconds: 544,
    estimate: [112, 207],
    off: 31,
    wrong: 'Its adapter was called otherwise, and its address stayed on a device that was not there.',
    next: 'Write the network by MAC before it is exported.',
  },
  {
    guest: 'mail',
    from: 'gannet',
    to: 'fulmar',
    method: 'cold copy',
    begun: '2026-10-11T19:00:00.000Z',
    bytes: 431_000_000_000,
    seconds: 4020,
    estimate: [4300, 7900],
    off: 88,
  },
]

/**
 * auk well under way into scheduler by an agent, mix-assist soaking after it went from gannet to fulmar, phone-queue rolled back, five that
 * are over.
 */
export function movesOf({ id, newId, diskOf }: Known): readonly Recorded[] {
  const [auk, soaking, back] = [newId(), newId(), newId()]
  const tove = id('person', 'Tove Lind')
  const settled = (
    move: string,
    by: string,
    steps: readonly (readonly [key: string, state: 'done' | 'skipped', note: string, minutes: number])[],
  ) =>
    steps.map(([step, state, note, minutes]): Command => ({
      type: 'step.add',
      record: { id: newId(), sheetId: derivedId(move, 'sheet'), step, state, note, minutes, personId: by, at: AT },
    }))
  const power = (guest: string, state: 'running' | 'stopped'): Command => ({ type: 'guest.power', guestId: id('guest', guest), state })
  const looked = [
    [checkStep('source-works'), 'done', '', 4],
    [checkStep('backup'), 'done', 'A file was restored from it.', 6],
  ] as const
  const toFulmar = (move: string, guest: string): Command => ({
    type: 'migration.begin',
    id: move,
    guestId: id('guest', guest),
    toHostId: id('host', 'fulmar'),
    stores: { [diskOf(guest, 1)]: id('store', 'nvme-2') },
    method: 'cold copy',
    estimateSeconds: 135,
    estimateLateSeconds: 250,
    totalBytes: 13 * GiB,
  })
  return [
    {
      by: 'Ola Berg',
      commands: closed.map(({ guest, from, to, method, begun, bytes, seconds, estimate, off, wrong, next }): Command => ({
        type: 'migration.add',
        record: {
          id: newId(),
          guestId: id('guest', guest),
          fromHostId: from ? id('host', from) : null,
          toHostId: id('host', to),
          method,
          startedAt: begun,
          copyingAt: begun,
          endedAt: new Date(Date.parse(begun) + (seconds + 15 * 86_400) * 1000).toISOString(),
          totalBytes: bytes,
          movedBytes: bytes,
          copySeconds: seconds,
          estimateSeconds: estimate[0],
          estimateLateSeconds: estimate[1],
          wasOffMinutes: off,
          wentWrong: wrong ?? null,
          nextTime: next ?? null,
        },
      })),
    },
    {
      by: 'Maren Holm',
      commands: [
        toFulmar(soaking, 'mix-assist'),
        ...settled(soaking, id('person', 'Maren Holm'), [...looked, ['note-down', 'done', '', 5]]),
        power('mix-assist', 'stopped'),
        { type: 'migration.copy', migrationId: soaking },
        { type: 'migration.cutOver', migrationId: soaking, movedBytes: 13 * GiB, copySeconds: 128 },
        power('mix-assist', 'running'),
        ...settled(soaking, id('person', 'Maren Holm'), [
          ['first-boot', 'done', '', 2],
          ['gateway', 'done', '', 1],
          ['services', 'done', 'The sound people are content.', 6],
        ]),
        { type: 'migration.verify', migrationId: soaking, wasOffMinutes: 14 },
      ],
    },
    {
      by: 'Maren Holm',
      commands: [
        toFulmar(back, 'phone-queue'),
        ...settled(back, id('person', 'Maren Holm'), looked),
        power('phone-queue', 'stopped'),
        { type: 'migration.copy', migrationId: back },
        { type: 'migration.cutOver', migrationId: back, movedBytes: 14 * GiB, copySeconds: 141 },
        power('phone-queue', 'running'),
        ...settled(back, id('person', 'Maren Holm'), [['first-boot', 'done', '', 2]]),
        power('phone-queue', 'stopped'),
        {
          type: 'migration.rollBack',
          migrationId: back,
          reason: 'Calls were late by half a second; nobody found out why before the broadcast.',
        },
        power('phone-queue', 'running'),
        {
          type: 'migration.update',
          id: back,
          changes: { wentWrong: 'Late audio on fulmar.', nextTime: 'Try it with a call for an hour before the cut-over.' },
        },
      ],
    },
    {
      by: 'Tove Lind',
      commands: [
        {
          type: 'migration.begin',
          id: auk,
          guestId: id('guest', 'auk'),
          becomesId: id('guest', 'scheduler'),
          method: 'agent conversion',
          downtimeMinutes: 60,
          estimateSeconds: 2184,
          estimateLateSeconds: 4040,
          totalBytes: 61 * GiB,
          otherwise: 'leave auk in service until next Monday',
          note: 'auk stays in service until the cut-over.',
        },
        ...settled(auk, tove, [
          ...looked,
          [checkStep('networks'), 'skipped', 'The second adapter of scheduler is new: it gets the studio network.', 0],
          [checkStep('network-driver'), 'done', '', 20],
          [checkStep('controller'), 'done', 'Driver of the new bus is in its boot image.', 10],
          [checkStep('reach'), 'skipped', 'It reaches the studio, too: it is meant to.', 0],
          ['note-down', 'done', '', 6],
          ['announce', 'done', 'Told at Monday’s round.', 5],
          ['install-agent', 'done', '', 22],
        ]),
        { type: 'migration.copy', migrationId: auk },
      ],
    },
  ]
}

/** When the story is told. */
const AT = '2026-11-02T08:00:00.000Z'
