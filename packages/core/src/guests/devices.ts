import type { Adapter, Disk, Guest, Host, Platform, System } from '../estate/index.js'
import { lacksFor, levelOf, processorLevels, type ProcessorLevel } from '../hosts/index.js'
import { formatBytes, formatMiB } from '../units/index.js'
import { bySeverity, type Severity } from '../lists/index.js'

/** What a guest shows its system: its devices and their kinds. */
export interface DevicePlan {
  readonly guest: Pick<
    Guest,
    'vcpu' | 'sockets' | 'memoryMiB' | 'firmware' | 'secureBoot' | 'trustedModule' | 'machineType' | 'processorMode' | 'memoryMinMiB'
  >
  readonly disks: readonly Pick<Disk, 'use' | 'bus' | 'sizeBytes' | 'cache'>[]
  readonly adapters: readonly Pick<Adapter, 'model'>[]
}

/** The change of one device, or of the guest, that mends a remark. */
export type DeviceMend =
  | { readonly what: 'guest'; readonly changes: Partial<DevicePlan['guest']> }
  | { readonly what: 'disk'; readonly at: number; readonly changes: { readonly bus: Disk['bus'] } }
  | { readonly what: 'adapter'; readonly at: number; readonly changes: { readonly model: Adapter['model'] } }

/** Something about the devices that will bite, with the working alternative. */
export interface DeviceRemark {
  /** Stable word for the kind of trap. */
  readonly trap:
    | 'disk-driver'
    | 'disk-driver-image'
    | 'disk-bus'
    | 'adapter-driver'
    | 'adapter-driver-image'
    | 'firmware'
    | 'trusted-module'
    | 'machine-type'
    | 'below-minimum'
    | 'below-recommended'
    | 'limit'
    | 'processor-mode'
    | 'numa'
    | 'cache'
  readonly severity: Severity
  readonly sentence: string
  /** What to do. */
  readonly remedy: string
  readonly mend?: DeviceMend
}

/** Kernels that have had paravirtual drivers for long; whether a release has them is known better by the catalogue. [P] */
const hasKernelDrivers = (family: string) => /linux|bsd/i.test(family)
/** Before this day a system may not know a PCIe board. From memory: the first such boards are of 2004. */
const PCIE_KNOWN_SINCE = '2005-01-01'

/**
 * Checks every device of a guest against its system, the platform's limits and the host's processor, and names what works
 * instead.
 *
 * @param system the system it is to run; without one only limits are checked
 * @returns remarks, worst first
 * @see facts of the trade, guests; common practice, no source
 * @example checkDevices(plan, { ...system, paravirtualDisk: 'none' })[0]?.mend // { what: 'disk', at: 0, changes: { bus: 'SATA' } }
 */
export function checkDevices(plan: DevicePlan, system: System | undefined, platform?: Platform, host?: Host): readonly DeviceRemark[] {
  const remarks = [
    ...(system
      ? [...checkDisks(plan, system), ...checkAdapters(plan, system), ...checkBoard(plan, system), ...checkMinimums(plan, system)]
      : []),
    ...checkBuses(plan),
    ...(platform ? checkLimits(plan, platform) : []),
    ...(host ? checkProcessor(plan, host) : []),
  ]
  return remarks.sort(bySeverity)
}

const isParavirtual = ({ bus }: Pick<Disk, 'bus'>) => bus === 'paravirtual'
/** The bus that works without a driver on a board. */
const plainBus = ({ guest }: DevicePlan): Disk['bus'] => (guest.machineType === 'PCI' ? 'IDE' : 'SATA')

