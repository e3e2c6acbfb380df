import { Button } from './button'

/** How many things are chosen, and the ways to choose all that are shown, or none. */
export function Chosen<T>({
  shown,
  chosen,
  choose,
}: {
  shown: readonly T[]
  chosen: readonly T[]
  choose: (things: readonly T[]) => void
}) {
  return (
    <p className="flex flex-wrap gap-3 items-center" role="status">
      {chosen.length === 0 ? 'None chosen.' : `${chosen.length} chosen.`}
      <Button look="quiet" className="!min-h-7 !px-0" onClick={() => choose(shown)}>
        Choose all {shown.length} shown
      </Button>
      {chosen.length > 0 && (
        <Button look="quiet" className="!min-h-7 !px-0" onClick={() => choose([])}>
          Choose none
        </Button>
      )}
    </p>
  )
}
