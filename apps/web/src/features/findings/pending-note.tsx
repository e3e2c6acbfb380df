import type { Found } from '../../checks/make-checks'

/** Says which findings are still being worked out, where any are. */
export function PendingNote({ of }: { of: Found['pending'] }) {
  if (of.length === 0) return null
  return (
    <p role="status" className="text-dense text-soft py-1.5">
      Still being calculated: {of.map(({ title }) => title).join(', ')}.
    </p>
  )
}