function checkDisks(plan: DevicePlan, system: System): DeviceRemark[] {
  const instead = plainBus(plan)
  return plan.disks.flatMap((disk, at): DeviceRemark[] => {
    if (!isParavirtual(disk) || system.paravirtualDisk === 'built in') return []
    const mend: DeviceMend = { what: 'disk', at, changes: { bus: instead } }
    const what = `Disk ${at + 1} (${disk.use})`
    if (system.paravirtualDisk === 'none')
      return [
        {
          trap: 'disk-driver',
          severity: 'error',
          sentence: `${what} is paravirtual, and ${system.name} has no driver for it: the installer sees no disk.`,
          remedy: `Put it on ${instead}.`,
          mend,
        },
      ]
    if (system.paravirtualDisk === 'with a driver image')
      return [
        {
          trap: 'disk-driver-image',
          severity: 'warning',
          sentence: `${what} is paravirtual; the installer of ${system.name} sees it only with a driver image attached.`,
          remedy: `Attach the driver image and load the driver when the installer asks for a disk, or put the disk on ${instead}.`,
          mend,
        },
      ]
    return hasKernelDrivers(system.family)
      ? []
      : [
          {
            trap: 'disk-driver',
            severity: 'warning',
            sentence: `${what} is paravirtual; whether ${system.name} has a driver for it is not known.`,
            remedy: `Find out and record it on the system, or put the disk on ${instead}.`,
            mend,
          },
        ]
  })
}

function checkAdapters(plan: DevicePlan, system: System): DeviceRemark[] {
  const instead: Adapter['model'] = system.emulatedNet === 'emulated old' ? 'emulated old' : 'emulated'
  return plan.adapters.flatMap(({ model }, at): DeviceRemark[] => {
    const mend: DeviceMend = { what: 'adapter', at, changes: { model: instead } }
    const what = `Adapter ${at + 1}`
    if (model === 'emulated' && system.emulatedNet === 'emulated old')
      return [
        {
          trap: 'adapter-driver',
          severity: 'warning',
          sentence: `${what} is a gigabit card, and ${system.name} knows only older ones: it has no network.`,
          remedy: 'Choose the old emulated card.',
          mend,
        },
      ]
    if (model !== 'paravirtual' || system.paravirtualNet === 'built in') return []
    if (system.paravirtualNet === 'none')
      return [
        {
          trap: 'adapter-driver',
          severity: 'error',
          sentence: `${what} is paravirtual, and ${system.name} has no driver for it: it has no network.`,
          remedy: `Choose the ${instead} card.`,
          mend,
        },
      ]
    if (system.paravirtualNet === 'with a driver image')
      return [
        {
          trap: 'adapter-driver-image',
          severity: 'warning',
          sentence: `${what} is paravirtual; ${system.name} needs a driver for it, and without network it cannot fetch one.`,
          remedy: `Attach the driver image before the install, or choose the ${instead} card until the driver is in.`,
          mend,
        },
      ]
    return hasKernelDrivers(system.family)
      ? []
      : [
          {
            trap: 'adapter-driver',
            severity: 'warning',
            sentence: `${what} is paravirtual; whether ${system.name} has a driver for it is not known.`,
            remedy: `Find out and record it on the system, or choose the ${instead} card.`,
            mend,
          },
        ]
  })
}

function checkBoard({ guest }: DevicePlan, system: System): DeviceRemark[] {
  const remarks: DeviceRemark[] = []
  if (system.firmware === 'UEFI only' && guest.firmware === 'BIOS')
    remarks.push({
      trap: 'firmware',
      severity: 'error',
      sentence: `${system.name} boots under UEFI only; the guest has BIOS.`,
      remedy: 'Choose UEFI before the install: changing it later stops the boot.',
      mend: { what: 'guest', changes: { firmware: 'UEFI' } },
    })
  if (system.firmware === 'BIOS only' && guest.firmware === 'UEFI')
    remarks.push({
      trap: 'firmware',
      severity: 'error',
      sentence: `${system.name} boots under BIOS only; the guest has UEFI.`,
      remedy: 'Choose BIOS before the install: changing it later stops the boot.',
      mend: { what: 'guest', changes: { firmware: 'BIOS', secureBoot: false, trustedModule: false } },
    })
  if (guest.trustedModule && guest.firmware === 'BIOS')
    remarks.push({
      trap: 'trusted-module',
      severity: 'warning',
      sentence: 'A trusted module is of little use under BIOS: current systems ask for UEFI with it.',
      remedy: 'Choose UEFI, or leave the module out.',
      mend: { what: 'guest', changes: { trustedModule: false } },
    })
  if (guest.machineType === 'PCIe' && system.releasedOn !== null && system.releasedOn < PCIE_KNOWN_SINCE)
    remarks.push({
      trap: 'machine-type',
      severity: 'warning',
      sentence: `${system.name} is of ${system.releasedOn.slice(0, 4)} and may not know a PCIe board.`,
      remedy: 'Choose the PCI board for a system of that age.',
      mend: { what: 'guest', changes: { machineType: 'PCI' } },
    })
  return remarks
}

