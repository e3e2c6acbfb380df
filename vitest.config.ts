import { defaultServerConditions } from 'vite'
import { defineConfig } from 'vitest/config'

const conditions = ['@insel/source', ...defaultServerConditions]
const resolve = { conditions }
const ssr = { resolve: { conditions } }

export default defineConfig({
  test: {
    projects: [
      { resolve, ssr, test: { name: 'core', testTimeout: 30_000, include: ['packages/**/*.test.ts', 'scripts/demo/**/*.test.ts', 'apps/web/**/*.test.{ts,tsx}'] } },
      {
        resolve,
        ssr,
        test: {
          name: 'server',
          include: ['apps/server/**/*.test.ts', 'scripts/commands/**/*.test.ts'],
          globalSetup: 'apps/server/src/testing/cluster.ts',
          hookTimeout: 60_000,
          testTimeout: 60_000,
          fileParallelism: false,
        },
      },
    ],
  },
})
