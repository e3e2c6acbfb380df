import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { RouterProvider } from 'react-router'
import { Exposure } from './app/exposure'
import { router } from './app/routes'
import { fontsReady } from './lib/fonts'
import { makeQueryClient } from './lib/query-client'
import { followSystem } from './lib/theme'
import { AppRouter } from './lib/use-go'
import './index.css'

followSystem()

const client = makeQueryClient()

function App() {
  return (
    <QueryClientProvider client={client}>
      <Exposure />
      <AppRouter value={router}>
        <RouterProvider router={router} />
      </AppRouter>
    </QueryClientProvider>
  )
}

const root = document.getElementById('root')
if (!root) throw new Error('the page has no #root')
await fontsReady()
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
)
