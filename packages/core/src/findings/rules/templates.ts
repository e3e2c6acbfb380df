import { fullOn, takenBytes, storeGrowth, storeSpace } from '../../capacity/index.js'
import {
  cleaning,
  identityKeyOf,
  newerVersionOf,
  newerVersions,
  olderVersions,
  partsLeft,
  sharersOf,
  templateOf,
} from '../../clones/index.js'
import { adaptersOf, daysBetween, disksOf, isPoweredOn, type Estate, type Guest, type Template } from '../../estate/index.js'
import { counted, formatBytes } from '../../units/index.js'
import { storesWithOtherRoom } from './again.js'
import { defineRule } from '../rule.js'

/** A guest's versions as a template, and those that came after it: it is not the newest any more then. */
const VERSIONS = ['< template.guestId', '< template.supersedesId']

/** The version of a guest that copies are made of; undefined where it is no template, or was withdrawn. */
function inUse(estate: Estate, guest: Guest): { readonly version: Template | undefined } | undefined {
  if (guest.kind !== 'template' || guest.state === 'retired') return undefined
  const version = templateOf(estate, guest.id)
  return version?.withdrawnOn || newerVersionOf(estate, guest.id) ? undefined : { version }
}

/** A template without the updates of the last weeks: every copy starts with what they mend. Days by policy; common practice, no source. */
export const templateNotPatched = defineRule({
  id: 'template.not-patched',
  title: 'Template not patched',
  appliesTo: 'guest',
  measure: { evidence: 'last patched before', worse: 'more' },
  reads: VERSIONS,
  check(estate, guest, policy, today) {
    const used = inUse(estate, guest)
    if (!used) return []
    const { version } = used
    const remedy = 'Renew it by its template sheet: boot, patch, generalise, shut down.'
    if (!version?.patchedOn)
      return [
        {
          severity: 'notice',
          sentence: `When ${guest.name} was last patched is not recorded.`,
          evidence: [{ label: 'last patched', value: 'not recorded' }],
          remedy,
        },
      ]
    const days = daysBetween(version.patchedOn, today)
    if (days <= policy.templatePatchDays) return []
    return [
      {
        severity: 'warning',
        sentence: `${guest.name} was last patched ${counted(days, 'day')} ago; its copies start without what was released since.`,
        evidence: [
          { label: 'last patched before', value: days, unit: 'days' },
          { label: 'policy', value: policy.templatePatchDays, unit: 'days' },
        ],
        remedy,
      },
    ]
  },
})

/** A template that still has what makes it itself: machine-id(5), host keys, machine name; or of which nobody knows. */
export const templateNotGeneralised = defineRule({
  id: 'template.not-generalised',
  title: 'Template not generalised',
  appliesTo: 'guest',
  reads: [...VERSIONS, '> systemId'],
  check(estate, guest) {
    const used = inUse(estate, guest)
    if (!used) return []
    const left = [
      ...partsLeft(used.version, estate.find('system', guest.systemId)),
      ...cleaning.filter(({ field }) => used.version?.[field] !== 'yes'),
    ]
    if (left.length === 0) return []
    const known = left.filter(({ field }) => used.version?.[field] === 'no')
    return [
      {
        severity: known.length > 0 ? 'warning' : 'notice',
        sentence:
          known.length > 0
            ? `${guest.name} still has its ${known.map(({ label }) => label).join(', ')}: every copy starts with them.`
            : `${guest.name} is not recorded as free of its ${left.map(({ label }) => label).join(', ')}.`,
        evidence: left.map(({ field, label }) => ({ label, value: used.version?.[field] ?? 'unknown' })),
        remedy: 'Generalise it by its template sheet and record what was removed; until then, boot each copy isolated first.',
      },
    ]
  },
})

/** A template that runs though nobody is at it, and a medium that every copy would have attached. Common practice, no source. */
export const templateNotAtRest = defineRule({
  id: 'template.not-at-rest',
  title: 'Template not ready to be copied',
  appliesTo: 'guest',
  reads: ['< template.guestId', '< sheet.guestId', '> mediumId'],
  check(estate, guest) {
    if (guest.kind !== 'template') return []
    const isWorkedOn = estate
      .referring('sheet', 'guestId', guest.id)
      .some(({ work, finishedAt }) => work === 'renewal' && finishedAt === null)
    if (isWorkedOn) return []
    const medium = estate.find('image', guest.mediumId)
    if (isPoweredOn(guest))
      return [
        {
          severity: 'warning',
          sentence: `${guest.name} is running, and no template sheet of it is under way: a copy made now would be only crash-consistent.`,
          evidence: [{ label: 'state', value: guest.state }],
          remedy: 'Shut it down and generalise it once more, since a boot gave it an identity.',
        },
      ]
    if (!medium) return []
    return [
      {
        severity: 'notice',
        sentence: `${guest.name} has ${medium.name} attached: its copies may boot from it.`,
        evidence: [{ label: 'medium', value: medium.name }],
        remedy: 'Eject the medium, and put the disk first in the boot order.',
      },
    ]
  },
})

