import { clsx } from 'clsx'
import { createContext, useContext } from 'react'

/** How what is shown differs from what holds, by id: what is new, and what is otherwise. */
export type DiffersById = ReadonlyMap<string, 'new' | 'changed'>

const NONE: DiffersById = new Map()
export const DiffersContext = createContext<DiffersById>(NONE)
export const useDiffers = (): DiffersById => useContext(DiffersContext)

/** What the marks mean, in words. */
export const differsInWords = { new: 'new, not in the record', changed: 'differs from the record' } as const

/** The mark of a thing that is shown otherwise than it is recorded; nothing where it is the same. */
export function Differs({ id, className }: { id: string; className?: string }) {
  const how = useDiffers().get(id)
  if (!how) return null
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
