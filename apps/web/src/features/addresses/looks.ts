import type { CellState } from '@insel/core'

/** Spans and marks of a ruler, and what each means: the shape tells as much as the colour. */
export const spanLooks = {
  free: 'border-y border-dashed border-line',
  'DHCP range': 'hatch [--hatch:var(--rule)] border-y border-rule',
  reserved: 'bg-sand-wash border-y border-sand',
  'not assignable': 'bg-line',
  used: '',
} as const

type MarkState = Exclude<CellState, 'free' | 'DHCP range' | 'reserved' | 'not assignable'>

export const markLooks: Readonly<Record<MarkState, string>> = {
  fixed: 'w-1.5 inset-y-0 bg-fill',
  'DHCP reservation': 'w-2 inset-y-0 bg-track border-2 border-fill',
  leased: 'w-2 inset-y-0 bg-track border border-dashed border-ink',
  gateway: 'size-2.5 top-1 bg-accent rotate-45',
  conflict: 'w-3 inset-y-0 bg-error [clip-path:polygon(0_0,100%_0,50%_100%)]',
}

export const isMark = (state: CellState): state is MarkState => state in markLooks
