import type { Adapter, System } from '../estate/index.js'
import type { DeviceMend, DevicePlan, DeviceRemark } from './device-remark.js'
import { hasKernelDrivers } from './kernel-drivers.js'

export function checkAdapters(plan: DevicePlan, system: System): DeviceRemark[] {
  const instead: Adapter['model'] = system.emulatedNet === 'emulated old' ? 'emulated old' : 'emulated'
  return plan.adapters.flatMap(({ model }, at): DeviceRemark[] => {
    const mend: DeviceMend = { what: 'adapter', at, changes: { model: instead } }
    const of = { kind: 'adapter', at } as const
    const what = `Adapter ${at + 1}`
    if (model === 'emulated' && system.emulatedNet === 'emulated old')
      return [
        {
          trap: 'adapter-driver',
          of,
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
          of,
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
          of,
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
            of,
            severity: 'warning',
            sentence: `${what} is paravirtual; whether ${system.name} has a driver for it is not known.`,
            remedy: `Find out and record it on the system, or choose the ${instead} card.`,
            mend,
          },
        ]
  })
}
