import { onDemand } from '../lib/on-demand'
import type { ChoosingProps, FieldProps, Option } from './choosing'

const SearchedChoice = onDemand(async () => (await import('./searched-choice')).SearchedChoice)

/** Words that are called what they are. */
export const asOptions = <V extends string>(words: readonly V[]): readonly Option<V>[] => words.map((word) => [word, word])

/** Things that are called by their names. */
export const byName = (things: readonly { readonly id: string; readonly name: string }[]): readonly Option[] =>
  things.map(({ id, name }) => [id, name])

/** More than so many are searched by name rather than looked through. */
const LOOKED_THROUGH_MAX = 40

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
