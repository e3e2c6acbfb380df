import { formatBytes, type Store } from '@insel/core'

/** A store to its own scale: used solid, held for moves outlined, promised and not used yet hatched, what runs over its end beyond the mark. */
export function StoreBar({ store, used, held, promised }: { store: Store; used: number; held: number; promised: number }) {
  const scale = Math.max(store.capacityBytes, used + held, promised)
  const share = (bytes: number) => `${(Math.max(0, bytes) / scale) * 100}%`
  return (
    <div
      className="relative h-4 bg-track border border-rule"
      role="img"
      aria-label={`${formatBytes(used)} used${held > 0 ? `, ${formatBytes(held)} held for moves` : ''} and ${formatBytes(promised)} promised of ${formatBytes(store.capacityBytes)}`}
    >
      <div className="absolute inset-y-0 left-0 hatch [--hatch:var(--fill)]" style={{ width: share(promised) }} />
      <div className="absolute inset-y-0 left-0 bg-fill" style={{ width: share(used) }} />
      {held > 0 && (
        <div className="absolute inset-y-0 border border-dashed border-accent" style={{ left: share(used), width: share(held) }} />
      )}
      {scale > store.capacityBytes && (
        <div className="absolute inset-y-[-3px] border-l-2 border-error" style={{ left: share(store.capacityBytes) }} />
      )}
    </div>
  )
}
