import { fileURLToPath } from 'node:url'
import { defaultServerConditions } from 'vite'
import { defineConfig } from 'vitest/config'

const conditions = ['@insel/source', ...defaultServerConditions]
const core = fileURLToPath(new URL('../../packages/core/src', import.meta.url))

/** The core's tests as a copy of the project runs them whose sources are changed: what imports the core by name gets that copy's, too. */
export default defineConfig({
  resolve: { conditions, alias: { '@insel/core/testing': `${core}/testing/index.ts`, '@insel/core': `${core}/index.ts` } },
  ssr: { resolve: { conditions } },
  test: {
    isolate: false,
    provide: { isLong: false },
    testTimeout: 60_000,
    include: ['packages/core/src/**/*.test.ts', 'workbench/demo/**/*.test.ts'],
    setupFiles: 'scripts/mutants/few-runs.ts',
    // Machines of the kernel's namespaces, programs of this one, and texts that are made to take long: they take as long for each mutant.
    exclude: [
      'packages/core/src/reach/namespaces.test.ts',
      'packages/core/src/formats/{hostile-text,json-shape}.test.ts',
      'packages/core/src/first-boot/**',
      '**/node_modules/**',
    ],
  },
})
