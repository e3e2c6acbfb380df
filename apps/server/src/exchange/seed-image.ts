import { SEED_VOLUME, type BootFile } from '@insel/core'
import { packTar } from 'modern-tar'
import { execFile } from 'node:child_process'
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { promisify } from 'node:util'

const run = promisify(execFile)

/** The files of a seed volume as one file: an image to attach, or an archive where the tool for images is not installed. */
export interface SeedImage {
  readonly type: 'application/x-iso9660-image' | 'application/x-tar'
  readonly extension: 'iso' | 'tar'
  readonly bytes: Buffer
}

/** How long making an image of a few kilobytes may take, milliseconds. */
const MOST_MS = 20_000

/**
 * Packs seed files into a small ISO 9660 image with Debian's xorriso; into a tar archive where that is not installed.
 *
 * @param program the tool; another name in tests
 */
export async function seedImage(files: readonly BootFile[], program = 'xorriso'): Promise<SeedImage> {
  const folder = await mkdtemp(join(tmpdir(), 'insel-seed-'))
  try {
    const inside = join(folder, 'files')
    await mkdir(inside)
    for (const { path, text } of files) await writeFile(join(inside, path), text)
    const image = join(folder, 'seed.iso')
    try {
      await run(program, ['-as', 'mkisofs', '-quiet', '-V', SEED_VOLUME, '-J', '-r', '-o', image, inside], { timeout: MOST_MS })
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error
      return { type: 'application/x-tar', extension: 'tar', bytes: await archived(files) }
    }
    return { type: 'application/x-iso9660-image', extension: 'iso', bytes: await readFile(image) }
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

const archived = async (files: readonly BootFile[]): Promise<Buffer> =>
  Buffer.from(
    await packTar(
      files.map(({ path, text }) => ({ header: { name: path, size: Buffer.byteLength(text), type: 'file' as const }, body: text })),
    ),
  )
