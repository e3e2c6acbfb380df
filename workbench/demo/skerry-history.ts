import type { Command } from '@insel/core'

import type { Known, Recorded } from './skerry-plans.js'

const GiB = 2 ** 30

/** What one of the people did, and so many days before the story is told. */
export interface Done extends Recorded {
  readonly daysAgo: number
}

/** Data disks that were smaller and emptier when their guests were recorded, GiB: what they grew to is in the guests' own lines. */
export const smallerAtFirst: Readonly<Record<string, { readonly sizeGiB: number; readonly usedGiB: number }>> = {
  files: { sizeGiB: 1500, usedGiB: 760 },
  mail: { sizeGiB: 700, usedGiB: 331 },
  intranet: { sizeGiB: 160, usedGiB: 48 },
  newsroom: { sizeGiB: 240, usedGiB: 151 },
}

/** What was seen of a data disk in between, GiB. */
const seen: readonly (readonly [daysAgo: number, guest: string, usedGiB: number])[] = [
  [57, 'files', 806],
  [57, 'mail', 352],
  [57, 'newsroom', 162],
  [38, 'files', 861],
  [38, 'mail', 377],
  [38, 'newsroom', 175],
  [23, 'files', 910],
  [23, 'mail', 402],
  [23, 'newsroom', 188],
  [23, 'intranet', 61],
]

/**
 * What the people of the demo did over three months besides what is there now: disks that filled and were made larger by a plan of which
 * one item failed at first, patches month by month, and a plan that came to nothing.
 */
export function historyOf({ id, newId, diskOf }: Known): readonly Done[] {
  const [room, dropped] = [newId(), newId()]
  const item = (planId: string, itemId: string, title: string, more: object): Command => ({
    type: 'item.write',
    id: itemId,
    planId,
    title,
    ...more,
  })
  const larger = [
    ['files', 1800, 9, 'Tove Lind'],
    ['mail', 900, 7, 'Maren Holm'],
    ['intranet', 200, 12, 'Ola Berg'],
    ['newsroom', 300, 8, 'Maren Holm'],
  ] as const
  const items = larger.map(() => newId())
  const failing = items[2] ?? ''
  const done = (itemId: string, minutes: number, note = ''): Command => ({ type: 'item.carryOut', itemId, minutes, note })
  const patches = ([65, 37, 9] as const).flatMap((daysAgo, index): readonly Done[] => {
    const [plan, web, mast] = [newId(), newId(), newId()]
    const month = ['first', 'second', 'third'][index] ?? ''
    return [
      {
        daysAgo: daysAgo + 2,
        by: 'Tove Lind',
        commands: [
          { type: 'plan.add', record: { id: plan, name: `Patches, ${month} month`, ownerId: id('person', 'Tove Lind') } },
          item(plan, web, 'Patch the studio guests', { kind: 'task' }),
          item(plan, mast, 'Patch the mast guests', { kind: 'task' }),
          { type: 'plan.agree', planId: plan },
        ],
      },
      { daysAgo, by: 'Tove Lind', commands: [done(web, [55, 70, 62][index] ?? 60)] },
      { daysAgo, by: 'Tove Lind', commands: [done(mast, [35, 30, 40][index] ?? 35, index === 1 ? 'One restart too many.' : '')] },
    ]
  })
  const all: readonly Done[] = [
    ...seen.map(([daysAgo, guest, usedGiB]): Done => ({
      daysAgo,
      by: 'Ola Berg',
      commands: [{ type: 'disk.update', id: diskOf(guest, 2), changes: { usedBytes: usedGiB * GiB } }],
    })),
    ...patches,
    {
      daysAgo: 46,
      by: 'Maren Holm',
      commands: [
        {
          type: 'plan.add',
          record: { id: room, name: 'Room for the winter', ownerId: id('person', 'Maren Holm'), note: 'Before the Christmas programme.' },
        },
        ...larger.map(([guest, sizeGiB], at) =>
          item(room, items[at] ?? '', `More disk for ${guest}`, {
            commands: [{ type: 'guest.resize', guestId: id('guest', guest), diskId: diskOf(guest, 2), sizeBytes: sizeGiB * GiB }],
          }),
        ),
        { type: 'plan.agree', planId: room },
      ],
    },
    ...larger.flatMap(([, , minutes, by], at): readonly Done[] =>
      items[at] === failing
        ? [
            {
              daysAgo: 44,
              by,
              commands: [{ type: 'item.fail', itemId: failing, reason: 'The file system was full before it could be extended.' }],
            },
            { daysAgo: 42, by, commands: [{ type: 'item.reopen', itemId: failing }, done(failing, minutes, 'Old logs removed first.')] },
          ]
        : [{ daysAgo: 44, by, commands: [done(items[at] ?? '', minutes)] }],
    ),
    {
      daysAgo: 30,
      by: 'Ola Berg',
      commands: [
        { type: 'plan.add', record: { id: dropped, name: 'Move mail to the mast', ownerId: id('person', 'Ola Berg') } },
        item(dropped, newId(), 'Ask the mast for power', { kind: 'task' }),
      ],
    },
    { daysAgo: 28, by: 'Ola Berg', commands: [{ type: 'plan.drop', planId: dropped }] },
  ]
  return all.toSorted((a, b) => b.daysAgo - a.daysAgo)
}
