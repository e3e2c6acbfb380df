// Its own file, so that the board is there before what works out a migration is fetched.
export { proposeMigration } from '@insel/core'
