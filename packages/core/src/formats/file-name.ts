/** Names of devices on some systems, whatever comes behind the dot. @source Microsoft, Naming Files, Paths, and Namespaces */
const DEVICE = /^(?:con|prn|aux|nul|com\d|lpt\d)$/i
const LENGTH_MAX = 80

/**
 * A name for a file to keep, of what something is called: letters and digits of any script, dots, hyphens and underscores, so that no
 * shell and no file system reads more in it.
 *
 * @param otherwise what it is called where nothing is left
 * @example fileName('Saturday: puffin / memory', 'md') // 'Saturday-puffin-memory.md'
 */
export function fileName(called: string, ending: string, otherwise = 'insel'): string {
  const allowed = called
    .normalize('NFC')
    .replace(/[^\p{L}\p{N}._-]+/gu, '-')
    .replace(/\.{2,}/g, '.')
    .slice(0, LENGTH_MAX)
  // From the first letter or digit to the last.
  const plain = /[\p{L}\p{N}](?:.*[\p{L}\p{N}])?/u.exec(allowed)?.[0] ?? ''
  const [stem = ''] = plain.split('.')
  return `${plain === '' ? otherwise : DEVICE.test(stem) ? `${otherwise}-${plain}` : plain}.${ending}`
}
