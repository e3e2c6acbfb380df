import { defineVerb } from '../commands/index.js'
import { choice, CommandError, integer, optional, recordTitle, ref } from '../estate/index.js'
import { formatBytes, formatMiB } from '../units/index.js'

declare module '../commands/verb.js' {
  interface Verbs {
    'guest.resize': typeof resizeGuest
    'guest.power': typeof powerGuest
  }
}

const resizeGuest = defineVerb({
  doc: 'Changes a guest’s processors, memory, or the size of one of its disks. A disk only grows.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest to resize.' }),
    vcpu: optional(integer({ label: 'Processors', doc: 'New number of vCPUs.', unit: 'vCPU', min: 1, max: 1024 })),
    memoryMiB: optional(integer({ label: 'Memory', doc: 'New memory.', unit: 'MiB', min: 4, max: 2 ** 26 })),
    diskId: optional(ref('disk', { label: 'Disk', doc: 'The disk to extend.' })),
    sizeBytes: optional(integer({ label: 'Size', doc: 'The disk’s new size.', unit: 'bytes', min: 1 })),
  },
  /** @throws CommandError `not-found`, `invalid`, `not-allowed` when a disk would shrink */
  does(edit, { guestId, vcpu, memoryMiB, diskId, sizeBytes }) {
    const guest = edit.require('guest', guestId, 'guestId')
    if (!diskId !== !sizeBytes)
      throw new CommandError('invalid', 'To extend a disk, name the disk and its new size.', diskId ? 'sizeBytes' : 'diskId')
    edit.update('guest', guestId, { ...(vcpu ? { vcpu } : {}), ...(memoryMiB ? { memoryMiB } : {}) }, '')
    if (!diskId || !sizeBytes) return
    const disk = edit.require('disk', diskId, 'diskId')
    const title = recordTitle(edit.estate, 'disk', disk)
    if (disk.guestId !== guest.id) throw new CommandError('invalid', `That is ${title}, not a disk of ${guest.name}.`, 'diskId')
    if (sizeBytes < disk.sizeBytes)
      throw new CommandError(
        'not-allowed',
        `${title} has ${formatBytes(disk.sizeBytes)}; shrinking it to ${formatBytes(sizeBytes)} would cut off data. Add a smaller disk and copy instead.`,
        'sizeBytes',
      )
    edit.update('disk', diskId, { sizeBytes }, '')
  },
  words({ guestId, vcpu, memoryMiB, diskId, sizeBytes }, { nameOf }) {
    const parts = [
      ...(vcpu ? [`${vcpu} vCPU`] : []),
      ...(memoryMiB ? [formatMiB(memoryMiB)] : []),
      ...(sizeBytes ? [`${nameOf('disk', diskId)} ${formatBytes(sizeBytes)}`] : []),
    ]
    return `Resize ${nameOf('guest', guestId)} to ${parts.join(', ')}`
  },
})

const powerGuest = defineVerb({
  doc: 'Records that a guest was powered on or off.',
  fields: {
    guestId: ref('guest', { label: 'Guest', doc: 'The guest.' }),
    state: choice(['running', 'stopped'], { label: 'State', doc: 'What it is now.' }),
  },
  /** @throws CommandError `not-found`, `wrong-state` */
  does(edit, { guestId, state }) {
    const guest = edit.require('guest', guestId, 'guestId')
    if (guest.state === state) throw new CommandError('wrong-state', `${guest.name} is recorded as ${state} already.`, 'state')
    if (state === 'running') {
      if (guest.kind === 'machine' && !guest.hostId)
        throw new CommandError('wrong-state', `${guest.name} is on no host; place it first.`, 'guestId')
    }
    edit.update('guest', guestId, { state }, '')
  },
  words: ({ guestId, state }, { nameOf }) => `${state === 'running' ? 'Power on' : 'Power off'} ${nameOf('guest', guestId)}`,
})

/** What is done to guests beside changing their fields. */
export const guestVerbs = {
  'guest.resize': resizeGuest,
  'guest.power': powerGuest,
}
