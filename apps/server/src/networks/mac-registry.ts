import { createReadStream, existsSync, statSync } from 'node:fs'
import Papa from 'papaparse'

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

function readRegistry(file: string): Promise<ReadonlyMap<string, string>> {
  const organisations = new Map<string, string>()
  return new Promise((resolve, reject) => {
    Papa.parse<string[]>(createReadStream(file, 'utf8'), {
      step: ({ data: [registry, prefix, organisation] }) => {
        if (registry === 'MA-L' && prefix) organisations.set(prefix.toLowerCase(), (organisation ?? '').trim())
      },
      complete: () => resolve(organisations),
      error: reject,
    })
  })
}
