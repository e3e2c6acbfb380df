import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'
import { expose } from 'comlink'

const CHUNK_BYTES = 4 * 1024 * 1024

/** Hashes a file piece by piece, so that an image of many GB needs little memory. Nothing leaves the browser. */
const checksums = {
  /**
   * @param progress called with the bytes done after each piece; false ends the work
   * @returns SHA-256 as 64 hexadecimal digits, or undefined when it was ended
   */
  async sha256(file: File, progress: (bytes: number) => Promise<boolean>): Promise<string | undefined> {
    const hash = sha256.create()
    for (let from = 0; from < file.size; from += CHUNK_BYTES) {
      hash.update(new Uint8Array(await file.slice(from, from + CHUNK_BYTES).arrayBuffer()))
      if (!(await progress(Math.min(from + CHUNK_BYTES, file.size)))) return undefined
    }
    return bytesToHex(hash.digest())
  },
}
export type Checksums = typeof checksums
expose(checksums)
