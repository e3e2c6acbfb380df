import { adaptersOf, compareNames, type Estate, type Guest } from '@insel/core'
import { colourOf } from '../../lib/palette'
import type { Theme } from '../../lib/theme'

/** What the colour of a block says. */
export const colourings = ['state', 'network', 'template', 'backup'] as const
export type Colouring = (typeof colourings)[number]

/** A colour of the legend and its meaning. */
interface LegendEntry {
  readonly key: string
  readonly label: string
  readonly colour: string
}

/** The legend of a colouring, and the colour of each guest. */
export interface Colours {
  readonly legend: readonly LegendEntry[]
  of(guest: Guest): string
}

const NONE = 'none'

/** The root of a guest's lineage: the template or guest that it and its originals were copied from. */
function rootOf(estate: Estate, guest: Guest): Guest {
  const seen = new Set<string>()
  let at = guest
  for (let above = estate.find('guest', at.clonedFromId); above && !seen.has(above.id); above = estate.find('guest', at.clonedFromId)) {
    seen.add(at.id)
    at = above
  }
  return at
}

/**
 * Colours for the blocks of the board. The same thing has the same colour on every lane; what is counted most often
 * comes first, so that the strongest colours go to what there is most of.
 */
export function coloursOf(estate: Estate, colouring: Colouring, theme: Theme): Colours {
  const keyOf = (guest: Guest): readonly [key: string, label: string] => {
    switch (colouring) {
      case 'state':
        return [guest.state, guest.state]
      case 'network': {
        const adapters = adaptersOf(estate, guest.id)
        const network = estate.find('network', adapters[0]?.networkId)
        return network ? [network.id, network.name] : [NONE, 'no network']
      }
      case 'template': {
        const root = rootOf(estate, guest)
        return root.id === guest.id && guest.kind !== 'template' && estate.referring('guest', 'clonedFromId', guest.id).length === 0
          ? [NONE, 'no copy']
          : [root.id, root.name]
      }
      case 'backup': {
        const store = estate.find('store', guest.backupStoreId)
        return store ? [store.id, store.name] : [NONE, 'no backup recorded']
      }
    }
  }
  const counts = new Map<string, { label: string; count: number }>()
  for (const guest of estate.all('guest')) {
    if (guest.kind === 'external' || guest.state === 'retired') continue
    const [key, label] = keyOf(guest)
    counts.set(key, { label, count: (counts.get(key)?.count ?? 0) + 1 })
  }
  const none = theme === 'dark' ? '#8b95a1' : '#6b7480'
  const fixedOrder = ['running', 'stopped', 'being installed', 'being copied', 'planned', 'retired']
  const ordered = [...counts].sort(([a, x], [b, y]) =>
    colouring === 'state' ? fixedOrder.indexOf(a) - fixedOrder.indexOf(b) : y.count - x.count || compareNames(x.label, y.label),
  )
  let next = 0
  const legend = ordered.map(([key, { label }]): LegendEntry => ({ key, label, colour: key === NONE ? none : colourOf(theme, next++) }))
  const colours = new Map(legend.map(({ key, colour }) => [key, colour]))
  return { legend, of: (guest) => colours.get(keyOf(guest)[0]) ?? none }
}
