import type { Ref } from 'react'
import { onDemand } from '../lib/on-demand'

const SearchedChoice = onDemand(async () => (await import('./searched-choice')).SearchedChoice)

/** One of many: its value, and what it is called. */
export type Option<V extends string = string> = readonly [value: V, label: string]

/** Words that are called what they are. */
export const asOptions = <V extends string>(words: readonly V[]): readonly Option<V>[] => words.map((word) => [word, word])

/** Things that are called by their names. */
export const byName = (things: readonly { readonly id: string; readonly name: string }[]): readonly Option[] =>
  things.map(({ id, name }) => [id, name])

/** More than so many are searched by name rather than looked through. */
const LOOKED_THROUGH_MAX = 40

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

/** A choice of one among some, which may be thousands: a few are looked through, many are searched by name. */
export function Choice<V extends string>({ options, value, choose, none, className = '', ...field }: ChoosingProps<V> & FieldProps) {
  if (options.length > LOOKED_THROUGH_MAX)
    return (
      <SearchedChoice
        meanwhile={<span className={`field ${className}`}>…</span>}
        options={options}
        value={value}
        // It gives one of the options.
        choose={choose as (value: string) => void}
        none={none}
        className={className}
        field={field}
      />
    )
  return (
    <select className={`field ${className}`} value={value} onChange={(event) => choose(event.target.value as V)} {...field}>
      {none !== undefined && <option value="">{none}</option>}
      {options.map(([one, label]) => (
        <option key={one} value={one}>
          {label}
        </option>
      ))}
    </select>
  )
}
