import type { XmlElement } from '../../formats/index.js'
import { countsIn } from './deployment.js'

/** What is no section: parts every envelope, system or collection has. */
const STRUCTURE = new Set(['References', 'Strings', 'VirtualSystem', 'VirtualSystemCollection', 'Info', 'Name'])

/** Sections of the standard that are read, or that only hold what is read. */
const READ = new Set([
  'DiskSection',
  'NetworkSection',
  'DeploymentOptionSection',
  'VirtualHardwareSection',
  'OperatingSystemSection',
  'AnnotationSection',
  'GuestSection',
])

/** Sections of the standard that say something Insel does not take over, and what is lost with each. */
const KNOWN: Readonly<Record<string, string>> = {
  ProductSection: 'what it sets at the first boot is not taken over',
  EulaSection: 'whoever deploys it has to agree to its licence',
  StartupSection: 'the order in which it starts its systems is not taken over',
  ResourceAllocationSection: 'what it reserves for all its systems together is not taken over',
  InstallSection: 'that it is started once to be installed is not taken over',
  EnvironmentFilesSection: 'the files it gives its systems are not taken over',
  BootDeviceSection: 'the order of its boot devices is not taken over',
  SharedDiskSection: 'that systems share a disk is not taken over',
  ScaleOutSection: 'how many copies of a system it makes is not taken over',
  PlacementGroupSection: 'which systems it keeps together or apart is not taken over',
  PlacementSection: 'which systems it keeps together or apart is not taken over',
  EncryptionSection: 'what it encrypts is not read',
}

const sectionsOf = (part: XmlElement, configuration: string | undefined) =>
  part.children.filter(({ name }) => !STRUCTURE.has(name)).filter((section) => countsIn(section, configuration))

/** What is lost with a section of the standard that is known and not taken over. */
export const lossOf = ({ name }: XmlElement): string | undefined => (Object.hasOwn(KNOWN, name) ? KNOWN[name] : undefined)

/**
 * Why a system may not be deployed by somebody who does not know every section it requires. A section that is not of the standard is
 * required unless it says otherwise.
 *
 * @param parts the envelope, the collections and the system, from the outermost
 * @see DMTF DSP0243, sections: `required`, true where it is not given
 */
export function refusalsOf(parts: readonly XmlElement[], configuration: string | undefined): readonly string[] {
  return parts
    .flatMap((part) => sectionsOf(part, configuration))
    .filter(
      (section) =>
        !READ.has(section.name) && lossOf(section) === undefined && !['false', '0'].includes(section.attributes['required'] ?? 'true'),
    )
    .map(({ name }) => `The descriptor requires ${name}, which is not of the standard and not known here.`)
}
