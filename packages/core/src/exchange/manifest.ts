/** A digest that a manifest gives for a file of a package. */
export interface ManifestLine {
  readonly algorithm: 'SHA1' | 'SHA256' | 'SHA512'
  readonly file: string
  readonly digest: string
}

/** A manifest has a line for each file of a package; more of a text is not looked at. */
const MANIFEST_MAX = 500_000

/**
 * Reads the manifest of an OVF package: `SHA256(name)= digest`, a line each.
 *
 * @returns lines that can be read; others are left out
 * @see DMTF DSP0243 2.1.0, section 6.5 (1.1.0: section 5.1)
 * @example readManifest('SHA256(a.ovf)= 00…')[0]?.file // 'a.ovf'
 */
export function readManifest(text: string): readonly ManifestLine[] {
  return text
    .slice(0, MANIFEST_MAX)
    .split(/\r?\n/)
    .flatMap((line) => {
      const match = /^(SHA1|SHA256|SHA512)\s*\((.+)\)\s*=\s*([0-9a-f]+)\s*$/i.exec(line)
      const [, algorithm, file, digest] = match ?? []
      return algorithm && file && digest
        ? [{ algorithm: algorithm.toUpperCase() as ManifestLine['algorithm'], file, digest: digest.toLowerCase() }]
        : []
    })
}

/** What became of each file of a package when it was held against the manifest. */
export interface ManifestCheck {
  readonly file: string
  readonly verdict: 'as the manifest says' | 'differs from the manifest' | 'not in the manifest' | 'not in the package'
}

/** Holds the digests of a package's files against its manifest. */
export function checkManifest(
  manifest: readonly ManifestLine[],
  files: readonly { readonly name: string; readonly digests: Readonly<Partial<Record<ManifestLine['algorithm'], string>>> }[],
): readonly ManifestCheck[] {
  const listed = new Map(manifest.map((line) => [line.file, line]))
  return [
    ...files
      .filter(({ name }) => !/\.(mf|cert)$/i.test(name))
      .map(({ name, digests }): ManifestCheck => {
        const line = listed.get(name)
        if (!line) return { file: name, verdict: 'not in the manifest' }
        return { file: name, verdict: digests[line.algorithm] === line.digest ? 'as the manifest says' : 'differs from the manifest' }
      }),
    ...manifest
      .filter(({ file }) => !files.some(({ name }) => name === file))
      .map(({ file }): ManifestCheck => ({ file, verdict: 'not in the package' })),
  ]
}