function checkBuses(plan: DevicePlan): DeviceRemark[] {
  const { machineType, firmware } = plan.guest
  return plan.disks.flatMap(({ bus, use, cache }, at): DeviceRemark[] => {
    const move = (to: Disk['bus'], sentence: string, severity: 'error' | 'warning'): DeviceRemark => ({
      trap: 'disk-bus',
      severity,
      sentence,
      remedy: `Put it on ${to}.`,
      mend: { what: 'disk', at, changes: { bus: to } },
    })
    return [
      ...(bus === 'IDE' && machineType === 'PCIe'
        ? [move('SATA', `Disk ${at + 1} (${use}) is on IDE, which the PCIe board does not have.`, 'error')]
        : []),
      ...(bus === 'NVMe' && machineType === 'PCI'
        ? [move('SATA', `Disk ${at + 1} (${use}) is NVMe, which needs the PCIe board.`, 'error')]
        : []),
      ...(bus === 'NVMe' && firmware === 'BIOS' && machineType === 'PCIe' && at === 0
        ? [move('SATA', `Disk 1 (${use}) is NVMe; many a BIOS does not boot from it.`, 'warning')]
        : []),
      ...(cache === 'write-back'
        ? [
            {
              trap: 'cache' as const,
              severity: 'notice' as const,
              sentence: `Disk ${at + 1} (${use}) has a write-back cache: a power failure loses what was not flushed.`,
              remedy: 'Keep it for what can be lost, or for a host with a protected power supply.',
            },
          ]
        : []),
    ]
  })
}

function checkMinimums({ guest, disks }: DevicePlan, system: System): DeviceRemark[] {
  const remarks: DeviceRemark[] = []
  const below = (
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
      severity: trap === 'below-minimum' ? 'error' : 'notice',
      sentence: `${what} is ${say(has)}; ${system.name} ${word} ${say(limit)}.`,
      remedy: trap === 'below-minimum' ? `Make it ${say(limit)} or more.` : 'Enough for little work; watch what it uses.',
      ...(changesTo ? { mend: changesTo(limit) } : {}),
    })
  }
  below('Memory', guest.memoryMiB, system.minMemoryMiB, system.goodMemoryMiB, formatMiB, (memoryMiB) => ({
    what: 'guest',
    changes: { memoryMiB },
  }))
  below(
    'Processors',
    guest.vcpu,
    system.minVcpu,
    system.goodVcpu,
    (value) => `${value} vCPU`,
    (vcpu) => ({ what: 'guest', changes: { vcpu, sockets: 1 } }),
  )
  const [first] = disks
  if (first) below(`Disk 1 (${first.use})`, first.sizeBytes, system.minStorageBytes, system.goodStorageBytes, formatBytes, undefined)
  if (guest.memoryMinMiB !== null && system.minMemoryMiB !== null && guest.memoryMinMiB < system.minMemoryMiB)
    remarks.push({
      trap: 'below-minimum',
      severity: 'warning',
      sentence: `The host may take memory back down to ${formatMiB(guest.memoryMinMiB)}; ${system.name} needs at least ${formatMiB(system.minMemoryMiB)}.`,
      remedy: `Make the least memory ${formatMiB(system.minMemoryMiB)} or more.`,
      mend: { what: 'guest', changes: { memoryMinMiB: system.minMemoryMiB } },
    })
  return remarks
}

