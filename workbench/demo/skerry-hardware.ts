import type { Command, Drive, Host, Kind, NewRecord, Port } from '@insel/core'

/** Flags of the invented processors, as Linux would show them. */
const V2 = 'fpu cx8 cmov fxsr mmx syscall sse sse2 cx16 lahf_lm popcnt pni sse4_1 sse4_2 ssse3 svm aes'
const V3 = `${V2} avx avx2 bmi1 bmi2 f16c fma abm movbe xsave`

/** What the telling needs of the estate so far. */
export interface Teller {
  readonly id: (kind: Kind, name: string) => string
  readonly newId: () => string
}

/** The coming release, and the images. */
export function platformsAndImages({ id, newId }: Teller): Command[] {
  const brackwater6 = newId()
  return [
    {
      type: 'platform.add',
      record: {
        id: brackwater6,
        name: 'Brackwater 6',
        controllers: 'ahci nvme virtio_scsi',
        portDrivers: 'igb ixgbe virtio_net',
        minLevel: 'x86-64-v3',
        requiredFlags: 'svm',
        minMemoryMiB: 16384,
        minDriveBytes: 128e9,
        managementUrl: 'https://{name}:8443/',
        trialDays: 60,
        releasedOn: '2027-03-01',
        supportedUntil: '2033-03-01',
        note: 'Drops the old controllers of release 5.',
      },
    },
    {
      type: 'image.add',
      record: {
        id: newId(),
        name: 'brackwater-5.4.iso',
        version: '5.4',
        platformId: id('platform', 'Brackwater 5'),
        sizeBytes: 1_184_890_880,
        storeId: id('store', 'reef'),
      },
    },
    {
      type: 'image.add',
      record: {
        id: newId(),
        name: 'marram-2.3.iso',
        version: '2.3',
        platformId: id('platform', 'Marram 2'),
        sizeBytes: 742_391_808,
        storeId: id('store', 'reef'),
      },
    },
  ]
}

