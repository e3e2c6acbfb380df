// What kinds and fields are for is long, and no first view says it: the build takes it out of the program (vite.config.ts) but for what
// this module is given.
export { kinds } from '@insel/core'
