import { QueryClientProvider } from '@tanstack/react-query'
import { configure, render } from '@testing-library/react'
import { App } from 'antd'
import { MemoryRouter, Route, Routes } from 'react-router'
import { queryClient } from '../api/queries'

// A machine that others share can be ten times slower for a while; nothing waits longer than it must.
configure({ asyncUtilTimeout: 60_000 })

/** For tests: shows an element with what the application puts around every view, at an address. */
export const showInApp = (element: React.ReactElement, at = '/') =>
  render(
    <MemoryRouter initialEntries={[at]}>
      <QueryClientProvider client={queryClient}>
        <App>{element}</App>
      </QueryClientProvider>
    </MemoryRouter>,
  )

/** The same for a view that reads its address: it stands at `path`, and every other address says “elsewhere”. */
export const showAt = (path: string, view: React.ReactElement, at: string) =>
  showInApp(
    <Routes>
      <Route path={path} element={view} />
      <Route path="*" element={<p>elsewhere</p>} />
    </Routes>,
    at,
  )
