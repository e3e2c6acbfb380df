/** Names the address of the database to whoever is given it. */
export const DATABASE_URL = Symbol('DATABASE_URL')
