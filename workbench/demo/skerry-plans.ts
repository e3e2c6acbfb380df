import type { Command, Kind } from '@insel/core'

const GiB = 2 ** 30

/** How the stories of the house name what is there. */
export interface Known {
  id(kind: Kind, name: string): string
  newId(): string
  diskOf(guest: string, position: number): string
}

/** What one of the people recorded. */
export interface Recorded {
  readonly by: 'Ola Berg' | 'Maren Holm' | 'Tove Lind'
  readonly commands: readonly Command[]
}

/** Two plans: more memory for puffin, under way; and room for the trials, agreed, of which one item went stale meanwhile. */
export function plansOf({ id, newId, diskOf }: Known): readonly Recorded[] {
  const [puffin, room] = [newId(), newId()]
  const [order, announce, away, modules, back] = [newId(), newId(), newId(), newId(), newId()]
  const [trial, store] = [newId(), newId()]
  const ola = id('person', 'Ola Berg')
  const metrics = id('guest', 'metrics')
  const moved = (toHost: string, toStore: string): Command => ({
    type: 'guest.migrate',
    id: newId(),
    guestId: metrics,
    toHostId: id('host', toHost),
    method: 'cold copy',
    stores: { [diskOf('metrics', 1)]: id('store', toStore), [diskOf('metrics', 2)]: id('store', toStore) },
  })
  const module = (slot: number): Command => ({
    type: 'module.add',
    record: { id: newId(), hostId: id('host', 'puffin'), slot, sizeMiB: 16_384 },
  })
  const item = (planId: string, itemId: string, title: string, more: object): Command => ({
    type: 'item.write',
    id: itemId,
    planId,
    title,
    ...more,
  })
  return [
    {
      by: 'Maren Holm',
      commands: [
        {
          type: 'plan.add',
          record: {
            id: puffin,
            name: 'Memory for puffin',
            ownerId: id('person', 'Maren Holm'),
            note: 'puffin is over its budget. Metrics steps aside while the modules go in, and comes back.',
          },
        },
        item(puffin, order, 'Order two 16 GiB modules', { kind: 'task', minutes: 10 }),
        item(puffin, announce, 'Tell the newsroom: no metrics on Saturday from 20:00', { kind: 'task', personId: ola }),
        item(puffin, away, 'Move metrics to gannet', {
          kind: 'move',
          commands: [moved('gannet', 'nvme-1')],
          personId: ola,
          afterIds: [announce],
        }),
        item(puffin, modules, 'Put the modules into puffin', {
          commands: [module(5), module(6), { type: 'host.update', id: id('host', 'puffin'), changes: { memoryMiB: 97_677 } }],
          minutes: 40,
          afterIds: [order, away],
          decideBy: '2027-03-13T23:00:00.000Z',
          otherwise: 'put the old modules back in and bring metrics back',
          note: 'Power off and unplug first; discharge static. Slots 5 and 6.',
        }),
        item(puffin, back, 'Bring metrics back', { kind: 'move', commands: [moved('puffin', 'ssd-3')], afterIds: [modules] }),
      ],
    },
    { by: 'Tove Lind', commands: [{ type: 'item.carryOut', itemId: order, minutes: 25, note: 'Promised for Thursday.' }] },
    {
      by: 'Ola Berg',
      commands: [
        { type: 'plan.add', record: { id: room, name: 'Room for the trials', ownerId: ola } },
        item(room, trial, 'More processors for trial-b', {
          commands: [{ type: 'guest.resize', guestId: id('guest', 'trial-b'), vcpu: 4 }],
        }),
        item(room, store, 'More disk for trial-a', {
          commands: [{ type: 'guest.resize', guestId: id('guest', 'trial-a'), diskId: diskOf('trial-a', 1), sizeBytes: 40 * GiB }],
        }),
        { type: 'plan.agree', planId: room },
      ],
    },
    // In a hurry, past the plan.
    { by: 'Tove Lind', commands: [{ type: 'guest.resize', guestId: id('guest', 'trial-b'), vcpu: 2 }] },
  ]
}

/** Findings that Maren Holm accepts for a time, with the reason. */
export function acceptedOf({ id }: Pick<Known, 'id'>): Recorded {
  const accept = (finding: string, reason: string): Command => ({ type: 'finding.accept', finding, reason, until: '2027-06-30' })
  return {
    by: 'Maren Holm',
    commands: [
      accept(`guest.no-backup:${id('guest', 'build')}`, 'Nothing on it that cannot be built again.'),
      accept(`guest.no-backup:${id('guest', 'trial-a')}`, 'A trial; thrown away in June.'),
      accept(`host.memory-modules:${id('host', 'tern')}`, 'Fast enough for the mast; matched modules come with the next order.'),
    ],
  }
}
