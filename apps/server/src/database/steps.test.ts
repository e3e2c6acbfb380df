import { SCHEMA } from '@insel/core/testing'
import { readdirSync } from 'node:fs'
import { expect, it } from 'vitest'

it('with each step of the schema, what an Insel of that schema records is kept in the core', () => {
  const steps = readdirSync(new URL('steps/', import.meta.url)).filter((name) => name.startsWith('step-'))
  expect(steps).toHaveLength(SCHEMA)
})
