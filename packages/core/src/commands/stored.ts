import { CommandError, isId, kinds, readFields, readRecord, readSome, type FieldReading } from '../estate/index.js'
import { commandShape } from './command.js'
import { verbOf } from './verb.js'

/**
 * Reads a command that a record keeps: of a type there is, each of its values in the form in which it is stored. Whether it can be done
 * is said when it is applied.
 *
 * @example readStoredCommand({ type: 'guest.power', guestId, state: 'running' }) // { ok: true, value: … }
 */
export function readStoredCommand(command: unknown): FieldReading {
  if (typeof command !== 'object' || command === null || Array.isArray(command)) return { ok: false, sentence: 'it is not a command.' }
  const { type, ...values } = command as Record<string, unknown>
  const shape = typeof type === 'string' ? commandShape(type) : undefined
  if (!shape) return { ok: false, sentence: `unknown command “${String(type)}”.` }
  try {
    return { ok: true, value: { type, ...readValues(shape, values) } }
  } catch (error) {
    if (error instanceof CommandError) return { ok: false, sentence: error.message }
    throw error
  }
}

function readValues(shape: NonNullable<ReturnType<typeof commandShape>>, values: Record<string, unknown>): object {
  if ('verb' in shape) return given(readFields(verbOf(shape.verb)?.fields ?? {}, values))
  const { fields } = kinds[shape.kind]
  if (shape.action === 'add') {
    const { id, ...record } = objectOf(values['record'])
    return { record: id === undefined ? readFields(fields, record) : readRecord(fields, idOf(id), record) }
  }
  const id = idOf(values['id'])
  if (shape.action === 'update') return { id, changes: readSome(fields, objectOf(values['changes'])) }
  return { id, ...(values['withReferring'] === true ? { withReferring: true } : {}) }
}

/** Without what is empty, as one writes it. */
const given = (values: object): object => Object.fromEntries(Object.entries(values).filter(([, value]) => value !== null))

function objectOf(value: unknown): Record<string, unknown> {
  if (typeof value === 'object' && value !== null && !Array.isArray(value)) return value as Record<string, unknown>
  throw new CommandError('invalid', 'Its fields are missing.')
}

function idOf(value: unknown): string {
  if (isId(value)) return value
  throw new CommandError('invalid', 'Its id is not a UUID in lower case.')
}
