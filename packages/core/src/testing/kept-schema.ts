import { applyAll, type Command } from '../commands/index.js'
import { Estate, type Difference, type Records } from '../estate/index.js'
import { estateFile, type EstateFile } from '../exchange/index.js'
import { idOf, smallEstateCommands, testContext } from './small-estate.js'

/** The schema of today: the number of the newest migration of the tables. */
export const SCHEMA = 14

/** What an Insel of a schema recorded, kept so that every later one can show that it reads it. */
export interface KeptSchema {
  readonly schema: number
  /** The estate before its first change. */
  readonly begins: Records
  /** What it logged. */
  readonly log: readonly Difference[]
  /** What it wrote as a file; the first three wrote none. */
  readonly file?: EstateFile
}

/** What the Insel of today records of a few changes of most sorts. */
export function keepSchema(): KeptSchema {
  let estate = Estate.fromRecords({
    estate: [{ id: idOf('estate'), name: 'Skerry Sound', domain: 'skerry.example', timeZone: 'UTC', archivedAt: null, note: '' }],
  })
  const begins = estate.toRecords()
  const log: Difference[] = []
  const record = (commands: readonly Command[], seed: number) => {
    const after = applyAll(estate, commands, { ...testContext(seed), personId: idOf('ola') })
    estate = after.estate
    log.push(after.difference)
  }
  record(smallEstateCommands, 0)
  record([{ type: 'guest.update', id: idOf('playout'), changes: { note: 'kept' } }], 3)
  record([{ type: 'guest.clone', guestId: idOf('template'), name: 'server-1', hostId: idOf('gannet') }], 4)
  const stores = { [idOf('playoutDisk')]: idOf('nvme2') }
  record([{ type: 'guest.migrate', guestId: idOf('playout'), toHostId: idOf('fulmar'), method: 'live', stores }], 5)
  record([{ type: 'address.add', record: { subnetId: idOf('officeNet'), ip: '10.61.30.200', kind: 'reserved' } }], 6)
  record(
    [
      { type: 'plan.add', record: { id: idOf('plan'), name: 'Saturday' } },
      {
        type: 'item.write',
        id: idOf('item'),
        planId: idOf('plan'),
        title: 'More memory',
        commands: [{ type: 'guest.resize', guestId: idOf('news'), memoryMiB: 6144 }],
        decideBy: '2027-01-18T09:00:00.000Z',
        otherwise: 'go on without',
      },
    ],
    7,
  )
  record([{ type: 'guest.update', id: idOf('news'), changes: { backupStoreId: null } }], 8)
  const finding = `guest.no-backup:${idOf('news')}`
  record([{ type: 'finding.accept', finding, reason: 'until the new store', until: '2027-02-18' }], 9)
  return { schema: SCHEMA, begins, log, file: estateFile(estate, log.length, '2027-01-18T08:00:00.000Z') }
}
