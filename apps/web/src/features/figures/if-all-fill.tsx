import { formatBytes, type Figure, type Store } from '@insel/core'
import { FigureView } from './figure-view'

/** What becomes of a store when all its thin disks fill up, with its working. */
export function IfAllFill({ store, exposure }: { readonly store: Store; readonly exposure: Figure }) {
  return (
    <FigureView figure={exposure} title={`Exposure of ${store.name}`} className={exposure.value > 0 ? 'text-error' : ''}>
      {exposure.value > 0 ? `short of ${formatBytes(exposure.value)}` : `${formatBytes(-exposure.value)} stay free`}
    </FigureView>
  )
}
