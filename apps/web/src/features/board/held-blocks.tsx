import { formatMiB } from '@insel/core'
import { Link } from 'react-router'
import { useEstate } from '../../estate'
import { usePaths } from '../../lib/paths'
import type { Lane } from './lanes'

/** Memory of a lane that moves under way hold: guests that arrive, and what those that left may need to come back. Hatched: it is nobody’s yet. */
export function HeldBlocks({ lane, px }: { lane: Lane; px: (mebibytes: number) => number }) {
  const { estate } = useEstate()
  const { to } = usePaths()
  return lane.held.map(({ migrationId, guestId, memoryMiB, why }, index) => {
    const before = lane.held.slice(0, index).reduce((sum, hold) => sum + hold.memoryMiB, 0)
    const left = px(lane.committedMiB + before)
    const name = estate.find('guest', guestId)?.name ?? ''
    const label =
      why === 'arrives' ? `${name} arrives, ${formatMiB(memoryMiB)}` : `${name} left, ${formatMiB(memoryMiB)} kept for the way back`
    const width = Math.max(px(memoryMiB) - 1.5, 3)
    return (
      <Link
        key={migrationId}
        to={to(`migrations/${migrationId}`)}
        aria-label={label}
        title={label}
        className="absolute inset-y-0 hatch border border-dashed border-accent rounded-sm truncate text-small leading-[1.07rem] pt-[3px] px-1.5 text-ink bg-sheet"
        style={{ left: left + 0.5, width, '--hatch': 'var(--fill)' } as React.CSSProperties}
      >
        {width > 26 && <span className="bg-sheet px-0.5">{why === 'arrives' ? `→ ${name}` : `← ${name}`}</span>}
      </Link>
    )
  })
}
