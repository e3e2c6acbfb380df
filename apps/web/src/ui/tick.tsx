import { useState } from 'react'

/** A box that shows its tick at once, while the change is being recorded; a refusal takes it back. */
export function Tick({
  id,
  label,
  isTicked,
  isDisabled = false,
  onTick,
}: {
  id?: string
  label?: string
  isTicked: boolean
  isDisabled?: boolean
  onTick: (isTicked: boolean) => Promise<unknown>
}) {
  const [pending, setPending] = useState<boolean>()
  return (
    <input
      type="checkbox"
      id={id}
      aria-label={label}
      className="size-7 print:size-4 shrink-0 accent-[var(--accent)]"
      checked={pending ?? isTicked}
      disabled={isDisabled}
      onChange={(event) => {
        setPending(event.target.checked)
        void onTick(event.target.checked).finally(() => setPending(undefined))
      }}
    />
  )
}