/** The machines of the four hosts in service. */
export function hardwareInService({ id, newId }: Teller): Command[] {
  const rack = (name: string, unit: number): Command[] => {
    const hostId = id('host', name)
    return [
      described(hostId, {
        processorModel: 'Holm 16-core, 2.4 GHz',
        clockMHz: 2400,
        cpuFlags: V3,
        memorySlots: 16,
        firmware: 'UEFI',
        secureBoot: 'off',
        controllers: 'ahci mpt3sas nvme',
        mounting: 'rack',
        drawWatts: 412,
        powerSupplies: 2,
        circuit: 'A1',
        circuitVolts: 230,
        circuitAmps: 16,
        fingerprint: `SHA256 ${unit}7:4C:19:E0:5A:B2:${unit}1:8D`,
      }),
      ...modules(
        hostId,
        newId,
        [1, 2, 3, 4, 5, 6, 7, 8].map((slot) => [slot, 16384]),
      ),
      ...ports(hostId, newId, [
        ['eno1', 1000, 'management', `00:00:5e:00:53:1${unit}`],
        ['eno2', 1000, 'management', `00:00:5e:00:53:2${unit}`],
        ['ens1f0', 10_000, 'storage', `00:00:5e:00:53:3${unit}`],
        ['ens1f1', 10_000, 'storage', `00:00:5e:00:53:4${unit}`],
        ['ens2f0', 10_000, 'guests', `00:00:5e:00:53:5${unit}`],
        ['ens2f1', 10_000, 'live migration', `00:00:5e:00:53:6${unit}`],
      ]),
      ...arrayWith(hostId, newId, {
        name: 'boot',
        level: '1',
        from: 0,
        count: 2,
        drive: { labelBytes: 240e9, kind: 'solid state', model: 'Kelp 240', controller: 'ahci' },
        isInstall: true,
      }),
      ...arrayWith(hostId, newId, {
        name: 'fast',
        level: '10',
        from: 2,
        count: 4,
        drive: { labelBytes: 1.92e12, kind: 'NVMe', model: 'Dulse 1920', controller: 'nvme' },
        stores: [id('store', `nvme-${unit}`)],
      }),
      ...arrayWith(hostId, newId, {
        name: 'bulk',
        level: '6',
        from: 8,
        count: 8,
        drive: { labelBytes: 4e12, kind: 'hard disk', model: 'Tangle 4T', controller: 'mpt3sas' },
        stores: [id('store', `bulk-${unit}`), ...(unit === 1 ? [id('store', 'vault-disks')] : [])],
      }),
    ]
  }
  const puffin = id('host', 'puffin')
  const tern = id('host', 'tern')
  return [
    ...rack('gannet', 1),
    ...rack('fulmar', 2),
    described(puffin, {
      processorModel: 'Holm 16-core, 2.1 GHz',
      clockMHz: 2100,
      cpuFlags: V3,
      memorySlots: 8,
      firmware: 'UEFI',
      secureBoot: 'off',
      controllers: 'ahci',
      mounting: 'tower',
      drawWatts: 238,
      circuit: 'A2',
      circuitVolts: 230,
      circuitAmps: 10,
    }),
    ...modules(
      puffin,
      newId,
      [1, 2, 3, 4].map((slot) => [slot, 16384]),
    ),
    ...ports(puffin, newId, [
      ['eno1', 1000, 'management', '00:00:5e:00:53:13'],
      ['eno2', 1000, 'guests', '00:00:5e:00:53:23'],
    ]),
    ...arrayWith(puffin, newId, {
      name: 'pair',
      level: '1',
      from: 0,
      count: 2,
      drive: { labelBytes: 2e12, kind: 'solid state', model: 'Kelp 2T', controller: 'ahci' },
      stores: [id('store', 'ssd-3')],
    }),
    drive(puffin, newId, {
      position: 4,
      labelBytes: 120e9,
      kind: 'solid state',
      model: 'Kelp 120',
      serial: 'K120-0311',
      use: 'install',
      controller: 'ahci',
    }),
    described(tern, {
      processorModel: 'Holm 8-core, 2.0 GHz',
      clockMHz: 2000,
      cpuFlags: V2,
      memorySlots: 4,
      firmware: 'UEFI',
      secureBoot: 'off',
      controllers: 'ahci',
      mounting: 'rack',
      drawWatts: 96,
      circuit: 'mast 3',
      circuitVolts: 230,
      circuitAmps: 6,
      fingerprint: 'SHA256 47:90:0C:D5:31:EE:62:7B',
    }),
    // A stick of another size was added last winter; one slot is still free.
    ...modules(tern, newId, [
      [1, 8192],
      [2, 8192],
      [3, 16384],
    ]),
    ...ports(tern, newId, [
      ['eno1', 1000, 'management', '00:00:5e:00:53:14'],
      ['eno2', 1000, 'management', '00:00:5e:00:53:24'],
      ['eno3', 1000, 'guests', '00:00:5e:00:53:34'],
    ]),
    drive(tern, newId, {
      position: 0,
      labelBytes: 120e9,
      kind: 'solid state',
      model: 'Kelp 120',
      serial: 'K120-0904',
      use: 'install',
      controller: 'ahci',
    }),
    drive(tern, newId, {
      position: 1,
      labelBytes: 1e12,
      kind: 'solid state',
      model: 'Kelp 1T',
      serial: 'K1T-0118',
      use: 'single',
      controller: 'ahci',
    }),
    drive(tern, newId, {
      position: 2,
      labelBytes: 6e12,
      kind: 'hard disk',
      model: 'Tangle 6T',
      serial: 'T6T-0040',
      use: 'single',
      controller: 'ahci',
    }),
    described(id('host', 'petrel'), {
      cpuFlags: V3,
      firmware: 'UEFI',
      controllers: 'virtio_scsi',
      fingerprint: 'SHA256 08:1E:B3:6F:22:90:A4:5D',
    }),
  ]
}

