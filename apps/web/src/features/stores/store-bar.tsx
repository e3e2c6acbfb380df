import { formatBytes, type Store } from '@insel/core'

/** A store to its own scale: used solid, promised and not used yet hatched, what runs over its end beyond the mark. */
export function StoreBar({ store, used, promised }: { store: Store; used: number; promised: number }) {
  const scale = Math.max(store.capacityBytes, used, promised)
  const share = (bytes: number) => `${(Math.max(0, bytes) / scale) * 100}%`
  return (
    <div
      className="relative h-4 bg-track border border-rule"
      role="img"
      aria-label={`${formatBytes(used)} used and ${formatBytes(promised)} promised of ${formatBytes(store.capacityBytes)}`}
    >
      <div className="absolute inset-y-0 left-0 hatch [--hatch:var(--fill)]" style={{ width: share(promised) }} />
      <div className="absolute inset-y-0 left-0 bg-fill" style={{ width: share(used) }} />
      {scale > store.capacityBytes && (
        <div className="absolute inset-y-[-3px] border-l-2 border-error" style={{ left: share(store.capacityBytes) }} />
      )}
    </div>
  )
}
