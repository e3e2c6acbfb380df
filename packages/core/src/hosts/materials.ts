import type { Estate, Host } from '../estate/index.js'
import { formatBytes, formatLabelBytes, formatMiB } from '../units/index.js'
import { drivesIn } from './array.js'
import { moduleView } from './memory-modules.js'
import { portsOf } from './ports.js'

/** One line of what a build needs. */
export interface Material {
  /** Stable word, kept in the host's `atHand` when ticked. */
  readonly key: string
  readonly what: string
  readonly count: number
  /** Of the count, already there by what is recorded. */
  readonly there: number
  readonly isAtHand: boolean
  /** Why it is needed, and how much of it. */
  readonly because: string
  readonly problem?: string
}

/** Sticks are sold in these label capacities, bytes. */
const STICK_SIZES = [8, 16, 32, 64, 128].map((gigabytes) => gigabytes * 1e9)

/** Wired ports under which an adapter is on the list: management wants two. Common practice, no source. */
const FEWEST_WIRED = 2

const media: Readonly<Record<string, string>> = {
  copper: 'Network cable, copper',
  fibre: 'Network cable, fibre, with modules for both ends',
  'direct attach': 'Direct attach cable',
}

/**
 * What has to be at hand before a host is built, derived from its plan. Ports whose cable is recorded as present count as
 * there; other lines are ticked by a person and kept on the host.
 */
export function materialsOf(estate: Estate, host: Host): readonly Material[] {
  if (host.kind === 'nested') return []
  const ticked = new Set((host.atHand ?? '').split(' '))
  const lines: Omit<Material, 'isAtHand'>[] = []
  const ports = portsOf(estate, host)
  const planned = ports.filter(({ role, medium }) => role !== null && medium !== 'wireless')
  for (const [medium, what] of Object.entries(media)) {
    const own = planned.filter((port) => port.medium === medium)
    if (own.length === 0) continue
    lines.push({
      key: `cable-${medium.replace(' ', '-')}`,
      what,
      count: own.length,
      there: own.filter(({ cable }) => cable === 'present').length,
      because: own.map(({ name, role }) => `${name} carries ${role ?? ''}`).join(', '),
    })
  }
  const wired = ports.filter(({ medium }) => medium !== 'wireless').length
  if (ports.length > 0 && wired < FEWEST_WIRED)
    lines.push({
      key: 'network-adapter',
      what: `Network adapter with ${FEWEST_WIRED - wired === 1 ? 'a wired port' : 'two wired ports'}`,
      count: 1,
      there: 0,
      because: `${wired === 1 ? 'there is one wired port' : 'there is no wired port'}; management alone needs ${FEWEST_WIRED}, both active`,
    })
  lines.push({
    key: 'cable-power',
    what: 'Power cable',
    count: host.powerSupplies,
    there: 0,
    because: host.powerSupplies > 1 ? 'one for each power supply, on two circuits where there are two' : 'one power supply',
  })
  lines.push({
    key: 'cable-display',
    what: 'Display cable, screen and keyboard',
    count: 1,
    there: 0,
    because: 'for the installer',
  })
  const image = estate.find('image', host.imageId)
  const fitting = image && STICK_SIZES.find((size) => size >= image.sizeBytes)
  const isTooSmall = image !== undefined && host.stickBytes !== null && host.stickBytes < image.sizeBytes
  lines.push({
    key: 'install-stick',
    what: image ? `Install stick of at least ${formatLabelBytes(fitting ?? image.sizeBytes)}` : 'Install stick',
    count: 1,
    there: 0,
    because: image ? `${image.name} is ${formatBytes(image.sizeBytes)}` : 'no image is chosen yet, so its size is not known',
    ...(isTooSmall ? { problem: `The stick recorded holds ${formatLabelBytes(host.stickBytes)}, less than the image.` } : {}),
  })
  if (host.mounting === 'rack') {
    lines.push({ key: 'rails', what: 'Rails, with their screws or latches', count: 1, there: 0, because: 'it goes into a rack' })
    lines.push({
      key: 'second-person',
      what: 'A second person, or a lift',
      count: 1,
      there: 0,
      because: 'never lift a rack server alone',
    })
  }
  const modules = moduleView(estate, host)
  const toBuy = modules.slots.flatMap(({ module }) => (module?.state === 'planned' ? [module] : []))
  if (toBuy.length > 0)
    lines.push({
      key: 'memory-modules',
      what: 'Memory modules',
      count: toBuy.length,
      there: 0,
      because: toBuy.map(({ slot, sizeMiB }) => `${formatMiB(sizeMiB)} in slot ${slot}`).join(', '),
    })
  if (drivesIn(estate, host).length === 0) lines.push({ key: 'drives', what: 'Drives', count: 1, there: 0, because: 'none is recorded' })
  return lines.map((line) => ({ ...line, isAtHand: line.there >= line.count || ticked.has(line.key) }))
}

/** The host's ticks with one line ticked or not, as `atHand` keeps them. */
export function tickMaterial(host: Host, key: string, isAtHand: boolean): string {
  const ticked = new Set((host.atHand ?? '').split(' ').filter(Boolean))
  if (isAtHand) ticked.add(key)
  else ticked.delete(key)
  return [...ticked].sort().join(' ')
}
