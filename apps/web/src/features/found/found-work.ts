import type { Command, ComparedLine, Estate, FoundHost, RedfishTree } from '@insel/core'
import type { ReactNode } from 'react'
import type { MachineRef } from '../../lib/machines-api'

/** What was taken in: the text, where it came from, and for a controller which of its systems is meant. */
export interface Taken {
  readonly text: string
  readonly source: string
  readonly tree?: RedfishTree
  readonly system?: string
}

/** The machine whose findings are looked at, and how they are held against its plan. The same object from render to render. */
export interface FoundWork {
  readonly of: MachineRef
  readonly name: string
  readonly compare: (estate: Estate, found: FoundHost) => readonly ComparedLine[]
  readonly takeOver: (estate: Estate, lines: readonly ComparedLine[], all: readonly ComparedLine[]) => readonly Command[]
  /** Further ways for texts to come in. */
  readonly more?: (take: (taken: Taken) => void) => ReactNode
}
