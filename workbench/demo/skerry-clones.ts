import { derivedId, type Command, type Kind } from '@insel/core'
import type { Recorded } from './skerry-plans.js'

/** How the story of the copies names what is there. */
interface Known {
  id(kind: Kind, name: string): string
  newId(): string
  diskOf(guest: string, position: number): string
}

const allRemoved = {
  nameRemoved: 'yes',
  identityRemoved: 'yes',
  hostKeysRemoved: 'yes',
  addressRemoved: 'yes',
  activationRemoved: 'yes',
  historyRemoved: 'yes',
} as const

/**
 * tpl-server in two versions: two copies of the older, of which one was restored from the other and shares its identity, and a batch of
 * three of the newer under way, of which one failed its first boot. tpl-desktop still has its host keys.
 */
export function clonesOf({ id, newId, diskOf }: Known): readonly Recorded[] {
  const [server, desktop, newer, batch] = [id('guest', 'tpl-server'), id('guest', 'tpl-desktop'), newId(), newId()]
  const [queue1, queue2, relay1, relay2, relay3] = [newId(), newId(), newId(), newId(), newId()]
  const copy = (guestId: string, made: string, name: string, disk: string, purpose: string) =>
    ({
      type: 'guest.clone',
      id: made,
      guestId,
      name,
      hostId: id('host', 'fulmar'),
      stores: { [disk]: id('store', 'bulk-2') },
      vcpu: 1,
      memoryMiB: 512,
      purpose,
    }) satisfies Command
  const serverDisk = diskOf('tpl-server', 1)
  const newerDisk = derivedId(newer, serverDisk)
  const inService = (guestId: string): readonly Command[] => [
    { type: 'guest.identity', guestId, identity: 'its own' },
    { type: 'guest.update', id: guestId, changes: { backupStoreId: id('store', 'vault-disks'), verifiedAt: '2027-01-12T15:00:00.000Z' } },
    { type: 'guest.power', guestId, state: 'running' },
  ]
  const settle = (guestId: string, step: string, minutes: number, failed = ''): Command => ({
    type: 'copy.settle',
    copyId: derivedId(batch, guestId),
    step,
    state: failed === '' ? 'done' : 'failed',
    minutes,
    note: failed,
  })
  return [
    {
      by: 'Ola Berg',
      commands: [
        {
          type: 'template.add',
          record: {
            id: newId(),
            guestId: server,
            version: '2026-10',
            patchedOn: '2026-10-05',
            installed: 'remote login, guest agent, cloud-init',
            ...allRemoved,
          },
        },
        {
          type: 'template.add',
          record: { id: newId(), guestId: desktop, version: '1', patchedOn: '2027-01-04', ...allRemoved, hostKeysRemoved: 'no' },
        },
        copy(server, queue1, 'queue-1', serverDisk, 'print queue'),
        copy(server, queue2, 'queue-2', serverDisk, 'print queue'),
        ...inService(queue1),
        ...inService(queue2),
      ],
    },
    // Its disk broke, and it came back from a backup of its twin.
    {
      by: 'Tove Lind',
      commands: [
        { type: 'guest.identity', guestId: queue2, identity: 'copied', fromId: queue1 },
        { type: 'guest.update', id: queue2, changes: { note: 'Restored from a backup of queue-1 in January.' } },
      ],
    },
    {
      by: 'Ola Berg',
      commands: [
        { type: 'template.renew', guestId: server, id: newer, name: 'tpl-server-2027-01', version: '2027-01' },
        {
          type: 'template.update',
          id: derivedId(newer, 'template'),
          changes: { patchedOn: '2027-01-04', installed: 'remote login, guest agent, cloud-init', ...allRemoved },
        },
      ],
    },
    {
      by: 'Maren Holm',
      commands: [
        {
          type: 'batch.begin',
          id: batch,
          name: 'Mail relays',
          copies: [
            copy(newer, relay1, 'relay-1', newerDisk, 'mail relay'),
            copy(newer, relay2, 'relay-2', newerDisk, 'mail relay'),
            copy(newer, relay3, 'relay-3', newerDisk, 'mail relay'),
          ],
          note: 'Three, so that one can be taken out at any time.',
        },
        settle(relay1, 'copied', 4),
        settle(relay1, 'attached', 1),
        settle(relay1, 'first-boot', 2),
        settle(relay1, 'named', 1),
        settle(relay2, 'copied', 4),
        settle(relay2, 'attached', 1),
        settle(relay2, 'first-boot', 6, 'Stops at the boot loader: no disk found.'),
      ],
    },
  ]
}
