import { defineKind } from '../define-kind.js'
import { bool, choice, commands, difference, integer, note, optional, real, ref, text, type Wording } from '../field.js'

/** The ways a machine is copied. */
export const moveMethods = [
  'live',
  'cold copy',
  'disk-to-disk over the network',
  'agent conversion',
  'image and restore',
  'export and import',
  'rebuild and move the data',
] as const

/** The life of a move, in its order; the last two end it early. */
export const moveStates = ['begun', 'copying', 'cut over', 'verified', 'closed', 'rolled back', 'cancelled'] as const

const instant = (named: Wording) => optional(text({ ...named, shape: 'instant' }))

export const migrationKind = defineKind({
  name: 'migration',
  label: 'migration',
  plural: 'migrations',
  doc: 'Moving one guest or external machine to another host, or to another machine, from its begin until nothing is left of it at the source.',
  fields: {
    guestId: optional(ref('guest', { label: 'Machine', doc: 'What is moved; empty once it is removed.' })),
    fromHostId: optional(ref('host', { label: 'From', doc: 'Where it was; empty for an external machine.' })),
    toHostId: optional(ref('host', { label: 'To', doc: 'Where it goes; empty for a physical machine, and once that host is removed.' })),
    becomesId: optional(
      ref('guest', { label: 'Becomes', doc: 'The guest or physical machine that takes over; empty where it stays the same guest.' }),
    ),
    guestName: optional(text({ label: 'Machine, as it was called', doc: 'Kept when it is removed.' })),
    fromHostName: optional(text({ label: 'From, as it was called', doc: 'Kept when that host is removed.' })),
    toHostName: optional(text({ label: 'To, as it was called', doc: 'Kept when that host is removed.' })),
    becomesName: optional(text({ label: 'Becomes, as it was called', doc: 'Kept when that machine is removed.' })),
    method: choice(moveMethods, { label: 'Method', doc: 'The way it is copied.', default: 'cold copy' }),
    state: choice(moveStates, { label: 'State', doc: 'How far it is; follows from what is done with it.', default: 'closed' }),
    made: commands({ label: 'Mapping', doc: 'What its cut-over does: the command it was begun with.' }),
    did: optional(difference({ label: 'Cut-over', doc: 'What its cut-over changed, for taking it back.' })),
    itemId: optional(ref('item', { label: 'Item', doc: 'The item of a plan that it was begun by.' })),
    itemTitle: optional(text({ label: 'Item, as it was called', doc: 'Kept when the item is removed.', max: 200 })),
    previousId: optional(
      ref('migration', { label: 'Tried before', doc: 'The attempt that was cancelled or rolled back before this one.' }),
    ),
    ownerId: optional(ref('person', { label: 'Who', doc: 'Who carries it out.' })),
    startedAt: instant({ label: 'Started', doc: 'When the work began.' }),
    copyingAt: instant({ label: 'Copying since', doc: 'When the copy began.' }),
    cutOverAt: instant({ label: 'Cut over', doc: 'When the target took over.' }),
    verifiedAt: instant({ label: 'Verified', doc: 'When its checks were done.' }),
    endedAt: instant({ label: 'Ended', doc: 'When it was closed, rolled back or cancelled.' }),
    soakDays: optional(
      integer({
        label: 'Soak time',
        doc: 'Days after the cut-over for which the source is kept; the policies’ when empty.',
        unit: 'days',
        max: 3650,
      }),
    ),
    decideBy: instant({
      label: 'Decide by',
      doc: 'When it has not been cut over by then, what is written under “otherwise” is done instead.',
    }),
    otherwise: optional(text({ label: 'Otherwise', doc: 'What is done when it is late, such as: roll back.', max: 200 })),
    downtimeMinutes: optional(real({ label: 'Downtime allowed', doc: 'How long it may be off.', unit: 'minutes', max: 1e6 })),
    estimateSeconds: optional(
      real({ label: 'Estimate', doc: 'How long copying was thought to take, as likely longer as shorter.', unit: 'seconds', max: 1e9 }),
    ),
    estimateLateSeconds: optional(
      real({
        label: 'Estimate, one in ten longer',
        doc: 'What copying was thought to stay below nine times in ten.',
        unit: 'seconds',
        max: 1e9,
      }),
    ),
    totalBytes: optional(integer({ label: 'To move', doc: 'What has to be copied.', unit: 'bytes', min: 1 })),
    movedBytes: optional(
      integer({
        label: 'Moved',
        doc: 'What was copied; with its times it sharpens what later moves are thought to take.',
        unit: 'bytes',
        min: 1,
      }),
    ),
    copySeconds: optional(
      real({ label: 'Copying took', doc: 'How long copying took; from begin to cut-over when empty.', unit: 'seconds', max: 1e9 }),
    ),
    wasOffMinutes: optional(real({ label: 'Was off', doc: 'How long the machine was not in service.', unit: 'minutes', max: 1e6 })),
    wentWrong: optional(text({ label: 'What went wrong', doc: 'In a few words.', max: 400 })),
    nextTime: optional(text({ label: 'Next time', doc: 'What to do differently; shown for moves like it.', max: 400 })),
    reason: optional(text({ label: 'Reason', doc: 'Why it was cancelled or rolled back.', max: 400 })),
    progressAt: optional(
      text({
        label: 'Progress at',
        doc: 'An HTTP address at which the tool that copies says how far it is: on this machine, or where Insel was started to ask.',
        max: 200,
      }),
    ),
    note: note(),
  },
  keys: [],
  remembers: { guestId: 'guestName', fromHostId: 'fromHostName', toHostId: 'toHostName', becomesId: 'becomesName', itemId: 'itemTitle' },
  byVerbs: { fields: ['state', 'made', 'did', 'itemId', 'itemTitle', 'cutOverAt', 'verifiedAt'] },
})