const templatesIn = (estate: Estate): readonly Guest[] => estate.all('guest').filter(({ kind }) => kind === 'template')

/** The templates that have a disk on one of some stores: few, whatever else is there. */
const templatesOn = (estate: Estate, storeIds: readonly string[]): readonly string[] =>
  storeIds.length === 0
    ? []
    : estate
        .derive(['guest'], templatesIn)
        .filter(({ id }) => disksOf(estate, id).some(({ storeId }) => storeId !== null && storeIds.includes(storeId)))
        .map(({ id }) => id)

/** The store of a template has no room for one more copy of it, or soon will not. */
export const templateStoreFull = defineRule({
  id: 'template.store-full',
  title: 'No room for a copy beside its template',
  appliesTo: 'guest',
  reads: ['< template.guestId'],
  again: {
    store: (estate, { id }) => templatesOn(estate, [id]),
    disk: (estate, disk) => [disk.guestId, ...templatesOn(estate, storesWithOtherRoom.disk(estate, disk))],
    snapshot: (estate, snapshot) => templatesOn(estate, storesWithOtherRoom.snapshot(estate, snapshot)),
    image: (estate, image) => templatesOn(estate, storesWithOtherRoom.image(estate, image)),
    leftover: (estate, leftover) => templatesOn(estate, storesWithOtherRoom.leftover(estate, leftover)),
    migration: (estate, move) => templatesOn(estate, storesWithOtherRoom.migration(estate, move)),
    volume: (estate, volume) => templatesOn(estate, storesWithOtherRoom.volume(estate, volume)),
  },
  check(estate, guest, policy, today) {
    if (!inUse(estate, guest)) return []
    const bytes = new Map<string, number>()
    for (const disk of disksOf(estate, guest.id))
      if (disk.storeId) bytes.set(disk.storeId, (bytes.get(disk.storeId) ?? 0) + takenBytes(disk))
    return [...bytes].flatMap(([storeId, needed]) => {
      const store = estate.find('store', storeId)
      if (!store) return []
      const { freeBytes } = storeSpace(estate, store)
      const days = storeGrowth(estate, store).daysToFull
      const isSoon = days !== undefined && days <= policy.storeFullDays
      if (freeBytes >= needed && !isSoon) return []
      return [
        {
          apart: storeId,
          severity: 'warning' as const,
          sentence:
            freeBytes < needed
              ? `${store.name} has ${formatBytes(freeBytes)} free; a copy of ${guest.name} beside it takes ${formatBytes(needed)}.`
              : `${store.name}, where ${guest.name} is, is full in ${counted(fullOn(days ?? 0, today).days, 'day')} at its growth.`,
          evidence: [
            { label: 'free', value: freeBytes, unit: 'bytes' as const },
            { label: 'a copy takes', value: needed, unit: 'bytes' as const },
          ],
          remedy: 'Put copies on another store, or make room on this one.',
        },
      ]
    })
  },
})

/** How many versions newer than the one a copy was made of there are, and the newest template. */
function behind(estate: Estate, copy: Guest, source: Guest): { readonly count: number; readonly newest: Guest } {
  const isOfOlder = copy.clonedVersion !== null && templateOf(estate, source.id)?.version !== copy.clonedVersion
  const newer = newerVersions(estate, source.id)
  return { count: Number(isOfOlder) + newer.length, newest: newer.at(-1) ?? source }
}

/** The copies of a template, and of those that it superseded. */
function copiesOf(estate: Estate, { guestId, supersedesId }: Template): readonly string[] {
  const older = supersedesId ? [supersedesId, ...olderVersions(estate, supersedesId).map(({ id }) => id)] : []
  return [guestId, ...older].flatMap((id) => estate.referring('guest', 'clonedFromId', id).map((copy) => copy.id))
}

