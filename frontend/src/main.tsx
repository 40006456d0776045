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
import { ApiError } from './api/client'
import { UpdateSign } from './components/UpdateSign'
import { sweep } from './model/device'
import { SettingsProvider } from './settings'

/** Once more where nothing came back or the server failed; what it refused stays refused. */
const retry = (count: number, fault: Error): boolean =>
  count < 1 && (!(fault instanceof ApiError) || fault.offline || fault.problem.status >= 500)

const client = new QueryClient({
  defaultOptions: {
    queries: { networkMode: 'always', retry, staleTime: 2_000, refetchOnWindowFocus: true },
    mutations: { networkMode: 'always' },
  },
})

void sweep()

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
