export { fileName, writeCsv } from '@insel/core'

/**
 * Gives the browser a file to keep.
 *
 * @param name as `fileName` makes it
 */
export function download(name: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  // The browser has taken the file by the next task.
  setTimeout(() => URL.revokeObjectURL(url), 0)
}
