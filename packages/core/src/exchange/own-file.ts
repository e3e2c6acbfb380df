import { isObject, jsonFault, type JsonObject } from '../formats/index.js'

/**
 * Opens one of Insel's own files: JSON that says its format and its version.
 *
 * @param what the file is called in sentences, with its article
 * @returns its parts, which nobody has read yet, or what is wrong with it as a whole, in a sentence
 * @example openOwnFile(text, { format: 'insel-estate', version: 1, what: 'an estate file' })
 */
export function openOwnFile(
  text: string,
  { format, version, what }: { readonly format: string; readonly version: number; readonly what: string },
): { readonly parts: JsonObject } | { readonly problem: string } {
  let parts: unknown
  try {
    parts = JSON.parse(text)
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error
    return { problem: `This is not JSON: ${error.message}.` }
  }
  const fault = jsonFault(parts)
  if (fault) return { problem: `${fault.path}: ${fault.message}` }
  if (!isObject(parts) || parts['format'] !== format) return { problem: `This is not ${what}: its “format” is not “${format}”.` }
  if (parts['version'] !== version)
    return { problem: `The file is of version ${String(parts['version'])}; this Insel reads version ${version}.` }
  return { parts }
}
