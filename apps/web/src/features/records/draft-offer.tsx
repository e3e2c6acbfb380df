import { timeZoneOf, formatInstant } from '@insel/core'
import { useEstate } from '../../estate'
import type { KeptDraft } from '../../lib/use-draft'
import { Button } from '../../ui/button'

/** What was typed here before and not recorded: one takes it up, or discards it. */
export function DraftOffer<T>({
  draft,
  what,
  take,
  discard,
}: {
  draft: KeptDraft<T> | undefined
  /** What it holds, in words. */
  what: string
  take: () => void
  discard: () => void
}) {
  const { estate } = useEstate()
  if (!draft) return null
  return (
    <div role="status" className="flex flex-wrap gap-2 items-center border-l-2 border-accent pl-2.5 my-2 text-dense">
      <span className="min-w-0 break-words">
        Typed here {formatInstant(draft.at, timeZoneOf(estate))} and not recorded: {what}.
      </span>
      <Button onClick={take}>Take it up</Button>
      <Button look="quiet" onClick={discard}>
        Discard it
      </Button>
    </div>
  )
}
