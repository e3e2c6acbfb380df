import 'reflect-metadata'
import { readField, type Field, type Fields } from '@insel/core'
import { registerDecorator, ValidateIf, type ValidationArguments } from 'class-validator'

/** A property that follows a field's definition: valid when the core can read it, with the core's sentence when not. */
export function FollowsField(field: Field): PropertyDecorator {
  return (target, property) =>
    registerDecorator({
      name: 'followsField',
      target: target.constructor,
      propertyName: String(property),
      validator: {
        validate: (value: unknown) => readField(field, value).ok,
        defaultMessage: ({ value }: ValidationArguments) => {
          const reading = readField(field, value)
          return reading.ok ? '' : reading.sentence
        },
      },
    })
}

/** A property that may be left out; where it is there, it is judged, also where it is null. */
export const MayBeMissing = (): PropertyDecorator => ValidateIf((_, value) => value !== undefined)

/** A class whose properties follow a kind's or a verb's fields. */
export type FieldsClass = new () => Record<string, unknown>

/**
 * The class-validator class of a set of fields.
 *
 * @param name what the class is called in messages and in the API's description
 * @param fields the definitions; each becomes a property
 * @param mode `whole` wants every required field; `part` takes any of them, as an update does
 * @param withId whether an `id` may be among them
 */
export function classOfFields(name: string, fields: Fields, mode: 'whole' | 'part', withId: boolean): FieldsClass {
  // A class made from data has no members to write down.
  // oxlint-disable-next-line typescript/no-extraneous-class
  const made = { [name]: class {} }[name] as FieldsClass
  const decorate = (property: string, ...decorators: PropertyDecorator[]) => {
    for (const decorator of decorators) decorator(made.prototype as object, property)
  }
  for (const [property, field] of Object.entries(fields)) {
    decorate(property, FollowsField(field))
    // In an update `undefined` leaves a field alone, and `null` clears it where it is optional.
    if (mode === 'part') decorate(property, MayBeMissing())
  }
  if (withId) decorate('id', MayBeMissing(), FollowsField({ type: 'ref', to: name, label: 'Id', doc: '', optional: true }))
  return made
}
