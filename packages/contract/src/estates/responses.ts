import type { Difference, FieldProblem, FindingsChange, Records, SaidCommand } from '@insel/core'

/** One of the estates on this server. */
export interface EstateSummary {
  readonly id: string
  readonly name: string
  readonly revision: number
  readonly updatedAt: string
  /** Since when it is kept to be read only. */
  readonly archivedAt: string | null
}

/** An estate that is no longer there. */
export type EstateRemoved = Pick<EstateSummary, 'id' | 'name'>

/** The revision of an estate. A revision alone identifies a version only within an epoch: a restored backup counts on from an older one. */
export interface Standing {
  readonly revision: number
  /** Changes when the database is restored from a backup. */
  readonly epoch: string
}
/** An event: an estate has a new revision. */
export interface RevisionEvent extends Standing {
  readonly estateId: string
}

/** The most estates of which one stream of events tells. */
export const EVENT_ESTATES_MAX = 50

/** All records at a revision. */
export interface RecordsResponse extends Standing {
  readonly records: Records
}
/** What changed since a revision. */
export interface DifferenceResponse extends Standing {
  readonly difference: Difference
}

/** What commands did, or with `dryRun` would do. */
export interface CommandsResponse extends Pick<Standing, 'epoch'> {
  /** The estate's revision after them; with `dryRun`, the one it has. */
  readonly revision: number
  readonly difference: Difference
  readonly findings: FindingsChange
}

/** A command, or the taking back of an earlier change. */
export type LoggedCommand = SaidCommand

/** One entry of the logbook. */
export interface Change {
  readonly revision: number
  readonly at: string
  readonly actor: { readonly id: string; readonly name: string }
  readonly commands: readonly LoggedCommand[]
  readonly difference: Difference
  /** The revision of the change that took this one back, if one did. */
  readonly revertedBy: number | null
  /** How many commands, and how many of the records it touched, are not here since `most` was asked for. */
  readonly leftOut: { readonly commands: number; readonly records: number }
}

/** A page of the logbook, newest first. */
export interface ChangesPage {
  readonly changes: readonly Change[]
  /** Ask for changes before this revision to go on; null at the end. */
  readonly nextBefore: number | null
}

/** A page of a list for scripts. */
export interface ListPage<T = unknown> {
  readonly revision: number
  readonly total: number
  readonly items: readonly T[]
  readonly nextOffset: number | null
}

/** A one-time code for a collector, and the line that runs it. */
export interface CollectionStarted {
  readonly id: string
  readonly code: string
  readonly expiresAt: string
  readonly command: string
}
/** A text that a collector sent. */
export interface CollectionSummary {
  readonly id: string
  readonly receivedAt: string
}
export interface CollectionText extends CollectionSummary {
  readonly text: string
}

/** What is wrong with a request: RFC 9457, with a stable code and every field's problem. */
export interface Problem {
  readonly type: string
  readonly title: string
  readonly status: number
  readonly code: string
  readonly detail: string
  readonly errors: readonly FieldProblem[]
  /** With 409: the changes that came in between. */
  readonly meanwhile?: readonly {
    readonly revision: number
    readonly actor: string
    readonly at: string
    readonly records: readonly string[]
  }[]
}

/** The header that names the person who records. */
export const PERSON_HEADER = 'insel-person'
/** Says when something was done, in a request to a server that takes a story in; any other does not listen to it. */
export const STORY_HEADER = 'insel-story-at'
/** An id that the sender makes up for what it sends, so that the same sent again is done once. */
export const SUBMISSION_HEADER = 'insel-submission'
/** The header with the one-time code of a collector. */
export const CODE_HEADER = 'insel-code'
/** The header with the key of a guest that sends observations. */
export const KEY_HEADER = 'insel-key'
/** The media type of a whole estate as a file. */
export const ESTATE_TYPE = 'application/vnd.insel.estate+json'

/** `GET server`: what a page says of the server it comes from. */
export interface ServerInfo {
  /** It listens beyond its own machine: whoever reaches it may read and change everything. */
  readonly isOpenToNetwork: boolean
}

/** The media type of a problem (RFC 9457). */
export const PROBLEM_TYPE = 'application/problem+json'
