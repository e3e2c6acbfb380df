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
  const box = (
    <input
      type="checkbox"
      id={id}
      aria-label={label}
      className="size-4 shrink-0 accent-[var(--accent)]"
      checked={pending ?? isTicked}
      disabled={isDisabled}
      onChange={(event) => {
        setPending(event.target.checked)
        void onTick(event.target.checked).finally(() => setPending(undefined))
      }}
    />
  )
  // Where it has no text around it, what is pressed is larger than what is drawn.
  return label === undefined && id === undefined ? (
    box
  ) : (
    <label className="inline-flex items-center justify-center min-w-7 -my-1 print:min-w-4 print:min-h-4">{box}</label>
  )
}
