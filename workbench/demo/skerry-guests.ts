import type { Command, Kind, NewRecord } from '@insel/core'
import { GiB } from '@insel/core'

/** What the story of the guests names. */
interface GuestNames {
  readonly id: (kind: Kind, name: string) => string
  readonly newId: () => string
  readonly diskOf: (guest: string, position: number) => string
}

const hash = (digits: string) => digits.repeat(64).slice(0, 64)

/** Install images of systems, a medium left in a drive, old snapshots, what waits for what, and who is kept apart. */
export function guestsLived({ id, newId, diskOf }: GuestNames): readonly Command[] {
  const guest = (name: string) => id('guest', name)
  const image = (name: string, more: Partial<NewRecord<'image'>> & Pick<NewRecord<'image'>, 'sizeBytes'>): Command => ({
    type: 'image.add',
    record: { id: newId(), name, storeId: id('store', 'reef'), uploadedOn: '2026-09-14', ...more },
  })
  const server = newId()
  const needs = (name: string, other: string, waitSeconds: number, note = ''): Command => ({
    type: 'dependency.add',
    record: { id: newId(), guestId: guest(name), needsId: guest(other), waitSeconds, note },
  })
  const update = (name: string, changes: Partial<Omit<NewRecord<'guest'>, 'id'>>): Command => ({
    type: 'guest.update',
    id: guest(name),
    changes: changes,
  })
  const grows = (name: string, position: number, gibAMonth: number): Command => ({
    type: 'disk.update',
    id: diskOf(name, position),
    changes: { growthBytesPerMonth: gibAMonth * GiB },
  })
  const before = newId()
  const middle = newId()
  return [
    {
      type: 'image.add',
      record: {
        id: server,
        name: 'text-server-12.iso',
        version: '12',
        systemId: id('system', 'Text-only server, generic'),
        installer: 'full image',
        sizeBytes: 3_900_000_000,
        sha256: hash('7c1e'),
        storeId: id('store', 'reef'),
        uploadedOn: '2026-09-14',
      },
    },
    image('text-server-12-net.iso', {
      version: '12',
      systemId: id('system', 'Text-only server, generic'),
      installer: 'network installer',
      sizeBytes: 92_000_000,
      sha256: hash('d04b'),
    }),
    image('desktop-11.iso', {
      version: '11',
      systemId: id('system', 'Desktop, generic'),
      installer: 'full image',
      sizeBytes: 4_700_000_000,
    }),
    // The installer's image is still in the drive, months after.
    update('metrics', { mediumId: server, verifiedAt: null }),
    update('playout-2', { apartFromId: guest('playout-1'), group: 'on air' }),
    update('playout-1', { group: 'on air' }),
    update('phone-queue', { group: 'on air' }),
    update('stream-edge-1', { group: 'streaming' }),
    update('stream-edge-2', { group: 'streaming', apartFromId: guest('stream-edge-1') }),
    update('archive-db', { group: 'newsroom', workload: 'small database', sockets: 2 }),
    update('newsroom', { group: 'newsroom' }),
    update('files', { workload: 'file service' }),
    needs('newsroom', 'archive-db', 120, 'the database'),
    needs('playout-1', 'archive-db', 120, 'the database'),
    needs('playout-2', 'archive-db', 120, 'the database'),
    needs('transcode-1', 'files', 60),
    needs('mail', 'files', 60, 'attachments lie there'),
    { type: 'store.update', id: id('store', 'vault-disks'), changes: { servedById: guest('vault') } },
    {
      type: 'snapshot.add',
      record: {
        id: before,
        guestId: guest('newsroom'),
        name: 'before the spring release',
        takenAt: '2026-10-30T18:20:00.000Z',
        sizeBytes: 41 * GiB,
      },
    },
    {
      type: 'snapshot.add',
      record: {
        id: middle,
        guestId: guest('newsroom'),
        name: 'after the schema change',
        takenAt: '2026-10-30T19:05:00.000Z',
        sizeBytes: 3 * GiB,
        parentId: before,
      },
    },
    grows('archive-db', 3, 500),
    grows('transcode-1', 2, 60),
  ]
}
