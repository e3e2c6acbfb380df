import { expose } from 'comlink'
import { PackageError, readPackage, type OvfPackage } from './ovf-package'

/** Reads packages off the page's thread: they have gigabytes. Nothing leaves the browser. */
const packages = {
  async read(file: File, progress: (bytes: number) => Promise<boolean>): Promise<OvfPackage | { readonly sentence: string } | undefined> {
    try {
      return await readPackage(file.stream(), progress)
    } catch (error) {
      if (error instanceof PackageError) return { sentence: error.message }
      throw error
    }
  },
}
export type Packages = typeof packages
expose(packages)
