export { SEED_VOLUME } from './cloud-init.js'
export { firstBootOf, fullNameOf, TO_BE_FILLED_IN, type BootAdapter, type FirstBoot } from './first-boot.js'
export { bootForms, seedFiles, type BootForm } from './forms.js'
export type { BootFile } from './network-files.js'
