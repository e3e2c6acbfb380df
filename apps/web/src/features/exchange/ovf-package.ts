import { checkManifest, readManifest, XML_MAX, type ManifestCheck, type ManifestLine } from '@insel/core'
import { sha1 } from '@noble/hashes/legacy.js'
import { sha256, sha512 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { createTarDecoder } from 'modern-tar'

/** The descriptor of a package, and how its files compare with its manifest. */
export interface OvfPackage {
  readonly descriptor: string
  /** Undefined where the package has no manifest. */
  readonly manifest: readonly ManifestCheck[] | undefined
}

const hashes = { SHA1: sha1, SHA256: sha256, SHA512: sha512 } as const

/** A package that cannot be read, in a sentence. */
export class PackageError extends Error {}

/**
 * Reads a package, a descriptor in a tar with its manifest and disks, from a stream: nothing of it is kept but the descriptor and the
 * manifest, and every file is hashed as it goes by.
 *
 * @param progress called with the bytes read so far; false ends the work
 * @throws PackageError when it holds no descriptor, or is no tar
 * @see DMTF DSP0243, section 5.3: an OVA is a tar (POSIX.1-1988 ustar), the descriptor first, then the manifest
 */
export async function readPackage(
  stream: ReadableStream<Uint8Array>,
  progress: (bytes: number) => Promise<boolean>,
): Promise<OvfPackage | undefined> {
  let descriptor: { name: string; bytes: Uint8Array } | undefined
  let lines: readonly ManifestLine[] | undefined
  const files: { name: string; digests: Partial<Record<ManifestLine['algorithm'], string>> }[] = []
  let done = 0
  try {
    const entries = stream.pipeThrough(createTarDecoder())
    const reader = entries.getReader()
    for (;;) {
      const { value: entry, done: isOver } = await reader.read()
      if (isOver) break
      const { name, size } = entry.header
      const isDescriptor = /\.ovf$/i.test(name) && !descriptor
      const isManifest = /\.mf$/i.test(name)
      if ((isDescriptor || isManifest) && size > XML_MAX)
        throw new PackageError(`${name} has ${(size / 1e6).toFixed(1)} MB; at most ${XML_MAX / 1e6} MB are read.`)
      const wanted = lines?.find(({ file }) => file === name)?.algorithm ?? 'SHA256'
      const hash = hashes[wanted].create()
      const kept: Uint8Array[] = []
      const body = entry.body.getReader()
      for (;;) {
        const { value: piece, done: isEnd } = await body.read()
        if (isEnd) break
        hash.update(piece)
        if (isDescriptor || isManifest) kept.push(piece)
        done += piece.length
        if (!(await progress(done))) return undefined
      }
      const bytes = joined(kept)
      if (isDescriptor) descriptor = { name, bytes }
      if (isManifest) lines = readManifest(new TextDecoder().decode(bytes))
      files.push({ name, digests: { [wanted]: bytesToHex(hash.digest()) } })
    }
  } catch (error) {
    if (error instanceof PackageError || !(error instanceof Error)) throw error
    throw new PackageError(`This package cannot be read: ${error.message}.`)
  }
  if (!descriptor) throw new PackageError('The package has no descriptor (a file that ends in .ovf).')
  // The descriptor goes by before the manifest says how it is hashed.
  const { name, bytes } = descriptor
  const line = lines?.find(({ file }) => file === name)
  const all = files.map((file) =>
    file.name === name && line ? { name, digests: { [line.algorithm]: bytesToHex(hashes[line.algorithm](bytes)) } } : file,
  )
  return { descriptor: new TextDecoder().decode(bytes), manifest: lines ? checkManifest(lines, all) : undefined }
}

function joined(pieces: readonly Uint8Array[]): Uint8Array {
  const all = new Uint8Array(pieces.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const piece of pieces) {
    all.set(piece, at)
    at += piece.length
  }
  return all
}
