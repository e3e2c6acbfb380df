/** Values out of JSON that nobody has checked yet: each reader takes what is of the right kind and leaves the rest. */
export type JsonObject = Readonly<Record<string, unknown>>

export const isObject = (value: unknown): value is JsonObject => typeof value === 'object' && value !== null && !Array.isArray(value)

const own = (of: JsonObject, name: string): unknown => (Object.hasOwn(of, name) ? of[name] : undefined)

/** A text, trimmed; undefined for an empty one or another kind of value. */
export function textIn(of: JsonObject, name: string): string | undefined {
  const value = own(of, name)
  return typeof value === 'string' && value.trim() !== '' ? value.trim() : undefined
}

/** A finite number, also where it is written as a text. */
export function numberIn(of: JsonObject, name: string): number | undefined {
  const value = own(of, name)
  const number = typeof value === 'string' && value.trim() !== '' ? Number(value.trim().replace(',', '.')) : value
  return typeof number === 'number' && Number.isFinite(number) ? number : undefined
}

export function objectIn(of: JsonObject, name: string): JsonObject | undefined {
  const value = own(of, name)
  return isObject(value) ? value : undefined
}

export function objectsIn(of: JsonObject, name: string): readonly JsonObject[] {
  const value = own(of, name)
  return Array.isArray(value) ? value.filter(isObject) : []
}

export const has = (of: JsonObject, name: string): boolean => Object.hasOwn(of, name)

/** Without the entries that are undefined. */
export const present = <T extends object>(value: T): { [K in keyof T]: Exclude<T[K], undefined> } =>
  Object.fromEntries(Object.entries(value).filter(([, one]) => one !== undefined)) as never
