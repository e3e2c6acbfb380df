import {
  commandDoc,
  commandShape,
  commandTypes,
  ESTATE_FORMAT,
  ESTATE_VERSION,
  kindNames,
  kinds,
  verbOf,
  type Field,
  type Fields,
  type Kind,
} from '@insel/core'

/** A JSON Schema, as far as Insel writes it. */
export type JsonSchema = Readonly<Record<string, unknown>>

const shapeFormats: Readonly<Record<string, string>> = { date: 'date', instant: 'date-time' }

/** The JSON Schema of a field's value. */
export function schemaOfField(field: Field): JsonSchema {
  const described = {
    title: field.label,
    description: field.doc,
    ...('default' in field && field.default !== undefined ? { default: field.default } : {}),
  }
  const nullable = (type: string) => (field.optional ? [type, 'null'] : type)
  switch (field.type) {
    case 'text':
      return {
        ...described,
        type: nullable('string'),
        maxLength: field.max,
        ...(shapeFormats[field.shape] ? { format: shapeFormats[field.shape] } : {}),
      }
    case 'integer':
    case 'real':
      return {
        ...described,
        type: nullable(field.type === 'integer' ? 'integer' : 'number'),
        minimum: field.min,
        maximum: field.max,
        ...(field.unit ? { 'x-unit': field.unit } : {}),
      }
    case 'bool':
      return { ...described, type: nullable('boolean') }
    case 'choice':
      return { ...described, type: nullable('string'), enum: field.optional ? [...field.options, null] : field.options }
    case 'ref':
      return { ...described, type: nullable('string'), format: 'uuid', 'x-refers-to': field.to }
    case 'refMap':
      return { ...described, type: nullable('object'), additionalProperties: { type: 'string', format: 'uuid' } }
    case 'textMap':
      return { ...described, type: nullable('object'), additionalProperties: { type: 'string', maxLength: field.max } }
    case 'refs':
      return { ...described, type: 'array', items: { type: 'string', format: 'uuid' }, 'x-refers-to': field.to }
    case 'commands':
      return {
        ...described,
        type: 'array',
        items: { type: 'object', required: ['type'], properties: { type: { type: 'string' } } },
        maxItems: field.max,
      }
    case 'difference':
      return {
        ...described,
        type: nullable('object'),
        required: ['added', 'updated', 'removed'],
        properties: Object.fromEntries(['added', 'updated', 'removed'].map((how) => [how, { type: 'object' }])),
        additionalProperties: false,
      }
    case 'tags':
      return { ...described, type: 'array', items: { type: 'string', maxLength: 40 }, maxItems: 30 }
  }
}

const requiredOf = (fields: Fields) =>
  Object.entries(fields)
    .filter(([, field]) => !field.optional && !('default' in field))
    .map(([name]) => name)
/** The JSON Schema of each of some fields, as the properties of an object. */
export const propertiesOf = (fields: Fields): Record<string, JsonSchema> =>
  Object.fromEntries(Object.entries(fields).map(([name, field]) => [name, schemaOfField(field)]))
const idSchema: JsonSchema = { type: 'string', format: 'uuid' }

/** The JSON Schema of a kind's stored record. */
export const schemaOfRecord = (kind: Kind): JsonSchema => ({
  type: 'object',
  title: kinds[kind].label,
  description: kinds[kind].doc,
  additionalProperties: false,
  required: ['id', ...Object.keys(kinds[kind].fields)],
  properties: { id: idSchema, ...propertiesOf(kinds[kind].fields) },
})

/** The JSON Schema of a command. */
export function schemaOfCommand(type: string): JsonSchema {
  const shape = commandShape(type)
  if (!shape) throw new Error(`${type} is not a command`)
  const object = (required: readonly string[], properties: object): JsonSchema => ({
    type: 'object',
    description: commandDoc(type),
    additionalProperties: false,
    required: ['type', ...required],
    properties: { type: { type: 'string', enum: [type] }, ...properties },
  })
  if ('verb' in shape) {
    const asked = verbOf(shape.verb)?.fields ?? {}
    return object(requiredOf(asked), propertiesOf(asked))
  }
  const fields = kinds[shape.kind].fields
  const inner = (required: readonly string[], properties: object) => ({ type: 'object', additionalProperties: false, required, properties })
  if (shape.action === 'add') return object(['record'], { record: inner(requiredOf(fields), { id: idSchema, ...propertiesOf(fields) }) })
  if (shape.action === 'update') return object(['id', 'changes'], { id: idSchema, changes: inner([], propertiesOf(fields)) })
  return object(['id'], { id: idSchema, withReferring: { type: 'boolean' } })
}

/** The schemas of every record and command, by the name they have in the API's description. */
export const schemas = (): Readonly<Record<string, JsonSchema>> => ({
  ...Object.fromEntries(kindNames.map((kind) => [`record.${kind}`, schemaOfRecord(kind)])),
  ...Object.fromEntries(commandTypes.map((type) => [`command.${type}`, schemaOfCommand(type)])),
})

/** The published JSON Schema (draft 2020-12) of a whole estate as a file. */
export const schemaOfEstateFile = (): JsonSchema => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: `urn:insel:schema:estate:${ESTATE_VERSION}`,
  title: 'An estate of Insel',
  type: 'object',
  additionalProperties: false,
  required: ['format', 'version', 'records'],
  properties: {
    format: { const: ESTATE_FORMAT },
    version: { const: ESTATE_VERSION },
    revision: { type: 'integer', minimum: 0, description: 'Revision of the estate when it was exported.' },
    exportedAt: { type: 'string', format: 'date-time' },
    records: {
      type: 'object',
      additionalProperties: false,
      required: ['estate'],
      properties: Object.fromEntries(kindNames.map((kind) => [kind, { type: 'array', items: { $ref: `#/$defs/${kind}` } }])),
    },
  },
  $defs: Object.fromEntries(kindNames.map((kind) => [kind, schemaOfRecord(kind)])),
})