/** A copy of a version that was withdrawn, or one that is several versions older than its template. */
export const copyOfOldVersion = defineRule({
  id: 'guest.old-version',
  title: 'Copy of an old version',
  appliesTo: 'guest',
  again: { template: copiesOf },
  check(estate, guest, policy) {
    const source = estate.find('guest', guest.clonedFromId)
    if (!source || guest.kind !== 'machine' || guest.state === 'retired') return []
    const version = templateOf(estate, source.id)
    if (!version) return []
    const isOfIt = guest.clonedVersion === null || guest.clonedVersion === version.version
    const evidence = [
      { label: 'made of', value: `${source.name}, version ${guest.clonedVersion ?? version.version}` },
      ...(version.withdrawnOn ? [{ label: 'withdrawn', value: version.withdrawnOn }] : []),
    ]
    if (version.withdrawnOn && isOfIt)
      return [
        {
          severity: 'warning',
          sentence: `${guest.name} was made of version ${version.version} of ${source.name}, withdrawn since ${version.withdrawnOn}${version.withdrawnFor ? `: ${version.withdrawnFor}` : ''}.`,
          evidence,
          remedy: 'Mend in it what the version was withdrawn for, or replace it by a copy of a newer one.',
        },
      ]
    const { count, newest } = behind(estate, guest, source)
    if (count < policy.templateVersionsBehind) return []
    return [
      {
        severity: 'notice',
        sentence: `${guest.name} is ${counted(count, 'version')} older than its template, which is now ${newest.name}.`,
        evidence: [...evidence, { label: 'versions behind', value: count }],
        remedy: 'Bring into it what the newer versions changed, or replace it at the next occasion.',
      },
    ]
  },
})

/** Fields of a guest on which it depends whether it meets others under one identity; those of its identity besides. */
const TELLING = new Set(['state', 'kind'])

const segmentsOf = (estate: Estate, guest: Guest): ReadonlySet<string> =>
  new Set(adaptersOf(estate, guest.id).flatMap(({ networkId, isConnected }) => (networkId && isConnected ? [networkId] : [])))

/**
 * Two machines with one identity that are powered on in one network: leases, logins and monitoring take them for one. machine-id(5), and
 * host keys: common practice, no source.
 */
export const sharedIdentity = defineRule({
  id: 'guest.shared-identity',
  title: 'Two machines with one identity',
  appliesTo: 'guest',
  again: {
    guest(estate, guest, changed) {
      // One that comes or goes switched off meets nobody: a list of copies does not look at each of them for each other.
      if (!changed) return isPoweredOn(guest) ? sharersOf(estate, guest).map(({ id }) => id) : []
      if (changed.some((field) => field.startsWith('identity'))) return 'all'
      return changed.some((field) => TELLING.has(field)) ? sharersOf(estate, guest).map(({ id }) => id) : []
    },
    adapter(estate, { guestId }) {
      const guest = estate.find('guest', guestId)
      return guest && isPoweredOn(guest) ? [guest.id, ...sharersOf(estate, guest).map(({ id }) => id)] : [guestId]
    },
  },
  check: (estate, guest) => {
    const other = clashOf(estate, guest)
    if (!other) return []
    const networks = [...segmentsOf(estate, guest)].filter((id) => segmentsOf(estate, other).has(id))
    const where = networks.map((id) => estate.find('network', id)?.name ?? id).join(' and ')
    return [
      {
        severity: 'error',
        sentence: `${guest.name} and ${other.name} share an identity and are both powered on in ${where}.`,
        evidence: [
          { label: 'first', value: other.name },
          { label: 'second', value: guest.name },
          { label: 'network', value: where },
        ],
        remedy: `Disconnect ${guest.name}, give it a machine identity, host keys and a name of its own, then record its identity as its own.`,
      },
    ]
  },
})

/** The machine that one with a copied identity meets under it in a network. */
export function clashOf(estate: Estate, guest: Guest): Guest | undefined {
  if (guest.identity !== 'copied' || guest.kind !== 'machine' || !isPoweredOn(guest)) return undefined
  const own = segmentsOf(estate, guest)
  return sharersOf(estate, guest)
    .filter((other) => isPoweredOn(other) && (other.identity !== 'copied' || other.id < guest.id))
    .filter((other) => [...segmentsOf(estate, other)].some((id) => own.has(id)))
    .sort((a, b) => Number(identityKeyOf(b) === b.id) - Number(identityKeyOf(a) === a.id) || (a.id < b.id ? -1 : 1))[0]
}
