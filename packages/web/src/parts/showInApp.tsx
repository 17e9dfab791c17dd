import { QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import { App } from 'antd'
import { MemoryRouter } from 'react-router'
import { queryClient } from '../api/queries'

/** For tests: shows an element with what the application puts around every view, at an address. */
export const showInApp = (element: React.ReactElement, at = '/') =>
  render(
    <MemoryRouter initialEntries={[at]}>
      <QueryClientProvider client={queryClient}>
        <App>{element}</App>
      </QueryClientProvider>
    </MemoryRouter>,
  )
