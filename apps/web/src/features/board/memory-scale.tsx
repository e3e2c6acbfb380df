import { formatNumber } from '@insel/core'
import { LABEL_WIDTH } from './lane-view'

export function MemoryScale({ ticks, px, width }: { ticks: readonly number[]; px: (mebibytes: number) => number; width: number }) {
  return (
    <div className="sticky top-0 z-20 bg-paper border-b border-rule h-6 px-4" aria-hidden>
      <div className="relative h-full" style={{ marginLeft: LABEL_WIDTH, width }}>
        {ticks.map((tick) => (
          <span
            key={tick}
            className="absolute bottom-0 text-[11px] font-mono text-faint border-l border-rule pl-1 leading-4"
            style={{ left: px(tick) }}
          >
            {formatNumber(tick / 1024)}
            {tick === 0 && ' GiB of memory'}
          </span>
        ))}
      </div>
    </div>
  )
}
