export { proposeMigration, type MigrationProposal } from './propose.js'
