import { formatNumber } from '@insel/core'

/** What “0 GiB of memory” takes of the scale, px. */
const WORDS_PX = 104

export function MemoryScale({
  from,
  isShort,
  ticks,
  px,
  width,
}: {
  /** Where the tracks begin, px. */
  from: number
  /** Whether there is room for a few words only. */
  isShort: boolean
  ticks: readonly number[]
  px: (mebibytes: number) => number
  width: number
}) {
  // The words end before the next tick.
  const hasRoom = !isShort && px(ticks[1] ?? Infinity) >= WORDS_PX
  return (
    <div className="sticky top-0 z-20 bg-paper border-b border-rule h-6 px-4" aria-hidden>
      <div className="relative h-full" style={{ marginLeft: from, width }}>
        {(isShort ? ticks.filter((_, index) => index % 2 === 0) : ticks).map((tick) => (
          <span
            key={tick}
            className="absolute bottom-0 text-tiny font-mono text-faint border-l border-rule pl-1 leading-4"
            style={{ left: px(tick) }}
          >
            {formatNumber(tick / 1024)}
            {tick === 0 && (hasRoom ? ' GiB of memory' : ' GiB')}
          </span>
        ))}
      </div>
    </div>
  )
}
