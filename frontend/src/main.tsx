import '@fontsource/barlow-semi-condensed/latin-400.css'
import '@fontsource/barlow-semi-condensed/latin-500.css'
import '@fontsource/barlow-semi-condensed/latin-600.css'
import '@fontsource/barlow-semi-condensed/latin-700.css'
import './theme.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { App } from './App'
import { UpdateSign } from './components/UpdateSign'
import { SettingsProvider } from './settings'

const client = new QueryClient({
  defaultOptions: {
    queries: { networkMode: 'always', retry: 1, staleTime: 2_000, refetchOnWindowFocus: true },
    mutations: { networkMode: 'always' },
  },
})

const root = document.getElementById('root')
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <SettingsProvider>
          <BrowserRouter>
            <App />
            <UpdateSign />
          </BrowserRouter>
        </SettingsProvider>
      </QueryClientProvider>
    </StrictMode>,
  )
