import { childOf, childrenOf, childText, type XmlElement } from '../../formats/index.js'

/** A way to deploy that a descriptor offers, as `small` or `big`. */
export interface OvfConfiguration {
  readonly id: string
  readonly label: string
  readonly description: string
  readonly isDefault: boolean
}

/** How many of something a descriptor allows, in the unit of the figure beside it; null where it says no bound. */
export interface OvfLimits {
  readonly min: number | null
  readonly max: number | null
}

/**
 * The configurations a descriptor offers. Without a mark the first is the default.
 *
 * @see DMTF DSP0243, DeploymentOptionSection; that the first counts is from memory
 */
export function configurationsOf(envelope: XmlElement): readonly OvfConfiguration[] {
  const found = childrenOf(childOf(envelope, 'DeploymentOptionSection'), 'Configuration').flatMap((element) => {
    const id = element.attributes['id']
    return id ? [{ id, element }] : []
  })
  const marked = found.find(({ element }) => ['true', '1'].includes(element.attributes['default'] ?? ''))
  return found.map(({ id, element }) => ({
    id,
    label: childText(element, 'Label') ?? id,
    description: childText(element, 'Description') ?? '',
    isDefault: id === (marked ?? found[0])?.id,
  }))
}

const namesConfigurations = (element: XmlElement) => (element.attributes['configuration'] ?? '').split(/\s+/).filter(Boolean)
/** Whether an element counts in a configuration: one that names none counts in all. */
export const countsIn = (element: XmlElement, configuration: string | undefined): boolean => {
  const names = namesConfigurations(element)
  return names.length === 0 || (configuration !== undefined && names.includes(configuration))
}

/** An item of hardware as it is in a configuration, with the items that bound it. */
export interface HardwareItem {
  readonly item: XmlElement
  readonly min: XmlElement | undefined
  readonly max: XmlElement | undefined
  /** False where the descriptor gives only bounds, so that one of them is taken. */
  readonly hasNormal: boolean
}

/**
 * The items of a hardware section as they are in a configuration: those of one number (`InstanceID`) are one item, its `bound` values
 * beside it, and what is written for the configuration goes before what is written for all.
 *
 * @param items every item, in the descriptor's order
 * @see DMTF DSP0243, VirtualHardwareSection: `configuration` and `bound`
 */
export function itemsIn(items: readonly XmlElement[], configuration: string | undefined): readonly HardwareItem[] {
  const numbers = new Map<string, XmlElement[]>()
  items.forEach((item, index) => {
    if (!countsIn(item, configuration)) return
    const number = childText(item, 'InstanceID') ?? `without ${index}`
    numbers.set(number, [...(numbers.get(number) ?? []), item])
  })
  return [...numbers.values()].flatMap((same): HardwareItem[] => {
    const bound = (name: string) => {
      const fitting = same.filter((item) => (item.attributes['bound'] ?? 'normal') === name)
      return fitting.find((item) => namesConfigurations(item).length > 0) ?? fitting[0]
    }
    const [normal, min, max] = [bound('normal'), bound('min'), bound('max')]
    const item = normal ?? min ?? max
    return item ? [{ item, min, max, hasNormal: normal !== undefined }] : []
  })
}

/**
 * The values of the properties that a descriptor declares, as they are in a configuration, by their full names
 * (class, key and instance between dots). Those of an inner part go before those of an outer one.
 *
 * @param parts the envelope, the collections and the system, from the outermost
 * @see DMTF DSP0243, ProductSection
 */
export function propertiesOf(parts: readonly XmlElement[], configuration: string | undefined): ReadonlyMap<string, string> {
  const values = new Map<string, string>()
  for (const section of parts.flatMap((part) => childrenOf(part, 'ProductSection')))
    for (const property of childrenOf(section, 'Property')) {
      const own = childrenOf(property, 'Value').filter((value) => countsIn(value, configuration))
      const value =
        (own.find((one) => namesConfigurations(one).length > 0) ?? own[0])?.attributes['value'] ?? property.attributes['value'] ?? ''
      const name = [section.attributes['class'], property.attributes['key'], section.attributes['instance']].filter(Boolean).join('.')
      if (value !== '') values.set(name, value)
    }
  return values
}
