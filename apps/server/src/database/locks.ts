/**
 * Numbers of Insel's own for PostgreSQL's advisory locks.
 *
 * @see PostgreSQL manual, section 13.3.5
 */
export const LOCKS = {
  /** Held while the schema is changed, so that two servers starting at once do not both change it. */
  migration: 1_953_722,
  /** Held while the dataset of systems is read in, so that two servers starting at once do not both do it. */
  catalogue: 1_953_723,
  /** With the id of an estate: held by the server whose turn it is to change it. */
  turn: 1_953_725,
  /** Held shared by every running server, so that nobody replaces the database under one. */
  server: 1_953_724,
} as const
