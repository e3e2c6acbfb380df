import { kindNames, kinds, type AnyRecord, type Difference, type Field, type Kind, type Records } from '@insel/core'
import type { EntityManager } from '@mikro-orm/postgresql'
import { recordEntities } from './entities.js'

/** All records of an estate, read whole table by whole table with the query builder, which is four times quicker than entities. */
export async function readRecords(em: EntityManager, estateId: string): Promise<Records> {
  const tables = {} as Record<Kind, AnyRecord[]>
  for (const kind of kindNames) {
    const rows: Record<string, unknown>[] = await em
      .createQueryBuilder(recordEntities[kind], 'r')
      .select('*')
      .where({ estateId })
      .execute('all', true)
    tables[kind] = rows.map((row) => fromRow(kind, row))
  }
  return tables as unknown as Records
}

/** A record from its row: only the kind's fields, big integers as numbers. */
function fromRow(kind: Kind, row: Record<string, unknown>): AnyRecord {
  const record: Record<string, unknown> = { id: row['id'] }
  for (const [name, field] of Object.entries<Field>(kinds[kind].fields)) {
    const value = row[name]
    record[name] = field.type === 'integer' && typeof value === 'string' ? Number(value) : value
  }
  return record as unknown as AnyRecord
}

/** Writes a difference to the tables: what was removed first, then what changed, then what is new. */
export async function writeDifference(em: EntityManager, estateId: string, { added, updated, removed }: Difference): Promise<void> {
  for (const [kind, records] of byKind(Object.values(removed)))
    await em.nativeDelete(recordEntities[kind], { estateId, id: { $in: records.map((record) => record.id) } })
  for (const { kind, to } of Object.values(updated)) {
    const { id, ...fields } = to
    await em.nativeUpdate(recordEntities[kind], { estateId, id }, fields)
  }
  for (const [kind, records] of byKind(Object.values(added)))
    await em.insertMany(
      recordEntities[kind],
      records.map((record) => ({ ...record, estateId })),
    )
}

function byKind(presences: readonly { readonly kind: Kind; readonly record: AnyRecord }[]): Map<Kind, AnyRecord[]> {
  const groups = new Map<Kind, AnyRecord[]>()
  for (const { kind, record } of presences) {
    const group = groups.get(kind)
    if (group) group.push(record)
    else groups.set(kind, [record])
  }
  return groups
}
