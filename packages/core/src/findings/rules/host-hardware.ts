import type { Estate, Host } from '../../estate/index.js'
import { circuitLoads, CONTINUOUS_SHARE, ELECTRICAL_CAUTION, moduleView, rolePlan, surveyHost } from '../../hosts/index.js'
import { formatNumber } from '../../units/index.js'
import { defineRule } from '../rule.js'

/** Hardware that the host's platform does not support. The end of support has its own rule. */
export const hostNotSupported = defineRule({
  id: 'host.not-supported',
  title: 'Hardware not supported by the platform',
  appliesTo: 'host',
  reads: [
    '> platformId',
    '< drive.hostId',
    '< port.hostId',
    '< module.hostId',
    // Of a host that runs in a guest, the guest's devices are its hardware.
    '> outerGuestId < disk.guestId',
    '> outerGuestId < adapter.guestId',
  ],
  check(estate, host, _, today) {
    if (host.state === 'retired') return []
    const against = surveyHost(estate, host, today).lines.filter(({ verdict, about }) => verdict === 'no' && about !== 'release')
    const [first] = against
    if (!first) return []
    return [
      {
        severity: 'error',
        sentence: `${host.name}: ${first.sentence}${against.length > 1 ? ` And ${against.length - 1} more.` : ''}`,
        evidence: against.map(({ about, sentence }) => ({ label: about, value: sentence })),
        remedy: 'Change the hardware, choose another platform, or correct what is recorded.',
      },
    ]
  },
})

/** Memory modules that do not go together, or do not add up to what is usable. */
export const hostModules = defineRule({
  id: 'host.memory-modules',
  title: 'Mismatched memory modules',
  appliesTo: 'host',
  reads: ['< module.hostId'],
  check(estate, host) {
    const { remarks, fittedMiB } = moduleView(estate, host)
    const [first] = remarks
    return first
      ? [
          {
            severity: 'notice',
            sentence: `${host.name}: ${first}`,
            evidence: [
              { label: 'fitted', value: fittedMiB, unit: 'MiB' as const },
              { label: 'usable', value: host.memoryMiB, unit: 'MiB' as const },
            ],
            remedy: 'Fit matching modules in the slots the board’s manual names, or correct the record.',
          },
        ]
      : []
  },
})

/** Management that depends on one uplink. */
export const hostOneUplink = defineRule({
  id: 'host.one-management-uplink',
  title: 'One uplink for management',
  appliesTo: 'host',
  reads: ['< port.hostId'],
  check(estate, host) {
    if (host.kind === 'nested' || host.state === 'retired') return []
    const management = rolePlan(estate, host).find(({ role }) => role === 'management')
    if (management?.ports.length !== 1) return []
    return [
      {
        severity: 'notice',
        sentence: `Management of ${host.name} has only one uplink, ${management.ports[0]?.name ?? ''}.`,
        evidence: [{ label: 'uplinks', value: 1 }],
        remedy: 'Give a second port the management role, both active, on two switches where there are two.',
      },
    ]
  },
})

const sameCircuit = (estate: Estate, host: Host): readonly string[] =>
  host.circuit ? estate.all('host').flatMap((other) => (other.circuit === host.circuit && other.site === host.site ? [other.id] : [])) : []

/** More continuous load on a circuit than codes commonly allow. */
export const circuitOverload = defineRule({
  id: 'circuit.over-load',
  title: 'Circuit over its continuous load',
  appliesTo: 'host',
  again: { host: sameCircuit },
  check(estate, host) {
    if (!host.circuit) return []
    // The circuit is reported on the first of its hosts only.
    if (sameCircuit(estate, host).some((id) => id < host.id)) return []
    const load = circuitLoads(estate).find(({ circuit, site }) => circuit === host.circuit && site === host.site)
    if (!load?.ratedWatts || load.share === undefined || load.share <= CONTINUOUS_SHARE) return []
    return [
      {
        severity: load.share > 1 ? 'error' : 'warning',
        sentence: `Circuit ${load.circuit} at ${load.site} carries ${formatNumber(load.watts, 0)} W, ${formatNumber(load.share * 100, 0)} % of its ${formatNumber(load.ratedWatts, 0)} W: ${load.hosts.map(({ name }) => name).join(', ')}.`,
        evidence: [
          { label: 'load', value: load.watts, unit: 'W' },
          { label: 'rating', value: load.ratedWatts, unit: 'W' },
        ],
        remedy: `Spread the hosts over more circuits. ${ELECTRICAL_CAUTION}`,
      },
    ]
  },
})