export const leftoverKind = defineKind({
  name: 'leftover',
  label: 'leftover',
  plural: 'leftovers',
  doc: 'What a move leaves where it came from, kept powered off until its soak time is over.',
  fields: {
    migrationId: ref('migration', { label: 'Migration', doc: 'The move that left it.' }),
    guestId: optional(ref('guest', { label: 'Machine', doc: 'The source itself, where it is a machine of its own.' })),
    storeId: optional(ref('store', { label: 'Store', doc: 'Where its disks still are.' })),
    storeName: optional(text({ label: 'Store, as it was called', doc: 'Kept when that store is removed.' })),
    sizeBytes: integer({ label: 'Size', doc: 'What its disks may take.', unit: 'bytes', default: 0 }),
    usedBytes: integer({ label: 'Used', doc: 'What its disks take.', unit: 'bytes', default: 0 }),
    until: text({ label: 'Kept until', doc: 'The day from which it may be removed.', shape: 'date' }),
    note: note(),
  },
  keys: [],
  partOf: ['migrationId'],
  remembers: { storeId: 'storeName' },
  byVerbs: { actions: ['add', 'remove'], fields: ['migrationId', 'guestId', 'storeId', 'storeName'] },
})

export const hardwareKind = defineKind({
  name: 'hardware',
  label: 'machine details',
  plural: 'hardware',
  doc: 'What matters of a machine when it is moved: its serial number, how its disks are laid out and started from, what is tied to it.',
  fields: {
    guestId: ref('guest', { label: 'Machine', doc: 'The machine.' }),
    serial: optional(text({ label: 'Serial number', doc: 'On its plate.', max: 80 })),
    partitionTable: choice(['unknown', 'GPT', 'MBR'], { label: 'Partition table', doc: 'MBR reaches 2 TiB.', default: 'unknown' }),
    sectorSize: choice(['unknown', '512 bytes', '4096 bytes'], {
      label: 'Sector size',
      doc: 'Of its disks, as the system sees it.',
      default: 'unknown',
    }),
    controller: choice(['unknown', 'AHCI', 'IDE', 'RAID', 'NVMe'], {
      label: 'Disk controller',
      doc: 'The mode it is set to: a system starts with the driver of that mode.',
      default: 'unknown',
    }),
    clock: choice(['unknown', 'UTC', 'local time'], { label: 'Clock', doc: 'What its hardware clock is in.', default: 'unknown' }),
    services: optional(text({ label: 'Services bound to its address', doc: 'What others reach by its address or name.', max: 400 })),
    licences: optional(text({ label: 'Licences and dongles', doc: 'What is tied to this hardware.', max: 400 })),
    devices: optional(text({ label: 'Devices', doc: 'Cards, serial and USB devices it uses itself.', max: 400 })),
    encryption: choice(['unknown', 'none', 'encrypted'], {
      label: 'Disk encryption',
      doc: 'Whether its disks are encrypted.',
      default: 'unknown',
    }),
    recoveryKeyAt: optional(text({ label: 'Recovery key', doc: 'Where it is kept; never the key.', max: 200 })),
    data: choice(['unknown', 'no', 'database', 'directory service'], {
      label: 'Needs a consistent copy',
      doc: 'Whether a database or directory service on it has to be stopped, or told, before it is copied.',
      default: 'unknown',
    }),
    drivers: choice(['unknown', 'staged', 'missing'], {
      label: 'Drivers for the target',
      doc: 'Whether the system has those for the target’s network device and disk bus.',
      default: 'unknown',
    }),
    note: note(),
  },
  keys: [{ fields: ['guestId'], unique: true }],
  partOf: ['guestId'],
})

export const volumeKind = defineKind({
  name: 'volume',
  label: 'volume',
  plural: 'volumes',
  doc: 'A partition or logical volume of a machine’s disk.',
  fields: {
    diskId: ref('disk', { label: 'Disk', doc: 'The disk it is on.' }),
    name: text({ label: 'Name', doc: 'Its label or mount point, such as C: or /srv.', max: 60 }),
    fileSystem: optional(text({ label: 'File system', doc: 'Such as ext4 or NTFS.', max: 40 })),
    sizeBytes: integer({ label: 'Size', doc: 'What it can hold.', unit: 'bytes', min: 1 }),
    usedBytes: optional(integer({ label: 'Used', doc: 'What it holds, as last seen.', unit: 'bytes' })),
    isTaken: bool({ label: 'Is moved', doc: 'Whether it is taken along.', default: true }),
    note: note(),
  },
  keys: [{ fields: ['diskId', 'name'], unique: true }],
  partOf: ['diskId'],
})
