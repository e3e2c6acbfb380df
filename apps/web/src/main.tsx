import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { RouterProvider } from 'react-router'
import { Toaster } from 'sonner'
import { router } from './app/routes'
import { followSystem, useTheme } from './lib/theme'
import { RouterState } from './lib/use-go'
import './index.css'

followSystem()

const client = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false } } })

function App() {
  return (
    <QueryClientProvider client={client}>
      <RouterState value={router}>
        <RouterProvider router={router} />
      </RouterState>
      <Toaster
        theme={useTheme()}
        position="bottom-left"
        toastOptions={{
          duration: 9000,
          classNames: { toast: '!bg-sheet !text-ink !border-rule !rounded-md !font-sans', actionButton: '!bg-accent !text-accent-ink' },
        }}
      />
    </QueryClientProvider>
  )
}

const root = document.getElementById('root')
if (!root) throw new Error('the page has no #root')
createRoot(root).render(
  <StrictMode>
    <App />
  </StrictMode>,
)
