import { SCHEMA } from '@insel/core/testing'
import { readdirSync } from 'node:fs'
import { expect, it } from 'vitest'

it('with each migration of the tables, what an Insel of that schema records is kept in the core', () => {
  const migrations = readdirSync(new URL('migrations/', import.meta.url)).filter((name) => name.startsWith('migration-'))
  expect(migrations).toHaveLength(SCHEMA)
})
