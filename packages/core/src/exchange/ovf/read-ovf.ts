import { childOf, childrenOf, readXml, type XmlElement } from '../../formats/index.js'
import { configurationsOf, type OvfConfiguration } from './deployment.js'
import { namespaces, type OvfSystem } from './ovf.js'
import { readSystem } from './read-system.js'
import { Uses, type UnusedElement } from './uses.js'

/** A descriptor, read. */
export interface OvfReading {
  readonly version: string
  readonly systems: readonly OvfSystem[]
  /** Networks as the descriptor names them. */
  readonly networks: readonly string[]
  /** The ways to deploy that it offers; none where it is the same in all. */
  readonly configurations: readonly OvfConfiguration[]
  /** The one it was read in. */
  readonly configuration: string | undefined
  readonly unused: readonly UnusedElement[]
}

/**
 * Reads an OVF descriptor, version 1.x or 2.x: each virtual system in it as a draft of a guest. Nothing it refers to is
 * followed.
 *
 * @param configuration the id of the configuration to read it in; the descriptor's default where it is not given or not offered
 * @returns the systems and every element that could not be used, or a sentence on why it is no descriptor
 * @see DMTF DSP0243 1.1.0 and 2.1.0
 */
export function readOvf(text: string, configuration?: string): OvfReading | { readonly line: number; readonly sentence: string } {
  const reading = readXml(text)
  if ('sentence' in reading) return reading
  const { root } = reading
  if (root.name !== 'Envelope')
    return { line: 1, sentence: `The document starts with ${root.name}; an OVF descriptor starts with Envelope.` }
  const uses = new Uses()
  const files = new Map(
    childrenOf(childOf(root, 'References'), 'File').map((file) => [uses.use(file)?.attributes['id'] ?? '', file.attributes['href'] ?? '']),
  )
  const networks = childrenOf(childOf(root, 'NetworkSection'), 'Network').flatMap((network) => {
    uses.useAll(network)
    return network.attributes['name'] ?? []
  })
  const disks = new Map(
    childrenOf(childOf(root, 'DiskSection'), 'Disk').map((disk) => [disk.attributes['diskId'] ?? '', uses.use(disk) ?? disk]),
  )
  const configurations = configurationsOf(root)
  for (const section of childrenOf(root, 'DeploymentOptionSection')) uses.useAll(section)
  const chosen = (configurations.find(({ id }) => id === configuration) ?? configurations.find(({ isDefault }) => isDefault))?.id
  const found = systemsIn([root])
  if (found.length === 0) return { line: 1, sentence: 'The descriptor holds no VirtualSystem.' }
  const problems: string[] = []
  const systems = found.flatMap((parts) => {
    const system = readSystem(parts, { disks, files, configuration: chosen }, uses)
    if ('sentence' in system) problems.push(system.sentence)
    return 'sentence' in system ? [] : [system]
  })
  if (systems.length === 0) return { line: 1, sentence: problems[0] ?? 'No virtual system could be read.' }
  return {
    // The reader takes prefixes and their namespaces away; the envelope's own is in its first lines.
    version: text.slice(0, 10_000).includes(namespaces['2.x']) ? '2.x' : '1.x',
    systems,
    networks,
    configurations,
    configuration: chosen,
    unused: [...problems.map((sentence) => ({ path: 'Envelope/VirtualSystem', sentence })), ...uses.unused(root, 'Envelope')],
  }
}

/** Each virtual system with what it stands in: the envelope, the collections, and itself last. */
const systemsIn = (parts: readonly XmlElement[]): readonly (readonly XmlElement[])[] => [
  ...childrenOf(parts.at(-1), 'VirtualSystem').map((system) => [...parts, system]),
  ...childrenOf(parts.at(-1), 'VirtualSystemCollection').flatMap((collection) => systemsIn([...parts, collection])),
]
