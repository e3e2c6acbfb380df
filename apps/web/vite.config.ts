import { createRequire } from 'node:module'
import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { fileURLToPath } from 'node:url'
import { defaultClientConditions, defineConfig, type Plugin } from 'vite'

/** Small modules that the bar and the first view need, whatever else does. */
const shell = new RegExp(
  [
    'apps/web/src/(estate/|checks/(first-checks|checks-remote)\\.|app/(menu-button|wordmark)\\.|features/findings/mark\\.|ui/(button|filter|page)\\.)',
    'apps/web/src/lib/(api|context|keys|on-demand|palette|paths|places|query-param|storage|text-scale|theme|time|use-go|use-media|use-width)\\.',
    'packages/core/src/(capacity/capacity|lists/lists|units/figure)\\.',
    'node_modules/(clsx|lucide-react/dist/esm/(shared|Icon|createLucideIcon))',
  ].join('|'),
)

/** What verbs and their fields are for is read where the API is described; no page says it, and it is a part of the first view. */
const withoutVerbDocs: Plugin = {
  name: 'without-verb-docs',
  apply: 'build',
  transform: {
    filter: { id: /packages\/core\/src\/.*(verbs?|accept-finding)\.ts$/ },
    handler: (code) => ({ code: code.replaceAll(DOC, ''), map: null }),
  },
}

const DOC = /\bdoc: (?:'(?:[^'\\]|\\.)*'|"(?:[^"\\]|\\.)*"|`[^`]*`),?\s*/g
const KINDS = /packages\/core\/src\/estate\/(?:kinds\/[\w-]+|field)\.ts$/

/** What kinds and fields are for is shown in forms alone: it is left out of the program, and fetched with `lib/kind-docs`. */
const withoutKindDocs: Plugin = {
  name: 'without-kind-docs',
  enforce: 'pre',
  apply: 'build',
  async resolveId(source, importer) {
    const isDocs = importer?.endsWith('?docs') === true
    const isDoor = importer?.endsWith('/lib/kind-docs.ts') === true
    if (!isDocs && !isDoor) return null
    const found = isDoor
      ? await this.resolve(fileURLToPath(new URL('../../packages/core/src/estate/kinds/index.ts', import.meta.url)))
      : await this.resolve(source, importer.replace('?docs', ''), { skipSelf: true })
    return found && KINDS.test(found.id) ? `${found.id}?docs` : found
  },
  transform: { filter: { id: KINDS }, handler: (code) => ({ code: code.replaceAll(DOC, ''), map: null }) },
}

/** So many letters tell a file from its next version; every one of some hundred names is in the first view. */
const HASH = 7
/** The files that every page needs. */
const FIRST = new RegExp(String.raw`^assets/(?:page|shell|rolldown-runtime)-[\w-]{${HASH}}\.js$`)

export default defineConfig(({ command }) => ({
  plugins: [withoutVerbDocs, withoutKindDocs, react(), tailwindcss()],
  resolve: {
    conditions: ['@insel/source', ...defaultClientConditions],
    // The package names only its development build, which carries its warnings along; the other one is beside it.
    ...(command === 'build'
      ? {
          alias: {
            'react-router': createRequire(import.meta.url)
              .resolve('react-router')
              .replace(/development.*/, 'production/index.mjs'),
          },
        }
      : {}),
  },
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    reportCompressedSize: false,
    // What the first view brought is there already: it is not named again with everything that is fetched later.
    modulePreload: {
      resolveDependencies: (_, files, { hostType }) => (hostType === 'html' ? files : files.filter((file) => !FIRST.test(file))),
    },
    // What every page needs, in one file: many small ones are packed worse and fetched one by one.
    rolldownOptions: {
      output: {
        chunkFileNames: `assets/[name]-[hash:${HASH}].js`,
        advancedChunks: {
          groups: [
            {
              name: 'page',
              // But for what only a page that is fetched later asks with.
              test: /node_modules\/(react|react-dom|scheduler|react-router|@tanstack\/(query-core|react-query|virtual-core|react-virtual))\/(?!.*\/(useInfiniteQuery|infiniteQueryObserver|useMutation|mutationObserver)\.)/,
            },
            { name: 'shell', test: shell },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8100' } },
}))
