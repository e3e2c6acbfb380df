import type { Platform, System } from '../estate/index.js'
import { counted, formatBytes, formatMiB } from '../units/index.js'
import type { DeviceMend, DevicePlan, DeviceRemark } from './device-remark.js'

/** Before this day a system may not know a PCIe board. From memory: the first such boards are of 2004. */
const PCIE_KNOWN_SINCE = '2005-01-01'

export function checkBoard({ guest }: DevicePlan, system: System): DeviceRemark[] {
  const remarks: DeviceRemark[] = []
  if (system.firmware === 'UEFI only' && guest.firmware === 'BIOS')
    remarks.push({
      trap: 'firmware',
      of: 'guest',
      severity: 'error',
      sentence: `${system.name} boots under UEFI only; the guest has BIOS.`,
      remedy: 'Choose UEFI before the install: changing it later stops the boot.',
      mend: { what: 'guest', changes: { firmware: 'UEFI' } },
    })
  if (system.firmware === 'BIOS only' && guest.firmware === 'UEFI')
    remarks.push({
      trap: 'firmware',
      of: 'guest',
      severity: 'error',
      sentence: `${system.name} boots under BIOS only; the guest has UEFI.`,
      remedy: 'Choose BIOS before the install: changing it later stops the boot.',
      mend: { what: 'guest', changes: { firmware: 'BIOS', secureBoot: false, trustedModule: false } },
    })
  if (guest.trustedModule && guest.firmware === 'BIOS')
    remarks.push({
      trap: 'trusted-module',
      of: 'guest',
      severity: 'warning',
      sentence: 'A trusted module is of little use under BIOS: current systems ask for UEFI with it.',
      remedy: 'Choose UEFI, or leave the module out.',
      mend: { what: 'guest', changes: { trustedModule: false } },
    })
  if (guest.machineType === 'PCIe' && system.releasedOn !== null && system.releasedOn < PCIE_KNOWN_SINCE)
    remarks.push({
      trap: 'machine-type',
      of: 'guest',
      severity: 'warning',
      sentence: `${system.name} is of ${system.releasedOn.slice(0, 4)} and may not know a PCIe board.`,
      remedy: 'Choose the PCI board for a system of that age.',
      mend: { what: 'guest', changes: { machineType: 'PCI' } },
    })
  return remarks
}

export function checkMinimums({ guest, disks }: DevicePlan, system: System): DeviceRemark[] {
  const remarks: DeviceRemark[] = []
  const below = (
    of: DeviceRemark['of'],
    what: string,
    has: number,
    least: number | null,
    good: number | null,
    say: (value: number) => string,
    changesTo: ((value: number) => DeviceMend) | undefined,
  ) => {
    const found =
      least !== null && has < least
        ? ({ trap: 'below-minimum', limit: least, word: 'needs at least' } as const)
        : good !== null && has < good
          ? ({ trap: 'below-recommended', limit: good, word: 'recommends' } as const)
          : undefined
    if (!found) return
    const { trap, limit, word } = found
    remarks.push({
      trap,
      of,
      severity: trap === 'below-minimum' ? 'error' : 'notice',
      sentence: `${what} is ${say(has)}; ${system.name} ${word} ${say(limit)}.`,
      remedy: trap === 'below-minimum' ? `Make it ${say(limit)} or more.` : 'Enough for light work; watch its use.',
      ...(changesTo ? { mend: changesTo(limit) } : {}),
    })
  }
  below('memory', 'Memory', guest.memoryMiB, system.minMemoryMiB, system.goodMemoryMiB, formatMiB, (memoryMiB) => ({
    what: 'guest',
    changes: { memoryMiB },
  }))
  below(
    'vcpu',
    'Processors',
    guest.vcpu,
    system.minVcpu,
    system.goodVcpu,
    (value) => `${value} vCPU`,
    (vcpu) => ({ what: 'guest', changes: { vcpu, sockets: 1 } }),
  )
  const [first] = disks
  if (first)
    below(
      { kind: 'disk', at: 0 },
      `Disk 1 (${first.use})`,
      first.sizeBytes,
      system.minStorageBytes,
      system.goodStorageBytes,
      formatBytes,
      undefined,
    )
  if (guest.memoryMinMiB !== null && system.minMemoryMiB !== null && guest.memoryMinMiB < system.minMemoryMiB)
    remarks.push({
      trap: 'below-minimum',
      of: 'least memory',
      severity: 'warning',
      sentence: `The host may reclaim memory down to ${formatMiB(guest.memoryMinMiB)}; ${system.name} needs at least ${formatMiB(system.minMemoryMiB)}.`,
      remedy: `Make the least memory ${formatMiB(system.minMemoryMiB)} or more.`,
      mend: { what: 'guest', changes: { memoryMinMiB: system.minMemoryMiB } },
    })
  return remarks
}

export function checkLimits({ guest, disks, adapters }: DevicePlan, platform: Platform): DeviceRemark[] {
  const over = (of: DeviceRemark['of'], what: string, most: string): DeviceRemark => ({
    trap: 'limit',
    of,
    severity: 'error',
    sentence: `${what}; ${platform.name} gives one guest at most ${most}.`,
    remedy: 'Make it less, or split the work over two guests. The limit is a field of the platform.',
  })
  return [
    ...(guest.vcpu > platform.guestVcpuMax ? [over('vcpu', `${guest.vcpu} vCPU`, `${platform.guestVcpuMax}`)] : []),
    ...(guest.memoryMiB > platform.guestMemoryMaxMiB
      ? [over('memory', formatMiB(guest.memoryMiB), formatMiB(platform.guestMemoryMaxMiB))]
      : []),
    ...(disks.length > platform.guestDisksMax ? [over('disks', counted(disks.length, 'disk'), `${platform.guestDisksMax}`)] : []),
    ...(adapters.length > platform.guestAdaptersMax
      ? [over('adapters', counted(adapters.length, 'adapter'), `${platform.guestAdaptersMax}`)]
      : []),
    ...disks.flatMap(({ sizeBytes }, at) =>
      sizeBytes > platform.diskMaxBytes
        ? [over({ kind: 'disk', at }, `Disk ${at + 1} has ${formatBytes(sizeBytes)}`, formatBytes(platform.diskMaxBytes))]
        : [],
    ),
  ]
}
