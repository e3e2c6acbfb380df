import { createHash } from 'node:crypto'
import { packTar } from 'modern-tar'
import { describe, expect, it } from 'vitest'
import { PackageError, readPackage } from './ovf-package'

const DESCRIPTOR = '<Envelope><VirtualSystem id="a"/></Envelope>'
const DISK = 'blocks'.repeat(5000)
const entry = (name: string, body: string) => ({ header: { name, size: Buffer.byteLength(body), type: 'file' as const }, body })
// Node's own crypto is the reference for the digests.
const digest = (algorithm: string, text: string) => createHash(algorithm).update(text).digest('hex')
const streamOf = (bytes: Uint8Array) =>
  new ReadableStream<Uint8Array>({
    start(controller) {
      for (let at = 0; at < bytes.length; at += 1000) controller.enqueue(bytes.slice(at, at + 1000))
      controller.close()
    },
  })
const go = () => Promise.resolve(true)

describe('a package of a descriptor, a manifest and disks', () => {
  it('is read as it goes by, and held against its manifest', async () => {
    const manifest = `SHA1(a.ovf)= ${digest('sha1', DESCRIPTOR)}\nSHA256(disk.img)= ${digest('sha256', 'other')}\nSHA256(gone.img)= 00\n`
    const tar = await packTar([entry('a.ovf', DESCRIPTOR), entry('a.mf', manifest), entry('disk.img', DISK), entry('more.txt', 'x')])
    expect(await readPackage(streamOf(tar), go)).toEqual({
      descriptor: DESCRIPTOR,
      manifest: [
        { file: 'a.ovf', verdict: 'as the manifest says' },
        { file: 'disk.img', verdict: 'differs from the manifest' },
        { file: 'more.txt', verdict: 'not in the manifest' },
        { file: 'gone.img', verdict: 'not in the package' },
      ],
    })
  })

  it('without a manifest says so, with none of a descriptor it is refused, and it can be ended', async () => {
    const whole = await packTar([entry('a.ovf', DESCRIPTOR), entry('disk.img', DISK)])
    expect((await readPackage(streamOf(whole), go))?.manifest).toBeUndefined()
    await expect(readPackage(streamOf(await packTar([entry('disk.img', DISK)])), go)).rejects.toThrow('no descriptor')
    await expect(readPackage(streamOf(new TextEncoder().encode('no tar at all'.repeat(100))), go)).rejects.toThrow(PackageError)
    expect(await readPackage(streamOf(whole), () => Promise.resolve(false))).toBeUndefined()
  })
})
