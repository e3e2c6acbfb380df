import type { Migration } from '../estate/index.js'

export type MoveMethod = Migration['method']

/** What a way of copying is, where nothing was measured here. */
export interface MethodFacts {
  /** Bytes a second it can do at the most; undefined: as fast as what it passes. */
  readonly ceiling: number | undefined
  /** Used blocks, used files of the chosen volumes, the provisioned size, or memory. */
  readonly copies: 'used blocks' | 'files' | 'provisioned' | 'memory'
  /** How often everything is carried: to a medium and back is twice. */
  readonly passes: number
  /** Whether the source runs on while it is copied, so that a final pass brings what changed. */
  readonly isRunning: boolean
  /** Minutes of a person between the end of the copy and the service being there again. */
  readonly finish: number
  /** Whether the tool compares what was written with what was read. */
  readonly hasChecksum: boolean
}

/** Common practice, no source: see “Rates to begin with” and “Around it” in the facts of the trade. */
export const methodFacts: Readonly<Record<MoveMethod, MethodFacts>> = {
  live: { ceiling: undefined, copies: 'memory', passes: 1, isRunning: true, finish: 2, hasChecksum: false },
  'cold copy': { ceiling: undefined, copies: 'used blocks', passes: 1, isRunning: false, finish: 10, hasChecksum: false },
  'disk-to-disk over the network': {
    ceiling: 90e6,
    copies: 'provisioned',
    passes: 1,
    isRunning: false,
    finish: 15,
    hasChecksum: true,
  },
  'agent conversion': { ceiling: 60e6, copies: 'files', passes: 1, isRunning: true, finish: 15, hasChecksum: false },
  'image and restore': { ceiling: 80e6, copies: 'used blocks', passes: 2, isRunning: false, finish: 20, hasChecksum: true },
  'export and import': { ceiling: 80e6, copies: 'used blocks', passes: 1, isRunning: false, finish: 10, hasChecksum: true },
  'rebuild and move the data': { ceiling: 30e6, copies: 'files', passes: 1, isRunning: true, finish: 15, hasChecksum: true },
}

/** What a machine in service changes of what it holds in a day, where nothing was measured: 3 %. Common practice, no source. */
export const CHANGED_PER_DAY = 0.03
/** What a busy guest writes of its memory in a second: 1 %. Common practice, no source. */
export const DIRTY_PER_SECOND = 0.01
/** The longest pause of a live move, seconds. Common practice, no source. */
export const PAUSE_SECONDS = 0.5
