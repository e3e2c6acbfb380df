import type { ReactNode } from 'react'

/** A box that is ticked at once, with what it means behind it. */
export function TickLine({
  isTicked,
  onTick,
  className = '',
  children,
}: {
  isTicked: boolean
  onTick: (isTicked: boolean) => void
  className?: string
  children: ReactNode
}) {
  return (
    <label className={`flex gap-2 items-center ${className}`}>
      <input
        type="checkbox"
        className="size-4 accent-[var(--accent)]"
        checked={isTicked}
        onChange={(event) => onTick(event.target.checked)}
      />
      {children}
    </label>
  )
}
