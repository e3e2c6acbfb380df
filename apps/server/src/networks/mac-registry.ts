import { createReadStream, existsSync, statSync } from 'node:fs'
import { createInterface } from 'node:readline'

/** Where Debian's `ieee-data` puts the registry of three-octet prefixes. */
const FILE = '/usr/share/ieee-data/oui.csv'

let registry: Promise<ReadonlyMap<string, string>> | undefined

/**
 * The organisations of MAC prefixes, from the IEEE's registry where Debian's `ieee-data` is installed; read once.
 *
 * @returns by six hexadecimal digits in lower case; undefined where the registry is not installed
 * @see IEEE Registration Authority, MA-L
 */
export function macRegistry(): Promise<ReadonlyMap<string, string>> | undefined {
  if (!existsSync(FILE)) return undefined
  registry ??= readRegistry(FILE)
  return registry
}

/** When the installed registry was made. */
export const registryDate = (): string => statSync(FILE).mtime.toISOString().slice(0, 10)

/** Records begin with `MA-L,`; the organisation may be quoted, and its address may run over several lines. */
async function readRegistry(file: string): Promise<ReadonlyMap<string, string>> {
  const organisations = new Map<string, string>()
  for await (const line of createInterface({ input: createReadStream(file, 'utf8') })) {
    const match = /^MA-L,([0-9A-F]{6}),(?:"((?:[^"]|"")*)"|([^,]*))/.exec(line)
    if (match?.[1]) organisations.set(match[1].toLowerCase(), (match[2] ?? match[3] ?? '').replaceAll('""', '"').trim())
  }
  return organisations
}
