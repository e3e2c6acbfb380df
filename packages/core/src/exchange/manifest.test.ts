import { createHash } from 'node:crypto'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checkManifest, readManifest } from './index.js'

describe('a package’s manifest', () => {
  // DMTF DSP0243: a line is an algorithm, the file in brackets, an equals sign and the digest; written here by its text.
  it('is read line by line, whatever ends the lines', () => {
    const text = 'SHA256(a.ovf)= AB12\r\nSHA1 (disk one.img) =cd34\n\nSHA512(b)= ef\n'
    expect(readManifest(text)).toEqual([
      { algorithm: 'SHA256', file: 'a.ovf', digest: 'ab12' },
      { algorithm: 'SHA1', file: 'disk one.img', digest: 'cd34' },
      { algorithm: 'SHA512', file: 'b', digest: 'ef' },
    ])
  })

  it.each(['', 'MD5(a)= 00', 'SHA256(a)= xyz', 'SHA256 a = 00', 'SHA256()= 00'])('“%s” says nothing', (text) =>
    expect(readManifest(text)).toEqual([]),
  )

  it('what it says of a file is what Node’s own crypto works out, or the file differs', () =>
    fc.assert(
      fc.property(
        fc.string(),
        fc.string(),
        fc.constantFrom('SHA1' as const, 'SHA256' as const, 'SHA512' as const),
        (content, said, algorithm) => {
          const digest = (text: string) => createHash(algorithm.toLowerCase()).update(text).digest('hex')
          const [checked] = checkManifest(readManifest(`${algorithm}(f)= ${digest(said)}`), [
            { name: 'f', digests: { [algorithm]: digest(content) } },
          ])
          expect(checked?.verdict).toBe(content === said ? 'as the manifest says' : 'differs from the manifest')
        },
      ),
    ))

  it('a digest of another algorithm proves nothing', () =>
    expect(checkManifest(readManifest('SHA256(f)= 00'), [{ name: 'f', digests: { SHA1: '00' } }])).toEqual([
      { file: 'f', verdict: 'differs from the manifest' },
    ]))

  it('manifest and certificate are not held against themselves', () =>
    expect(
      checkManifest(
        [],
        [
          { name: 'a.mf', digests: {} },
          { name: 'a.cert', digests: {} },
          { name: 'b', digests: {} },
        ],
      ),
    ).toEqual([{ file: 'b', verdict: 'not in the manifest' }]))
})
