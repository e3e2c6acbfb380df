import { mkdirSync } from 'node:fs'
import { basename, join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { canReach, clusterOwner } from './cluster.js'

/** The checkout. */
export const root = fileURLToPath(new URL('..', import.meta.url))
/** Where the checkout keeps what it built. */
export const buildFolder = join(root, '.insel')
/** Where Insel keeps its database, its lock and its logs: beside the checkout's build, or where INSEL_STATE says. */
export const stateFolder = process.env['INSEL_STATE'] ?? buildFolder

/**
 * The folder for a private cluster. Beside the checkout's other state; where the database's user cannot get there (a
 * checkout under /root), under /var/lib/insel.
 */
export function clusterFolder(name: string): string {
  mkdirSync(stateFolder, { recursive: true })
  if (canReach(stateFolder, clusterOwner())) return join(stateFolder, name)
  const elsewhere = join('/var/lib/insel', `${basename(resolve(root))}-${hash(resolve(root))}`)
  mkdirSync(elsewhere, { recursive: true, mode: 0o755 })
  return join(elsewhere, name)
}

/** A short number for a path, so that two checkouts of one name do not share a folder. */
function hash(text: string): string {
  let value = 5381
  for (const character of text) value = (value * 33 + character.charCodeAt(0)) >>> 0
  return value.toString(36)
}
