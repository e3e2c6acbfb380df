import { type Drive, type Estate, type Guest, type Host, type Platform, platformOf, type Port } from '../estate/index.js'
import { counted, formatBytes, formatLabelBytes, formatMiB } from '../units/index.js'
import { drivesIn } from './array.js'
import { moduleView } from './memory-modules.js'
import { lacksFor, levelOf, processorLevels } from './processor-level.js'

export type SurveyVerdict = 'supported' | 'supported with remarks' | 'not supported'

/** One thing looked at, with the evidence in the sentence. */
export interface SurveyLine {
  readonly about: 'processor' | 'memory' | 'controllers' | 'drives' | 'ports' | 'firmware' | 'release'
  readonly verdict: 'fits' | 'remark' | 'no'
  readonly sentence: string
}

/** Whether a machine will do for a platform. */
export interface Survey {
  readonly verdict: SurveyVerdict
  readonly lines: readonly SurveyLine[]
}

const fits = (about: SurveyLine['about'], sentence: string): SurveyLine => ({ about, verdict: 'fits', sentence })
const remark = (about: SurveyLine['about'], sentence: string): SurveyLine => ({ about, verdict: 'remark', sentence })
const no = (about: SurveyLine['about'], sentence: string): SurveyLine => ({ about, verdict: 'no', sentence })
const words = (text: string | null) => (text ? text.split(' ') : [])

/**
 * Whether a host's hardware will do for a platform: its own, or one it might be moved to. What is not recorded is a
 * remark, never a yes.
 *
 * @param today the day the release is held against, `YYYY-MM-DD`
 */
export function surveyHost(estate: Estate, host: Host, today: string, platform: Platform = platformOf(estate, host)): Survey {
  const lines = [
    ...surveyProcessor(host, platform),
    ...surveyMemory(estate, host, platform),
    ...surveyControllers(estate, host, platform),
    ...(host.kind === 'nested'
      ? surveyOuterGuest(estate, host, platform)
      : [...surveyDrives(drivesIn(estate, host), platform), ...surveyPorts(estate.referring('port', 'hostId', host.id), platform)]),
    ...surveyFirmware(host),
    ...surveyRelease(platform, today),
  ]
  return { verdict: verdictOf(lines), lines }
}

function verdictOf(lines: readonly SurveyLine[]): SurveyVerdict {
  if (lines.some(({ verdict }) => verdict === 'no')) return 'not supported'
  return lines.some(({ verdict }) => verdict === 'remark') ? 'supported with remarks' : 'supported'
}

function surveyProcessor(host: Host, platform: Platform): SurveyLine[] {
  if (!host.cpuFlags) return [remark('processor', `The processor’s flags are not recorded; ${platform.name} needs ${platform.minLevel}.`)]
  const lacks = lacksFor(platform.minLevel, host.cpuFlags)
  const { level } = levelOf(host.cpuFlags)
  const lines: SurveyLine[] = []
  if (lacks.length > 0)
    lines.push(no('processor', `${platform.name} needs ${platform.minLevel}; this processor lacks ${lacks.join(', ')}.`))
  else {
    const above = level && processorLevels.indexOf(level) > processorLevels.indexOf(platform.minLevel)
    lines.push(
      fits(
        'processor',
        `The processor is ${level ?? 'below x86-64-v1'}; ${platform.name} needs ${platform.minLevel}${above ? ' or above' : ''}.`,
      ),
    )
  }
  const has = new Set(words(host.cpuFlags))
  for (const wanted of words(platform.requiredFlags)) {
    const either = wanted.split('|')
    if (!either.some((flag) => has.has(flag)))
      lines.push(
        no(
          'processor',
          `${platform.name} needs the flag ${either.join(' or ')}; this processor does not show it (virtualisation may be switched off in the firmware).`,
        ),
      )
  }
  return lines
}

function surveyMemory(estate: Estate, host: Host, platform: Platform): SurveyLine[] {
  const { remarks } = moduleView(estate, host)
  const line =
    host.memoryMiB < platform.minMemoryMiB
      ? no('memory', `${platform.name} needs ${formatMiB(platform.minMemoryMiB)} of memory; ${formatMiB(host.memoryMiB)} is usable.`)
      : fits('memory', `${formatMiB(host.memoryMiB)} of memory is usable; ${platform.name} needs ${formatMiB(platform.minMemoryMiB)}.`)
  return [line, ...remarks.map((sentence) => remark('memory', sentence))]
}

function surveyControllers(estate: Estate, host: Host, platform: Platform): SurveyLine[] {
  const supported = words(platform.controllers)
  const used = new Set([...words(host.controllers), ...drivesIn(estate, host).flatMap(({ controller }) => controller ?? [])])
  if (supported.length === 0) return []
  if (used.size === 0)
    return [remark('controllers', `The storage controllers are not recorded; ${platform.name} knows ${supported.join(', ')}.`)]
  return [...used].map((driver) =>
    supported.includes(driver)
      ? fits('controllers', `Controller ${driver} is supported.`)
      : no('controllers', `Controller ${driver} is not supported by ${platform.name}, which knows ${supported.join(', ')}.`),
  )
}

