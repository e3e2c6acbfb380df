import type { Disk, System } from '../estate/index.js'
import type { DeviceMend, DevicePlan, DeviceRemark } from './device-remark.js'
import { hasKernelDrivers } from './kernel-drivers.js'

const isParavirtual = ({ bus }: Pick<Disk, 'bus'>) => bus === 'paravirtual'

/** The bus that works without a driver on a board. */
const plainBus = ({ guest }: DevicePlan): Disk['bus'] => (guest.machineType === 'PCI' ? 'IDE' : 'SATA')

export function checkDisks(plan: DevicePlan, system: System): DeviceRemark[] {
  const instead = plainBus(plan)
  return plan.disks.flatMap((disk, at): DeviceRemark[] => {
    if (!isParavirtual(disk) || system.paravirtualDisk === 'built in') return []
    const mend: DeviceMend = { what: 'disk', at, changes: { bus: instead } }
    const of = { kind: 'disk', at } as const
    const what = `Disk ${at + 1} (${disk.use})`
    if (system.paravirtualDisk === 'none')
      return [
        {
          trap: 'disk-driver',
          of,
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
          of,
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
            of,
            severity: 'warning',
            sentence: `${what} is paravirtual; whether ${system.name} has a driver for it is not known.`,
            remedy: `Find out and record it on the system, or put the disk on ${instead}.`,
            mend,
          },
        ]
  })
}

export function checkBuses(plan: DevicePlan): DeviceRemark[] {
  const { machineType, firmware } = plan.guest
  return plan.disks.flatMap(({ bus, use, cache }, at): DeviceRemark[] => {
    const of = { kind: 'disk', at } as const
    const move = (to: Disk['bus'], sentence: string, severity: 'error' | 'warning'): DeviceRemark => ({
      trap: 'disk-bus',
      of,
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
              of,
              severity: 'notice' as const,
              sentence: `Disk ${at + 1} (${use}) has a write-back cache: a power failure loses what was not flushed.`,
              remedy: 'Keep it for what can be lost, or for a host with a protected power supply.',
            },
          ]
        : []),
    ]
  })
}