function checkLimits({ guest, disks, adapters }: DevicePlan, platform: Platform): DeviceRemark[] {
  const over = (what: string, most: string): DeviceRemark => ({
    trap: 'limit',
    severity: 'error',
    sentence: `${what}; ${platform.name} gives one guest at most ${most}.`,
    remedy: 'Make it less, or split the work over two guests. The limit is a field of the platform.',
  })
  return [
    ...(guest.vcpu > platform.guestVcpuMax ? [over(`${guest.vcpu} vCPU`, `${platform.guestVcpuMax}`)] : []),
    ...(guest.memoryMiB > platform.guestMemoryMaxMiB ? [over(formatMiB(guest.memoryMiB), formatMiB(platform.guestMemoryMaxMiB))] : []),
    ...(disks.length > platform.guestDisksMax ? [over(`${disks.length} disks`, `${platform.guestDisksMax}`)] : []),
    ...(adapters.length > platform.guestAdaptersMax ? [over(`${adapters.length} adapters`, `${platform.guestAdaptersMax}`)] : []),
    ...disks.flatMap(({ sizeBytes }, at) =>
      sizeBytes > platform.diskMaxBytes ? [over(`Disk ${at + 1} has ${formatBytes(sizeBytes)}`, formatBytes(platform.diskMaxBytes))] : [],
    ),
  ]
}

function checkProcessor({ guest }: DevicePlan, host: Host): DeviceRemark[] {
  const remarks: DeviceRemark[] = []
  if (guest.processorMode !== 'host' && host.cpuFlags) {
    const lacks = lacksFor(guest.processorMode, host.cpuFlags)
    const { level } = levelOf(host.cpuFlags)
    if (lacks.length > 0)
      remarks.push({
        trap: 'processor-mode',
        severity: 'error',
        sentence: `${host.name} is at ${level ?? 'no level'} and lacks ${lacks.slice(0, 4).join(', ')}${lacks.length > 4 ? ' and more' : ''} for ${guest.processorMode}: the guest does not start.`,
        remedy: level ? `Choose ${level}, or host.` : 'Choose host, or another host.',
        mend: { what: 'guest', changes: { processorMode: level ?? 'host' } },
      })
  }
  if (host.sockets > 1 && guest.vcpu > host.coresPerSocket && guest.sockets === 1)
    remarks.push({
      trap: 'numa',
      severity: 'notice',
      sentence: `${guest.vcpu} vCPU in one socket span two of ${host.name}’s ${host.coresPerSocket}-core processors: half its memory is far away, and it does not know.`,
      remedy: 'Show it the sockets it spans, or keep it within one processor.',
      ...(guest.vcpu % 2 === 0 ? { mend: { what: 'guest' as const, changes: { sockets: 2 } } } : {}),
    })
  return remarks
}

/** Where a processor mode lets a guest move live, and what it costs. */
export interface ModeReach {
  readonly mode: Guest['processorMode']
  /** Hosts of its platform to which it moves live, its own left out. */
  readonly hosts: readonly Host[]
  /** Hosts whose processor is not recorded, so that nobody can say. */
  readonly unknown: readonly Host[]
  readonly cost: string
}

/**
 * What each processor mode costs in moves: with *host*, live moves go to hosts with the same processor; with a baseline
 * level, to every host at or above it.
 *
 * @param hosts the hosts among which it might move
 * @see x86-64 psABI supplement for the levels; common practice, no source, for the two schools
 */
export function modeReach(host: Host, hosts: readonly Host[]): readonly ModeReach[] {
  const others = hosts.filter(({ id, platformId, state }) => id !== host.id && platformId === host.platformId && state !== 'retired')
  const own = host.cpuFlags ? levelOf(host.cpuFlags).level : undefined
  const ownRank = own ? processorLevels.indexOf(own) : -1
  const modes: readonly (ProcessorLevel | 'host')[] = ['host', ...processorLevels.filter((_, rank) => rank <= ownRank)]
  return modes.map((mode) => {
    const isKnown = (one: Host) => (mode === 'host' ? one.processorModel !== null && host.processorModel !== null : one.cpuFlags !== null)
    const known = others.filter(isKnown)
    return {
      mode,
      hosts: known.filter((one) =>
        mode === 'host' ? one.processorModel === host.processorModel : lacksFor(mode, one.cpuFlags ?? '').length === 0,
      ),
      unknown: others.filter((one) => !isKnown(one)),
      cost:
        mode === 'host'
          ? 'every feature and the full speed; moves live only between like processors'
          : `features above ${mode} are hidden; moves live to every host at or above it`,
    }
  })
}
