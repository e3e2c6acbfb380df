import type { Kind } from '@insel/core'
import { allPlaceViews } from '../apps/web/src/lib/place-views.js'

/** Every view of every place, with the ids of the demo's things in it. */
export const viewsOf = async (demo: { idOf(kind: Kind, name: string): Promise<string> }): Promise<readonly string[]> =>
  Promise.all(
    allPlaceViews
      .flatMap(({ views }) => views)
      .map(async (view) => {
        const thing = /\{(\w+):([^}]+)\}/.exec(view)
        return thing ? view.replace(thing[0], await demo.idOf(thing[1] as Kind, thing[2] ?? '')) : view
      }),
  )
