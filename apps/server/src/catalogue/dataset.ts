import { readdir, readFile } from 'node:fs/promises'
import { existsSync } from 'node:fs'
import { join } from 'node:path'

/** Where Debian's `osinfo-db` puts the open dataset of operating systems. */
const FOLDER = '/usr/share/osinfo'
/** The dataset's own name. */
export const DATASET = 'osinfo-db'

/** The version of the installed dataset, its day as `YYYYMMDD`; undefined where it is not installed. */
export async function datasetVersion(folder = FOLDER): Promise<string | undefined> {
  if (!existsSync(join(folder, 'VERSION'))) return undefined
  return (await readFile(join(folder, 'VERSION'), 'utf8')).trim()
}

/** Every file of the dataset on systems, in a fixed order. */
export async function datasetFiles(folder = FOLDER): Promise<readonly { readonly name: string; readonly text: string }[]> {
  const names = (await readdir(join(folder, 'os'), { recursive: true })).filter((name) => name.endsWith('.xml')).sort()
  return Promise.all(names.map(async (name) => ({ name, text: await readFile(join(folder, 'os', name), 'utf8') })))
}
