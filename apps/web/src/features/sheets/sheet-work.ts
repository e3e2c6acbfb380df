import type { Command, Sheet, SheetSubject, Step, StepTool as Tool } from '@insel/core'
import type { ReactNode } from 'react'

/** What a sheet is of, and what its work is called. */
export interface SheetWork {
  readonly of: SheetSubject
  readonly id: string
  readonly name: string
  /** What is done by the sheet; setting up, when left out. */
  readonly kind?: Sheet['work']
  /** Title of the printed page. */
  readonly title: string
  readonly words: { readonly done: string; readonly doing: string; readonly start: string; readonly work: string; readonly again: string }
  /** Recorded with the start of the work. */
  readonly onStart?: readonly Command[]
  /** Recorded with the last step, in place of the bare end of the sheet. */
  readonly onFinish?: (sheet: Sheet, states: ReadonlyMap<string, Step['state']>, at: string) => readonly Command[]
  /** Offered once the sheet is finished. */
  readonly next?: { readonly label: string; readonly commands: readonly Command[] } | undefined
  readonly tool: (tool: Tool, allow: (isAllowed: boolean) => void) => ReactNode
}
