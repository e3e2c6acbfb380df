export { lineages, type Lineage } from './lineage.js'
