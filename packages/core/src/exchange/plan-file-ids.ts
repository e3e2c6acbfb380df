import { commandShape, verbOf, type Command } from '../commands/index.js'
import { isId } from '../estate/index.js'
import { isObject, type JsonObject } from '../formats/index.js'

/** Every text in a value from JSON, names of fields included. */
export function textsIn(value: unknown, take: (text: string) => void): void {
  if (typeof value === 'string') take(value)
  else if (Array.isArray(value)) for (const one of value) textsIn(one, take)
  else if (isObject(value))
    for (const [name, one] of Object.entries(value)) {
      take(name)
      textsIn(one, take)
    }
}

/** The same value with other texts in the place of some. */
export function withTexts(value: unknown, put: (text: string) => string): unknown {
  if (typeof value === 'string') return put(value)
  if (Array.isArray(value)) return value.map((one) => withTexts(one, put))
  if (!isObject(value)) return value
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [put(name), withTexts(one, put)]))
}

/** The ids that a command gives to what it makes. */
export function idsMadeBy(command: Command): readonly string[] {
  const shape = commandShape(command.type)
  if (!shape) return []
  const values = command as unknown as JsonObject
  if (!('verb' in shape)) {
    const { record } = values
    return shape.action === 'add' && isObject(record) && isId(record['id']) ? [record['id']] : []
  }
  return Object.entries(verbOf(shape.verb)?.fields ?? {}).flatMap(([name, field]) => {
    if (!('shape' in field) || field.shape !== 'id') return []
    const value = values[name]
    return field.type === 'textMap' ? Object.values(isObject(value) ? value : {}).filter(isId) : isId(value) ? [value] : []
  })
}
