import { isObject, jsonFault, jsonShapeFault, type JsonObject } from '../formats/index.js'

/** One of Insel's own kinds of file. */
export interface OwnFile {
  readonly format: string
  readonly version: number
  /** What it is called in sentences, with its article. */
  readonly what: string
  /** The most members and elements that are read, counted together. */
  readonly values: number
}

/**
 * Opens one of Insel's own files: JSON that says its format and its version. Its shape is judged before it is parsed.
 *
 * @param file its text, or the bytes of it in UTF-8
 * @returns its parts, which nobody has read yet, or what is wrong with it as a whole, in a sentence
 * @example openOwnFile(text, { format: 'insel-estate', version: 1, what: 'an estate file', values: 1e6 })
 */
export function openOwnFile(
  file: string | Uint8Array,
  { format, version, what, values }: OwnFile,
): { readonly parts: JsonObject } | { readonly problem: string } {
  const shape = jsonShapeFault(typeof file === 'string' ? new TextEncoder().encode(file) : file, { values })
  if (shape) return { problem: shape }
  let parts: unknown
  try {
    parts = JSON.parse(typeof file === 'string' ? file : new TextDecoder('utf-8', { fatal: true }).decode(file))
  } catch (error) {
    if (error instanceof SyntaxError) return { problem: `This is not JSON: ${error.message}.` }
    // What the decoder throws for bytes that are no UTF-8.
    if (error instanceof TypeError) return { problem: 'This is not text in UTF-8. Choose the file as Insel wrote it.' }
    throw error
  }
  const fault = jsonFault(parts)
  if (fault) return { problem: `${fault.path}: ${fault.message}` }
  if (!isObject(parts) || parts['format'] !== format) return { problem: `This is not ${what}: its “format” is not “${format}”.` }
  if (parts['version'] !== version)
    return { problem: `The file is of version ${String(parts['version'])}; this Insel reads version ${version}.` }
  return { parts }
}
