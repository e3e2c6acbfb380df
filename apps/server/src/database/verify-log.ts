import { kindNames, sameRecord, type AnyRecord, type Kind } from '@insel/core'
import type { EntityManager } from '@mikro-orm/postgresql'
import { changeEntity, differenceOf, estateHeadEntity } from './entities.js'
import { readRecords } from './records-table.js'

/** Changes read at once. */
const PAGE = 200

/**
 * Replays every estate's change log and compares the result with its tables: together they are the record, and they have to say
 * the same.
 *
 * @returns what does not agree, in a sentence each; empty when all is well
 */
export async function verifyLogs(em: EntityManager): Promise<readonly string[]> {
  const troubles: string[] = []
  for (const { estateId, revision } of await em.fork().find(estateHeadEntity, {})) {
    const replayed = new Map<string, { readonly kind: Kind; readonly record: AnyRecord }>()
    let last = 0
    for (;;) {
      const rows = await em
        .fork()
        .find(
          changeEntity,
          { estateId, revision: { $gt: last } },
          { orderBy: { revision: 'asc' }, limit: PAGE, fields: ['revision', 'difference'] },
        )
      for (const row of rows) {
        if (row.revision !== last + 1) troubles.push(`Estate ${estateId}: change ${last + 1} is missing from its log.`)
        last = row.revision
        const { added, updated, removed } = differenceOf(row)
        for (const id of Object.keys(removed)) replayed.delete(id)
        for (const [id, { kind, to }] of Object.entries(updated)) replayed.set(id, { kind, record: to })
        for (const [id, presence] of Object.entries(added)) replayed.set(id, presence)
      }
      if (rows.length < PAGE) break
    }
    if (last !== revision) troubles.push(`Estate ${estateId} is at revision ${revision}; its log ends with ${last}.`)
    const records = await readRecords(em.fork(), estateId)
    for (const kind of kindNames)
      for (const record of records[kind] as readonly AnyRecord[]) {
        const there = replayed.get(record.id)
        replayed.delete(record.id)
        if (there?.kind !== kind || !sameRecord(there.record, record))
          troubles.push(`Estate ${estateId}: the ${kind} ${record.id} is not as its log says.`)
      }
    for (const [id, { kind }] of replayed) troubles.push(`Estate ${estateId}: the ${kind} ${id} of the log is in no table.`)
  }
  return troubles
}
