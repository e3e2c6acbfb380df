import { differing, type Difference, type Estate } from '@insel/core'
import { useMemo } from 'react'
import { useEstate } from '../../estate'
import { useDiffers } from '../../ui/differs'
import { DifferenceView } from './difference-view'

/** On the page of a thing that is shown otherwise than recorded: in what it differs, with its parts. */
export function DiffersNote({ of }: { of: string }) {
  const { recorded, estate, ahead } = useEstate()
  const isDiffering = useDiffers().has(of)
  const own = useMemo(
    () => (ahead && isDiffering ? partsOf(recorded, estate, ahead, of) : undefined),
    [recorded, estate, ahead, isDiffering, of],
  )
  if (!own) return null
  return (
    <details className="border-l-2 border-accent pl-2.5 mb-4 text-dense">
      <summary className="text-accent min-h-7 content-center">Differs from the record</summary>
      <DifferenceView estate={recorded} difference={own} />
    </details>
  )
}

/** What of a difference is of one thing: what it or a part of it differs in. */
function partsOf(before: Estate, after: Estate, difference: Difference, of: string): Difference {
  const isOwn =
    (how: keyof Difference) =>
    ([id, entry]: readonly [string, unknown]) =>
      id === of || differing(before, after, { added: {}, updated: {}, removed: {}, [how]: { [id]: entry } }).has(of)
  const part = <H extends keyof Difference>(how: H): Difference[H] =>
    Object.fromEntries(Object.entries(difference[how]).filter(isOwn(how))) as Difference[H]
  return { added: part('added'), updated: part('updated'), removed: part('removed') }
}
