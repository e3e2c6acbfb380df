import { clsx } from 'clsx'
import { createContext, useContext } from 'react'

/** How what is shown differs from what holds, by id: what is new, and what is otherwise. */
export type DiffersById = ReadonlyMap<string, 'new' | 'changed'>

const NONE: DiffersById = new Map()
export const DiffersContext = createContext<DiffersById>(NONE)
export const useDiffers = (): DiffersById => useContext(DiffersContext)

/** What is recorded and not there in what is shown: the names, by kind. */
export type LeftOut = ReadonlyMap<string, readonly string[]>

const NOTHING: LeftOut = new Map()
export const LeftOutContext = createContext<LeftOut>(NOTHING)

/** What the marks mean, in words. */
export const differsInWords = { new: 'new, not in the record', changed: 'differs from the record' } as const

/** The mark of a thing that is shown otherwise than it is recorded; nothing where it is the same. */
export function Differs({ id, className }: { id: string; className?: string }) {
  const how = useDiffers().get(id)
  return how ? <DiffersMark how={how} className={className} /> : null
}

/** The mark itself, for what has no id of its own. */
export function DiffersMark({ how, className }: { how: 'new' | 'changed'; className?: string | undefined }) {
  return (
    <span
      role="img"
      aria-label={differsInWords[how]}
      title={differsInWords[how]}
      className={clsx('font-mono font-bold text-accent shrink-0', className)}
    >
      {how === 'new' ? '+' : '±'}
    </span>
  )
}

/** So many names are said, then how many more there are. */
const NAMES = 12

/** Under a list: what the record has of its kind and what is shown has not, by name. */
export function LeftOutNote({ kind }: { kind: string }) {
  const names = useContext(LeftOutContext).get(kind)
  if (!names) return null
  return (
    <p className="border-l-2 border-accent pl-2.5 my-2 text-dense text-soft">
      In the record, but not here: {names.slice(0, NAMES).join(', ')}
      {names.length > NAMES && ` and ${names.length - NAMES} more`}.
    </p>
  )
}
