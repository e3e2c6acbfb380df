import { differenceInCurrentForm, kindNames, kinds, type Difference, type Field, type Kind } from '@insel/core'
import { BigIntType, EntitySchema } from '@mikro-orm/core'

type Properties = Record<string, { type: unknown; primary?: boolean; nullable?: boolean; fieldName?: string }>

/**
 * The column of a field: its name in snake case, with the unit in one piece.
 *
 * @example columnOf('memoryMiB') // 'memory_mib'
 */
export const columnOf = (field: string): string => field.replace('MiB', 'Mib').replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`)

/** Whole numbers past this need a bigint column. */
const INTEGER_MAX = 2 ** 31 - 1

function typeOf(field: Field): unknown {
  switch (field.type) {
    case 'integer':
      return field.max > INTEGER_MAX ? new BigIntType('number') : 'integer'
    case 'real':
      return 'double'
    case 'bool':
      return 'boolean'
    case 'ref':
      return 'uuid'
    case 'tags':
    case 'refs':
    case 'refMap':
    case 'textMap':
    case 'commands':
    case 'difference':
      return 'json'
    default:
      return 'text'
  }
}

function entityOf(kind: Kind): EntitySchema<Record<string, unknown>> {
  const properties: Properties = {
    estateId: { type: 'uuid', primary: true, fieldName: 'estate_id' },
    id: { type: 'uuid', primary: true },
    ...Object.fromEntries(
      Object.entries<Field>(kinds[kind].fields).map(([name, field]) => [
        name,
        { type: typeOf(field), fieldName: columnOf(name), nullable: field.optional === true },
      ]),
    ),
  }
  return new EntitySchema<Record<string, unknown>>({ name: kind, tableName: kind, properties: properties as never })
}

/** One table a kind, from the kind's definition. */
export const recordEntities = Object.fromEntries(kindNames.map((kind) => [kind, entityOf(kind)])) as Record<
  Kind,
  EntitySchema<Record<string, unknown>>
>

/** The head of an estate: its revision. Locked by every change, so that changes of one estate happen one after the other. */
export interface EstateHead {
  estateId: string
  revision: number
  updatedAt: Date
  /** Changed by a restore: revisions of before are another history. */
  epoch: string
}
export const estateHeadEntity = new EntitySchema<EstateHead>({
  name: 'EstateHead',
  tableName: 'estate_head',
  properties: {
    estateId: { type: 'uuid', primary: true, fieldName: 'estate_id' },
    revision: { type: 'integer' },
    updatedAt: { type: 'Date', columnType: 'timestamptz', fieldName: 'updated_at' },
    epoch: { type: 'uuid' },
  },
})

/** An entry of the change log. Only ever added. */
export interface ChangeRow {
  estateId: string
  revision: number
  at: Date
  actorId: string
  actorName: string
  commands: unknown
  difference: unknown
  touched: string[]
  /** What was touched, and the machines and networks of which that is a part. */
  about: string[]
  reverts: number | null
  /** The id that its sender made up for it, where one was sent. */
  submissionId: string | null
}
export const changeEntity = new EntitySchema<ChangeRow>({
  name: 'Change',
  tableName: 'change',
  properties: {
    estateId: { type: 'uuid', primary: true, fieldName: 'estate_id' },
    revision: { type: 'integer', primary: true },
    at: { type: 'Date', columnType: 'timestamptz' },
    actorId: { type: 'uuid', fieldName: 'actor_id' },
    actorName: { type: 'text', fieldName: 'actor_name' },
    commands: { type: 'json' },
    difference: { type: 'json' },
    touched: { type: 'array', columnType: 'uuid[]' },
    about: { type: 'array', columnType: 'uuid[]' },
    reverts: { type: 'integer', nullable: true },
    submissionId: { type: 'uuid', nullable: true, fieldName: 'submission_id' },
  },
})

/** What a logged change did, with its records as their kinds are defined today. The one reader of logged differences. */
export const differenceOf = ({ difference }: Pick<ChangeRow, 'difference'>): Difference => differenceInCurrentForm(difference as Difference)

/** What a collector was asked for and, once it came, what it sent. */
export interface CollectionRow {
  estateId: string
  id: string
  /** The host or guest that it is of. */
  machineId: string
  /** SHA-256 of the one-time code. */
  codeHash: string
  expiresAt: Date
  receivedAt: Date | null
  text: string | null
}
export const collectionEntity = new EntitySchema<CollectionRow>({
  name: 'Collection',
  tableName: 'collection',
  properties: {
    estateId: { type: 'uuid', primary: true, fieldName: 'estate_id' },
    id: { type: 'uuid', primary: true },
    machineId: { type: 'uuid', fieldName: 'machine_id' },
    codeHash: { type: 'text', fieldName: 'code_hash' },
    expiresAt: { type: 'Date', columnType: 'timestamptz', fieldName: 'expires_at' },
    receivedAt: { type: 'Date', columnType: 'timestamptz', fieldName: 'received_at', nullable: true },
    text: { type: 'text', nullable: true },
  },
})

export const entities = [estateHeadEntity, changeEntity, collectionEntity, ...Object.values(recordEntities)]
