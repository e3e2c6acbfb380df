import tailwindcss from '@tailwindcss/vite'
import react from '@vitejs/plugin-react'
import { defaultClientConditions, defineConfig } from 'vite'

export default defineConfig({
  plugins: [react(), tailwindcss()],
  resolve: { conditions: ['@insel/source', ...defaultClientConditions] },
  worker: { format: 'es' },
  build: { target: 'es2022', reportCompressedSize: false },
  server: { proxy: { '/api': 'http://127.0.0.1:8100' } },
})
