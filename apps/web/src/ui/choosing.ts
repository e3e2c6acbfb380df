import type { Ref } from 'react'

/** One of many: its value, and what it is called. */
export type Option<V extends string = string> = readonly [value: V, label: string]

/** What the field itself takes, whichever it is. */
export interface FieldProps {
  readonly id?: string
  readonly name?: string
  readonly title?: string
  readonly onBlur?: (event: never) => unknown
  readonly disabled?: boolean
  readonly ref?: Ref<never>
  readonly 'data-filter'?: boolean
  readonly 'aria-label'?: string
  readonly 'aria-invalid'?: boolean
  readonly 'aria-describedby'?: string
}

export interface ChoosingProps<V extends string = string> {
  readonly options: readonly Option<V>[]
  readonly value: string
  readonly choose: (value: V) => void
  /** What it is called that nothing is chosen, where one can choose that; it is the empty value. */
  readonly none?: string | undefined
  readonly className?: string
}
