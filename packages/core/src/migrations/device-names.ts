import type { Adapter, Disk, Guest, Platform } from '../estate/index.js'

/** A device of a machine that its system calls otherwise after a move. */
export interface RenamedDevice {
  readonly what: 'adapter' | 'disk'
  readonly position: number
  readonly was: string
  readonly becomes: string
  /** Which files name it, and have to be looked through. */
  readonly namedIn: readonly string[]
}

/** How a Linux system calls the disks of a bus. Linux kernel, admin-guide/devices.txt: sd, hd, vd, nvme. */
const diskNames: Readonly<Record<Disk['bus'], (index: number) => string>> = {
  paravirtual: (index) => `vd${letter(index)}`,
  SCSI: (index) => `sd${letter(index)}`,
  SATA: (index) => `sd${letter(index)}`,
  IDE: (index) => `sd${letter(index)}`,
  NVMe: (index) => `nvme${index}n1`,
}
const letter = (index: number): string =>
  index < 26 ? String.fromCharCode(97 + index) : `${letter(Math.floor(index / 26) - 1)}${letter(index % 26)}`

/**
 * How a Linux system probably calls an adapter: by its slot, which is another where board, model or platform are. systemd.net-naming-scheme(7): a
 * name of PCI geography, `enp<bus>s<slot>`; the slots are common practice, no source, so the name is to be looked up on the machine.
 */
const likelyAdapterName = (
  adapter: Pick<Adapter, 'position' | 'model'>,
  machineType: Guest['machineType'],
  platform: Pick<Platform, 'name'> | undefined,
): string => {
  if (!platform) return `enp${adapter.position}s0`
  const first = machineType === 'PCIe' ? (adapter.model === 'paravirtual' ? 1 : 6) : adapter.model === 'paravirtual' ? 18 : 3
  return machineType === 'PCIe' ? `enp${first + adapter.position - 1}s0` : `ens${first + adapter.position - 1}`
}

const NETWORK_FILES = ['/etc/network/interfaces', '/etc/netplan/*.yaml', '/etc/sysconfig/network-scripts/ifcfg-*', 'firewall rules']
const DISK_FILES = ['/etc/fstab', 'the boot loader’s configuration', '/etc/crypttab']

/**
 * The devices of a machine that are called otherwise after a move. What its system says of an adapter counts; where that is not recorded, it
 * is likely to change where platform, board or model do.
 *
 * @example renamedDevices({ adapters: [...], disks: [...], isOtherBoard: true, ... })[0] // { was: 'eth0', becomes: 'enp1s0', … }
 */
export function renamedDevices(of: {
  readonly adapters: readonly { readonly adapter: Adapter; readonly model: Adapter['model']; readonly targetName: string | null }[]
  readonly disks: readonly { readonly disk: Disk; readonly bus: Disk['bus'] }[]
  /** Whether platform or board differ. */
  readonly isOtherBoard: boolean
  readonly family: string
  readonly from: Platform | undefined
  readonly to: Platform | undefined
  readonly fromType: Guest['machineType']
  readonly toType: Guest['machineType']
}): readonly RenamedDevice[] {
  // Windows and others name neither by slot in files that a person edits.
  if (!/linux/i.test(of.family)) return []
  const adapters = of.adapters.flatMap(({ adapter, model, targetName }): RenamedDevice[] => {
    if (!of.isOtherBoard && model === adapter.model) return []
    const was = adapter.deviceName ?? likelyAdapterName(adapter, of.fromType, of.from)
    const becomes = targetName ?? likelyAdapterName({ ...adapter, model }, of.toType, of.to)
    return was === becomes ? [] : [{ what: 'adapter', position: adapter.position, was, becomes, namedIn: NETWORK_FILES }]
  })
  const order = (bus: Disk['bus'], position: number, all: readonly { readonly bus: Disk['bus']; readonly position: number }[]) => {
    const prefix = (one: Disk['bus']) => diskNames[one](0).slice(0, 2)
    return diskNames[bus](all.filter((other) => prefix(other.bus) === prefix(bus) && other.position < position).length)
  }
  const before = of.disks.map(({ disk }) => ({ bus: disk.bus, position: disk.position }))
  const after = of.disks.map(({ disk, bus }) => ({ bus, position: disk.position }))
  const disks = of.disks.flatMap(({ disk, bus }): RenamedDevice[] => {
    const [was, becomes] = [order(disk.bus, disk.position, before), order(bus, disk.position, after)]
    return was === becomes ? [] : [{ what: 'disk', position: disk.position, was, becomes, namedIn: DISK_FILES }]
  })
  return [...adapters, ...disks]
}
