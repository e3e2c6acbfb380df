import { useState } from 'react'
import { Button } from './button'

/** Asks why, before something is recorded that needs a reason; made for a thumb. */
export function ReasonForm({
  label,
  press,
  look = 'primary',
  isBusy,
  take,
  leave,
}: {
  label: string
  press: string
  look?: 'primary' | 'danger'
  isBusy: boolean
  take: (reason: string) => void
  leave: () => void
}) {
  const [reason, setReason] = useState('')
  const large = '!min-h-12 text-lead justify-center'
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        take(reason.trim())
      }}
    >
      <label>
        {label}
        <input
          className="field !min-h-12 my-1"
          autoFocus
          maxLength={400}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </label>
      <div className="grid grid-cols-2 gap-2 max-w-[560px]">
        <Button type="submit" look={look} className={large} disabled={reason.trim() === '' || isBusy}>
          {press}
        </Button>
        <Button className={large} onClick={leave}>
          Back
        </Button>
      </div>
    </form>
  )
}
