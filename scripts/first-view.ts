import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { root } from '../workbench/places.js'

/** The most that the program of the first view may take on the wire, bytes. */
export const FIRST_VIEW_MAX = 250_000

/** What a browser fetches of the program before it shows the first view, compressed, bytes; from the pages as they are built. */
export function firstViewBytes(): number {
  const dist = join(root, 'apps/web/dist')
  const html = readFileSync(join(dist, 'index.html'), 'utf8')
  const named = readdirSync(join(dist, 'assets')).filter((file) => file.endsWith('.js') && html.includes(file))
  return named.reduce((sum, file) => sum + gzipSync(readFileSync(join(dist, 'assets', file))).length, 0)
}
