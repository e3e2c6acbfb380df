import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defaultClientConditions, defineConfig } from 'vite'

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: { conditions: ['@insel/source', ...defaultClientConditions] },
  worker: { format: 'es' },
  build: {
    target: 'es2022',
    reportCompressedSize: false,
    // What every page needs, in one file: many small ones are packed worse and fetched one by one.
    rolldownOptions: {
      output: {
        advancedChunks: {
          groups: [{ name: 'page', test: /node_modules\/(react|react-dom|scheduler|react-router|@tanstack\/(query-core|react-query))\// }],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8100' } },
})
