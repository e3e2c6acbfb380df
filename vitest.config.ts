import { defaultServerConditions } from 'vite'
import { defineConfig } from 'vitest/config'

const conditions = ['@insel/source', ...defaultServerConditions]
const KERNEL = 'packages/core/src/reach/namespaces.test.ts'
const resolve = { conditions }
const ssr = { resolve: { conditions } }

export default defineConfig({
  test: {
    // Test files share what they import: nothing here keeps a state that another file could see, and half the time is saved.
    isolate: false,
    maxWorkers: 2,
    // `./insel test --long` tries everything there is.
    provide: { isLong: process.env['INSEL_LONG'] === '1' },
    projects: [
      {
        extends: true,
        resolve,
        ssr,
        test: {
          name: 'core',
          testTimeout: 30_000,
          include: ['packages/**/*.test.ts', 'workbench/demo/**/*.test.ts', 'scripts/{restore,words}/**/*.test.ts'],
          exclude: [KERNEL, '**/node_modules/**'],
        },
      },
      {
        extends: true,
        resolve,
        ssr,
        // One environment for all, named here: a file that names its own is given its own process, with everything read again.
        test: {
          name: 'web',
          environment: 'jsdom',
          setupFiles: 'apps/web/src/testing/each-file.ts',
          testTimeout: 30_000,
          include: ['apps/web/**/*.test.{ts,tsx}'],
        },
      },
      {
        extends: true,
        resolve,
        ssr,
        // Machines of namespaces that wait for each other's answers: they need time, and hardly a processor.
        test: { name: 'kernel', testTimeout: 60_000, include: [KERNEL] },
      },
      {
        extends: true,
        resolve,
        ssr,
        test: {
          name: 'server',
          include: ['apps/server/**/*.test.ts', 'workbench/*.test.ts', 'scripts/*.test.ts'],
          globalSetup: 'apps/server/src/testing/cluster.ts',
          hookTimeout: 60_000,
          testTimeout: 60_000,
          fileParallelism: false,
        },
      },
      {
        extends: true,
        resolve,
        ssr,
        // The one command, started as people start it.
        test: {
          name: 'commands',
          include: ['scripts/commands/**/*.test.ts'],
          globalSetup: 'apps/server/src/testing/cluster.ts',
          hookTimeout: 60_000,
          testTimeout: 60_000,
          fileParallelism: false,
        },
      },
    ],
  },
})
