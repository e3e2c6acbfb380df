import { Component, type ReactNode } from 'react'
import type { Lane } from './lanes'

/** How long a block takes to its lane: seen, but not waited for. */
const GLIDE_MS = 140
/** More than so many blocks at once nobody follows; the rest are where they belong at once. */
const GLIDING_MAX = 80

interface GlideProps {
  /** The scrolling element with the blocks in it. */
  readonly area: HTMLElement | null
  /** What they are laid out for: where it changes, they glide; whatever else moves them, they jump. */
  readonly layout: string
  /** What is drawn: a block glides where its guest is on another lane. */
  readonly lanes: readonly Lane[]
  readonly children: ReactNode
}

type Places = ReadonlyMap<string, DOMRect>

/** Where the blocks of some guests are, as far as they are drawn. */
function placesIn(area: HTMLElement, guestIds: readonly string[]): Places {
  return new Map(
    guestIds.flatMap((id) => {
      const block = area.querySelector<HTMLElement>(`[data-block="${id}"]`)
      return block ? [[id, block.getBoundingClientRect()] as const] : []
    }),
  )
}

/** Guests that are on another lane than before; what only changed its lane otherwise is not looked at. */
function movedBetween(before: readonly Lane[], after: readonly Lane[]): readonly string[] {
  const kept = new Set(after)
  const hostOf = new Map<string, string>()
  for (const lane of before) if (!kept.has(lane)) for (const { guest } of lane.blocks) hostOf.set(guest.id, lane.host.id)
  const was = new Set(before)
  return after
    .filter((lane) => !was.has(lane))
    .flatMap((lane) => lane.blocks.flatMap(({ guest }) => ((hostOf.get(guest.id) ?? lane.host.id) === lane.host.id ? [] : [guest.id])))
    .slice(0, GLIDING_MAX)
}

/**
 * Lets the blocks of the board glide to where another basis has them. A class, for only that is asked for a look at the page just before
 * it changes.
 */
export class Glide extends Component<GlideProps> {
  override getSnapshotBeforeUpdate(before: GlideProps): Places | null {
    const { area, layout, lanes } = this.props
    if (!area || before.layout === layout || window.matchMedia('(prefers-reduced-motion: reduce)').matches) return null
    return placesIn(area, movedBetween(before.lanes, lanes))
  }

  override componentDidUpdate(_: GlideProps, __: unknown, before: Places | null): void {
    const { area } = this.props
    if (before && area) glide(area, before)
  }

  override render(): ReactNode {
    return this.props.children
  }
}

/** Moves what is elsewhere now from where it was. Lanes hide what is outside of them, so what crosses lanes is drawn above them meanwhile. */
function glide(area: HTMLElement, before: Places): void {
  const layer = document.createElement('div')
  layer.dataset['glide'] = ''
  layer.setAttribute('aria-hidden', 'true')
  for (const [id, was] of before) {
    const block = area.querySelector<HTMLElement>(`[data-block="${id}"]`)
    if (!block) continue
    const is = block.getBoundingClientRect()
    const drawn = block.cloneNode(true) as HTMLElement
    drawn.removeAttribute('data-block')
    drawn.inert = true
    Object.assign(drawn.style, {
      position: 'fixed',
      left: `${is.left}px`,
      top: `${is.top}px`,
      width: `${is.width}px`,
      height: `${is.height}px`,
      bottom: 'auto',
      zIndex: '10',
    })
    layer.append(drawn)
    const timing = { duration: GLIDE_MS, easing: 'ease-out' }
    drawn.animate([{ transform: `translate(${was.left - is.left}px, ${was.top - is.top}px)` }, { transform: 'none' }], timing)
    block.animate([{ opacity: 0 }, { opacity: 0 }], timing)
  }
  if (layer.childElementCount === 0) return
  area.append(layer)
  window.setTimeout(() => layer.remove(), GLIDE_MS)
}
