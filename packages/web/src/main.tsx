import { QueryClientProvider } from '@tanstack/react-query'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter } from 'react-router'
import { queryClient } from './api/queries'
import { Areas } from './Areas'
import { ThemeRoot } from './theme/ThemeRoot'
import './theme/base.css'

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={queryClient}>
      <ThemeRoot>
        <BrowserRouter>
          <Areas />
        </BrowserRouter>
      </ThemeRoot>
    </QueryClientProvider>
  </StrictMode>,
)
