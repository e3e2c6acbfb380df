import type { Guest, Host } from '../estate/index.js'
import { lacksFor, levelOf, processorLevels, type ProcessorLevel } from '../hosts/index.js'
import type { DevicePlan, DeviceRemark } from './device-remark.js'

export function checkProcessor({ guest }: DevicePlan, host: Host): DeviceRemark[] {
  const remarks: DeviceRemark[] = []
  if (guest.processorMode !== 'host' && host.cpuFlags) {
    const lacks = lacksFor(guest.processorMode, host.cpuFlags)
    const { level } = levelOf(host.cpuFlags)
    if (lacks.length > 0)
      remarks.push({
        trap: 'processor-mode',
        of: 'guest',
        severity: 'error',
        sentence: `${host.name} is at ${level ?? 'no level'} and lacks ${lacks.slice(0, 4).join(', ')}${lacks.length > 4 ? ' and more' : ''} for ${guest.processorMode}: the guest does not start.`,
        remedy: level ? `Choose ${level}, or host.` : 'Choose host, or another host.',
        mend: { what: 'guest', changes: { processorMode: level ?? 'host' } },
      })
  }
  if (host.sockets > 1 && guest.vcpu > host.coresPerSocket && guest.sockets === 1)
    remarks.push({
      trap: 'numa',
      of: 'guest',
      severity: 'notice',
      sentence: `${guest.vcpu} vCPU in one socket span two of ${host.name}’s ${host.coresPerSocket}-core processors: half its memory is remote, and it cannot tell.`,
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
          ? 'every feature and full speed; live migration only between like processors'
          : `features above ${mode} are hidden; live migration to every host at or above it`,
    }
  })
}
