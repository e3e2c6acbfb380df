import { defaultServerConditions } from 'vite'
import { defineConfig } from 'vitest/config'

const conditions = ['@insel/source', ...defaultServerConditions]
const resolve = { conditions }
const ssr = { resolve: { conditions } }

export default defineConfig({
  test: {
    // Test files share what they import: nothing here keeps a state that another file could see, and half the time is saved.
    isolate: false,
    maxWorkers: 2,
    projects: [
      {
        extends: true,
        resolve,
        ssr,
        test: {
          name: 'core',
          testTimeout: 30_000,
          include: ['packages/**/*.test.ts', 'scripts/demo/**/*.test.ts', 'apps/web/**/*.test.{ts,tsx}'],
        },
      },
      {
        extends: true,
        resolve,
        ssr,
        test: {
          name: 'server',
          include: ['apps/server/**/*.test.ts', 'scripts/*.test.ts', 'scripts/commands/**/*.test.ts'],
          globalSetup: 'apps/server/src/testing/cluster.ts',
          hookTimeout: 60_000,
          testTimeout: 60_000,
          fileParallelism: false,
        },
      },
    ],
  },
})