/** The host on order: planned to the last cable, its build begun. */
export function buildOfKittiwake({ id, newId }: Teller): Command[] {
  const hostId = id('host', 'kittiwake')
  const person = id('person', 'Tove Lind')
  const sheet = newId()
  const settled = (step: string, minute: number, minutes: number, more: Partial<NewRecord<'step'>> = {}): Command => ({
    type: 'step.add',
    record: {
      id: newId(),
      sheetId: sheet,
      step,
      state: 'done',
      personId: person,
      at: `2027-01-15T09:${String(minute).padStart(2, '0')}:00.000Z`,
      minutes,
      ...more,
    },
  })
  return [
    described(hostId, {
      processorModel: 'Holm 16-core, 2.4 GHz',
      clockMHz: 2400,
      cpuFlags: V3,
      memorySlots: 8,
      firmware: 'UEFI',
      secureBoot: 'off',
      controllers: 'ahci nvme',
      mounting: 'rack',
      drawWatts: 410,
      powerSupplies: 2,
      circuit: 'A1',
      circuitVolts: 230,
      circuitAmps: 16,
      imageId: id('image', 'brackwater-5.4.iso'),
      stickBytes: 16e9,
      atHand: 'cable-display rails',
    }),
    ...modules(
      hostId,
      newId,
      [1, 3, 5, 7].map((slot) => [slot, 32768]),
      3200,
    ),
    ...ports(
      hostId,
      newId,
      [
        ['eno1', 1000, 'management', '02:4b:60:00:00:01', 'core-a port 5'],
        ['eno2', 1000, 'management', '02:4b:60:00:00:02', 'core-b port 5'],
        ['ens1f0', 10_000, 'storage', '02:4b:60:00:00:11', 'core-a port 15'],
        ['ens1f1', 10_000, 'guests', '02:4b:60:00:00:12', 'core-b port 15'],
      ],
      'missing',
    ),
    drive(hostId, newId, {
      position: 0,
      labelBytes: 480e9,
      kind: 'solid state',
      model: 'Kelp 480',
      serial: 'K480-2201',
      use: 'install',
      controller: 'ahci',
    }),
    drive(hostId, newId, {
      position: 1,
      labelBytes: 480e9,
      kind: 'solid state',
      model: 'Kelp 480',
      serial: 'K480-2202',
      use: 'unused',
      controller: 'ahci',
    }),
    ...[0, 1, 2].map((index) =>
      drive(hostId, newId, {
        position: 8 + index,
        labelBytes: 8e12,
        kind: 'hard disk',
        model: 'Tangle 8T',
        serial: `T8T-050${index}`,
        controller: 'ahci',
      }),
    ),
    ...arrayWith(hostId, newId, {
      name: 'fast',
      level: '0',
      from: 2,
      count: 2,
      drive: { labelBytes: 3.84e12, kind: 'NVMe', model: 'Dulse 3840', controller: 'nvme' },
      stores: [id('store', 'nvme-5')],
      serials: ['D384-0901', 'D384-0902'],
    }),
    {
      type: 'address.assign',
      id: newId(),
      hostId,
      subnetId: id('subnet', '10.61.10.0/24'),
      ip: '10.61.10.15',
      kind: 'fixed',
    },
    { type: 'sheet.add', record: { id: sheet, hostId, startedAt: '2027-01-15T09:00:00.000Z' } },
    settled('materials', 12, 12),
    settled('image', 25, 8),
    settled('firmware', 31, 6, { state: 'failed', note: 'Asks for a password nobody here has; the maker was called.' }),
  ]
}

const described = (hostId: string, changes: Partial<Omit<Host, 'id'>>): Command => ({ type: 'host.update', id: hostId, changes })

const modules = (hostId: string, newId: () => string, slots: readonly (readonly number[])[], speedMTs = 2933): Command[] =>
  slots.map(([slot = 1, sizeMiB = 0]) => ({ type: 'module.add', record: { id: newId(), hostId, slot, sizeMiB, speedMTs } }))

const ports = (
  hostId: string,
  newId: () => string,
  list: readonly (readonly [name: string, speedMbps: number, role: Port['role'], mac: string, farEnd?: string])[],
  cable: Port['cable'] = 'present',
): Command[] =>
  list.map(([name, speedMbps, role, mac, farEnd]) => ({
    type: 'port.add',
    record: {
      id: newId(),
      hostId,
      name,
      speedMbps,
      role,
      mac,
      cable,
      ...(farEnd === undefined ? {} : { farEnd }),
      medium: speedMbps > 1000 ? 'fibre' : 'copper',
      driver: speedMbps > 1000 ? 'ixgbe' : 'igb',
    },
  }))

const drive = (hostId: string, newId: () => string, record: Omit<NewRecord<'drive'>, 'hostId'>): Command => ({
  type: 'drive.add',
  record: { id: newId(), hostId, ...record },
})

function arrayWith(
  hostId: string,
  newId: () => string,
  {
    name,
    level,
    from,
    count,
    drive: kind,
    stores = [],
    isInstall = false,
    serials,
  }: {
    name: string
    level: '0' | '1' | '6' | '10'
    from: number
    count: number
    drive: Pick<Drive, 'labelBytes' | 'kind' | 'model' | 'controller'>
    stores?: readonly string[]
    isInstall?: boolean
    serials?: readonly string[]
  },
): Command[] {
  const arrayId = newId()
  const serial = (index: number) => `${(kind.model ?? '').replace(/[^A-Z0-9]/g, '')}-${hostId.slice(-4)}${index}`.toUpperCase()
  return [
    { type: 'array.add', record: { id: arrayId, hostId, name, level, ...(isInstall ? { note: 'The platform itself.' } : {}) } },
    ...Array.from({ length: count }, (_, index) =>
      drive(hostId, newId, {
        position: from + index,
        ...kind,
        serial: serials?.[index] ?? serial(index + from),
        use: isInstall ? 'install' : 'member',
        arrayId,
      }),
    ),
    ...stores.map((storeId): Command => ({ type: 'store.update', id: storeId, changes: { arrayId } })),
  ]
}
