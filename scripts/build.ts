import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { buildFolder, root } from '../workbench/places.js'
import { Refusal } from '../workbench/refusal.js'

/** What the built files are made from. */
const SOURCES = ['packages/core/src', 'packages/contract/src', 'apps/server/src', 'apps/web']
const SINGLE = ['package-lock.json', 'tsconfig.base.json']
const PRODUCTS = ['packages/core/dist/index.js', 'packages/contract/dist/index.js', 'apps/server/dist/main.js', 'apps/web/dist/index.html']

function sourceFiles(): string[] {
  const inFolder = (folder: string) =>
    readdirSync(join(root, folder), { recursive: true, withFileTypes: true })
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name))
      .filter((file) => !/\/(dist|node_modules)\//.test(file) && !file.endsWith('.tsbuildinfo'))
  return [...SOURCES.flatMap(inFolder), ...SINGLE.map((file) => join(root, file))].sort()
}

/** A number for all sources together: the same as long as none of them changed. */
function fingerprint(): string {
  const hash = createHash('sha256')
  for (const file of sourceFiles()) hash.update(file).update('\0').update(readFileSync(file)).update('\0')
  return hash.digest('hex')
}

function run(what: string, program: string, args: readonly string[]): void {
  const done = spawnSync(join(root, 'node_modules/.bin', program), [...args], { cwd: root, encoding: 'utf8', maxBuffer: 1 << 26 })
  if (done.status !== 0) throw new Refusal(`${what} failed:\n${done.stdout}${done.stderr}`)
}

/** Builds what changed since the last build: packages and server with tsc, the page with Vite. */
export function build(): void {
  const stamp = join(buildFolder, 'built')
  const now = fingerprint()
  const isCurrent = PRODUCTS.every((file) => existsSync(join(root, file))) && existsSync(stamp) && readFileSync(stamp, 'utf8') === now
  if (isCurrent) return
  process.stdout.write('insel: building ...\n')
  run('Building the server', 'tsc', ['-b', 'apps/server/tsconfig.build.json'])
  run('Building the page', 'vite', ['build', 'apps/web', '--logLevel', 'warn'])
  writeFileSync(stamp, now)
}
