import { commandShape, commandTypes, kinds, verbOf, type Fields } from '@insel/core'
import { Type } from 'class-transformer'
import { Equals, IsBoolean, IsObject, ValidateNested } from 'class-validator'
import { classOfFields, FollowsField, MayBeMissing, type FieldsClass } from './follows-field.js'

const idField = { type: 'ref', to: 'record', label: 'Id', doc: 'The record’s id.' } as const

function decorate(target: FieldsClass, property: string, ...decorators: PropertyDecorator[]): void {
  for (const decorator of decorators) decorator(target.prototype as object, property)
}

/** A command's class: its type, and what the type asks for. */
function classOfCommand(type: string): FieldsClass {
  const shape = commandShape(type)
  if (!shape) throw new Error(`${type} is not a command`)
  if ('verb' in shape) {
    const { id, ...fields }: Fields = verbOf(shape.verb)?.fields ?? {}
    const made = classOfFields(type, fields, 'whole', id !== undefined)
    decorate(made, 'type', Equals(type))
    return made
  }
  const made = classOfFields(type, {}, 'whole', false)
  decorate(made, 'type', Equals(type))
  const nested = (property: 'record' | 'changes', inner: FieldsClass) =>
    decorate(
      made,
      property,
      IsObject({ message: `${property} is missing: an object with the fields.` }),
      ValidateNested({ message: `${property} is an object with the fields.` }),
      Type(() => inner),
    )
  const fields = kinds[shape.kind].fields
  if (shape.action === 'add') nested('record', recordClasses[shape.kind].whole)
  else decorate(made, 'id', FollowsField(idField))
  if (shape.action === 'update') nested('changes', classOfFields(`${shape.kind}Changes`, fields, 'part', false))
  if (shape.action === 'remove') decorate(made, 'withReferring', MayBeMissing(), IsBoolean({ message: 'withReferring is true or false.' }))
  return made
}

/** The class of each kind's record as one writes it; forms validate with it. */
export const recordClasses = Object.fromEntries(
  Object.values(kinds).map((kind) => [kind.name, { whole: classOfFields(`${kind.name}Record`, kind.fields, 'whole', true) }]),
) as Record<string, { whole: FieldsClass }> as { readonly [K in keyof typeof kinds]: { readonly whole: FieldsClass } }

/** The class of each command, by type. */
export const commandClasses: ReadonlyMap<string, FieldsClass> = new Map(commandTypes.map((type) => [type, classOfCommand(type)]))
