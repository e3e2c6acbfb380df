import { childText, type XmlElement } from '../../formats/index.js'
import { lossOf } from './sections.js'

/** An element that was not used, and why it matters, or not. */
export interface UnusedElement {
  /** Its place, from the envelope down. */
  readonly path: string
  readonly sentence: string
}

/** Elements without a value: what holds others, and texts for people. */
const SILENT = new Set([
  'Info',
  'References',
  'DiskSection',
  'NetworkSection',
  'VirtualSystemCollection',
  'VirtualHardwareSection',
  'System',
  'Strings',
  'Label',
  'Category',
])
/** Parts of an item that name or number it. */
const ITEM_NAMES = new Set(['InstanceID', 'ElementName', 'Description', 'Caption', 'AddressOnParent'])

/** Keeps which elements of a descriptor were used, so that the rest can be named. */
export class Uses {
  readonly #used = new Set<XmlElement>()

  use(element: XmlElement | undefined): XmlElement | undefined {
    if (element) this.#used.add(element)
    return element
  }

  useAll(element: XmlElement): void {
    this.#used.add(element)
    for (const child of element.children) this.useAll(child)
  }

  /** What was not used: of an unused element only itself is named, not what is in it. */
  unused(element: XmlElement, path: string): UnusedElement[] {
    return element.children.flatMap((child) => {
      const same = element.children.filter(({ name }) => name === child.name)
      const at = `${path}/${child.name}${same.length > 1 ? `[${same.indexOf(child) + 1}]` : ''}`
      if (this.#used.has(child) || SILENT.has(child.name)) return this.unused(child, at)
      if (element.name.endsWith('Item') && ITEM_NAMES.has(child.name)) return []
      const loss = lossOf(child)
      if (loss) return [{ path: at, sentence: `${child.name}: ${loss}.` }]
      const says = child.attributes['name'] ?? childText(child, 'ElementName') ?? child.text
      return [{ path: at, sentence: `${child.name}${says ? ` (${says.slice(0, 60)})` : ''} is not used.` }]
    })
  }
}
