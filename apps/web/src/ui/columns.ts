import type { ReactNode } from 'react'

/** A column: its heading, the value it sorts by, and what it shows. */
export interface Column<T> {
  readonly id: string
  readonly header: string
  readonly value: (row: T) => string | number
  readonly cell?: (row: T) => ReactNode
  readonly isNumber?: boolean
  /** Only shown when chosen. */
  readonly isExtra?: boolean
  /** Heading in CSV, with the unit of the bare number. */
  readonly csvHeader?: string
  /** The value in CSV, where it is not the one it sorts by. */
  readonly csvValue?: (row: T) => string | number
}

/** The columns of a list that says of everything it could show whether it has one. */
export const shownColumns = <T>(columns: Readonly<Record<string, Column<T> | null>>): readonly Column<T>[] =>
  Object.values(columns).filter((column) => column !== null)
