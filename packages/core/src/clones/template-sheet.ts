import { disksOf, type Estate, type Guest } from '../estate/index.js'
import { sheetOf, workSheet, type PlannedStep, type WorkSheet } from '../sheets/index.js'
import { formatBytes } from '../units/index.js'
import { templateOf } from './identity.js'
import { cleaning, identityParts, partsLeft } from './identity-parts.js'

/** Minutes that each step usually takes. Common practice, no source. */
const USUAL_MINUTES: Readonly<Record<string, number>> = {
  boot: 3,
  patch: 15,
  install: 10,
  'clean-up': 3,
  generalise: 5,
  eject: 1,
  'shut-down': 1,
  mark: 1,
}

/** The sheet by which a template is made or renewed: boot, patch, install, clean, generalise, eject, shut down, mark. */
export const templateSheet = (estate: Estate, guest: Guest, sheet = sheetOf(estate, 'guestId', guest.id, 'renewal')): WorkSheet =>
  workSheet(estate, sheet, 'guestId', planSteps(estate, guest), USUAL_MINUTES, 'renewal')

const gapOf = (gap: string | undefined) => (gap ? { gap } : {})

function planSteps(estate: Estate, guest: Guest): readonly PlannedStep[] {
  const version = templateOf(estate, guest.id)
  const system = estate.find('system', guest.systemId)
  const medium = estate.find('image', guest.mediumId)
  const parts = identityParts(system)
  const left = partsLeft(version, system)
  const used = disksOf(estate, guest.id).reduce((sum, { usedBytes }) => sum + (usedBytes ?? 0), 0)
  return [
    {
      key: 'boot',
      title: 'Boot it',
      lines: ['On a network with updates and without machines that could mistake it for another.'],
      tool: 'state',
    },
    {
      key: 'patch',
      title: 'Patch it',
      lines: ['Install every update, restart, and look once more for updates.', `Last patched: ${version?.patchedOn ?? 'not recorded'}.`],
      tool: 'template patched',
      ...gapOf(version?.patchedOn ? undefined : 'When it was last patched is not recorded.'),
    },
    {
      key: 'install',
      title: 'Install what every copy has',
      lines: [version?.installed ?? 'Nothing is recorded: remote login, a guest agent where the platform has one, cloud-init or its like.'],
      tool: 'template installed',
    },
    {
      key: 'clean-up',
      title: 'Clean it',
      lines: [
        'Package caches, temporary files, logs, shell histories, mail queues.',
        ...(used > 0 ? [`As last seen its disks hold ${formatBytes(used)}; every thin copy takes that much.`] : []),
      ],
    },
    {
      key: 'generalise',
      title: 'Generalise it',
      lines: [
        ...parts.map(({ label, how, source }) => `${label[0]?.toUpperCase() ?? ''}${label.slice(1)}: ${how} (${source}).`),
        `Also ${cleaning.map(({ label }) => label).join(', ')}.`,
        'This is the last thing done in it: a boot after it makes a new identity, which all copies would share.',
      ],
      caution: 'Work on the template’s own console. The same commands on another machine take its host keys and its identity away.',
      tool: 'template parts',
      ...gapOf(left.length > 0 ? `Not recorded as removed: ${left.map(({ label }) => label).join(', ')}.` : undefined),
    },
    {
      key: 'eject',
      title: 'Eject the medium',
      lines: ['The drive is empty and the disk is first in the boot order.'],
      tool: 'eject',
      ...gapOf(medium ? `As recorded, ${medium.name} is attached.` : undefined),
    },
    {
      key: 'shut-down',
      title: 'Shut it down',
      lines: ['By its own command, not by cutting the power.'],
      tool: 'template stop',
      ...gapOf(guest.state === 'running' ? 'As recorded, it is running.' : undefined),
    },
    {
      key: 'mark',
      title: 'Mark it as a template',
      lines: [version ? `Version ${version.version}${version.supersedesId ? ', newer than another' : ''}.` : 'Give it a version name.'],
      tool: 'template mark',
      ...gapOf(guest.kind === 'template' && version ? undefined : 'It is not recorded as a template with a version yet.'),
    },
  ]
}