function surveyDrives(drives: readonly Drive[], platform: Platform): SurveyLine[] {
  if (drives.length === 0) return [remark('drives', 'No drive is recorded, so there is nothing to install on.')]
  const enough = drives.filter(({ labelBytes }) => labelBytes >= platform.minDriveBytes)
  if (enough.length === 0)
    return [
      no(
        'drives',
        `${platform.name} needs a drive of ${formatLabelBytes(platform.minDriveBytes)}; the largest is ${formatLabelBytes(Math.max(...drives.map((d) => d.labelBytes)))}.`,
      ),
    ]
  const target = drives.filter(({ use }) => use === 'install')
  const small = target.find(({ labelBytes }) => labelBytes < platform.minDriveBytes)
  if (small)
    return [
      no(
        'drives',
        `The install disk in bay ${small.position} holds ${formatLabelBytes(small.labelBytes)}; ${platform.name} needs ${formatLabelBytes(platform.minDriveBytes)}.`,
      ),
    ]
  if (target.length === 0) return [remark('drives', 'No drive is named as the install disk yet.')]
  return [
    fits(
      'drives',
      `Install disk: ${target.map(({ position, labelBytes }) => `bay ${position}, ${formatLabelBytes(labelBytes)}`).join(' and ')}.`,
    ),
    ...(drives.length >= 3 && target.length === 1
      ? [remark('drives', 'The install disk is a single drive; the usual build mirrors two small ones (common practice).')]
      : []),
  ]
}

/** A nested host is installed on its guest's disks and reaches the world by its guest's adapters. */
function surveyOuterGuest(estate: Estate, host: Host, platform: Platform): SurveyLine[] {
  const guest = estate.find('guest', host.outerGuestId)
  if (!guest) return []
  const largest = Math.max(0, ...estate.referring('disk', 'guestId', guest.id).map(({ sizeBytes }) => sizeBytes))
  const adapters = estate.referring('adapter', 'guestId', guest.id).filter(({ networkId }) => networkId)
  return [
    largest < platform.minDriveBytes
      ? no(
          'drives',
          `${platform.name} needs a disk of ${formatBytes(platform.minDriveBytes)}; the largest of guest ${guest.name} is ${formatBytes(largest)}.`,
        )
      : fits('drives', `It is installed on the disks of guest ${guest.name}.`),
    adapters.length === 0
      ? remark('ports', `Guest ${guest.name} has no adapter that is plugged in.`)
      : fits('ports', `It is connected through ${counted(adapters.length, 'adapter')} of guest ${guest.name}.`),
  ]
}

function surveyPorts(ports: readonly Port[], platform: Platform): SurveyLine[] {
  const wired = ports.filter(({ medium }) => medium !== 'wireless')
  if (ports.length === 0) return [remark('ports', 'No network port is recorded.')]
  const supported = words(platform.portDrivers)
  const lines: SurveyLine[] = []
  for (const port of ports)
    if (port.medium === 'wireless')
      lines.push(
        remark(
          'ports',
          `${port.name} is Wi-Fi: it cannot be used for management or a bridge (a station’s frames have three addresses, IEEE 802.11).`,
        ),
      )
    else if (supported.length > 0 && port.driver && !supported.includes(port.driver))
      lines.push(
        no(
          'ports',
          `${port.name} needs the driver ${port.driver}, which ${platform.name} does not have; it knows ${supported.join(', ')}.`,
        ),
      )
  if (wired.length === 0) lines.push(no('ports', 'There is no wired port, and Wi-Fi cannot be used for management.'))
  else if (wired.every(({ cable }) => cable === 'missing'))
    lines.push(remark('ports', 'No port has a cable: the installer would find no network and assign itself an address.'))
  else
    lines.push(
      fits(
        'ports',
        `${wired.length} wired ${wired.length === 1 ? 'port' : 'ports'}, ${wired.filter(({ cable }) => cable === 'present').length} with a cable.`,
      ),
    )
  const unknown = wired.filter(({ driver }) => !driver)
  if (supported.length > 0 && unknown.length > 0)
    lines.push(
      remark(
        'ports',
        `The driver of ${unknown.map(({ name }) => name).join(', ')} is not recorded; ${platform.name} knows ${supported.join(', ')}.`,
      ),
    )
  return lines
}

function surveyFirmware(host: Host): SurveyLine[] {
  if (!host.firmware)
    return [
      remark('firmware', 'The firmware mode is not recorded: choose UEFI or BIOS before the install: changing it later stops the boot.'),
    ]
  return [fits('firmware', `Boots by ${host.firmware}${host.secureBoot ? `, secure boot ${host.secureBoot}` : ''}.`)]
}

function surveyRelease(platform: Platform, today: string): SurveyLine[] {
  if (platform.supportedUntil && platform.supportedUntil < today)
    return [no('release', `${platform.name} has had no support since ${platform.supportedUntil}.`)]
  if (platform.releasedOn && platform.releasedOn > today)
    return [remark('release', `${platform.name} is released on ${platform.releasedOn}.`)]
  return platform.supportedUntil ? [fits('release', `${platform.name} is supported until ${platform.supportedUntil}.`)] : []
}

/** One physical layer around a nested host: the guest it is, and what that costs the host outside. */
export interface NestingLayer {
  readonly outer: Host
  readonly guestName: string
  readonly vcpu: number
  readonly memoryMiB: number
}

/** The layers around a nested host, from the innermost to the physical host; empty for a physical host. */
export function nestingOf(estate: Estate, host: Host): readonly NestingLayer[] {
  const layers: NestingLayer[] = []
  const seen = new Set<string>()
  let at: Host | undefined = host
  while (at.outerGuestId && !seen.has(at.id)) {
    seen.add(at.id)
    const guest: Guest | undefined = estate.find('guest', at.outerGuestId)
    const outer: Host | undefined = estate.find('host', guest?.hostId)
    if (!guest || !outer) break
    layers.push({ outer, guestName: guest.name, vcpu: guest.vcpu, memoryMiB: guest.memoryMiB })
    at = outer
  }
  return layers
}
