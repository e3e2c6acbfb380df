import { touchedRecords, type Difference, type RecordEntry } from './difference.js'
import { entryOf, ownersOf } from './differing.js'
import type { Estate } from './estate.js'
import type { Acceptance, Guest, Kind } from './kinds/index.js'

const ID = /[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}/g

/**
 * What a change is about: the records it touched, and those they are parts of or belong to, up to the machine: an address is about its
 * adapter and its guest, a step about its sheet and its host. What was before counts as what is now: a disk that went was its guest's.
 *
 * @param before the estate as it was, in which what was removed has its place
 * @param after the estate as it is
 * @returns their ids, each once
 * @example aboutOf(difference, before, after) // for a ticked step: [step, sheet, host]
 */
export function aboutOf(difference: Difference, before: Estate, after: Estate): readonly string[] {
  const about = new Set<string>()
  const follow = (entry: RecordEntry) => {
    about.add(entry.record.id)
    for (const owner of ownersOf(before, after, entry, OWNERS[entry.kind])) if (!about.has(owner.record.id)) follow(owner)
  }
  for (const entry of touchedRecords(difference)) {
    follow(entry)
    const { kind, record, changed } = entry
    // A guest is no part of its host, but that it came or went is of both hosts.
    const { hostId } = record as Partial<Guest>
    if (kind === 'guest' && hostId && (changed === undefined || changed.includes('hostId'))) about.add(hostId)
    // What was accepted is about what the finding is on.
    if (kind === 'acceptance') for (const [id] of (record as Acceptance).finding.matchAll(ID)) entryOf(before, after, id).forEach(follow)
  }
  return [...about]
}

/** Whose history tells of a record that is no part of it. */
const OWNERS: Partial<Record<Kind, readonly string[]>> = {
  entry: ['hostId', 'guestId'],
  migration: ['guestId', 'fromHostId', 'toHostId', 'becomesId'],
  leftover: ['migrationId', 'guestId'],
  copy: ['batchId', 'guestId'],
  attachment: ['hostId', 'networkId', 'switchId'],
  deviation: ['hostId', 'guestId'],
}
