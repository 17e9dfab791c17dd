import { App as AntdApp, ConfigProvider } from 'antd'
import { useLayoutEffect, type ReactNode } from 'react'
import { antdTheme, palettes } from './tokens'
import { useInterface } from './useInterface'

/** Gives Ant Design and the stylesheet the chosen theme. */
export function ThemeRoot({ children }: { children: ReactNode }) {
  const name = useInterface((s) => s.theme)
  useLayoutEffect(() => {
    const root = document.documentElement
    root.dataset.theme = name
    root.style.colorScheme = name
    for (const [token, value] of Object.entries(palettes[name]))
      root.style.setProperty(`--${token.replace(/[A-Z0-9]/g, (c) => `-${c.toLowerCase()}`)}`, value)
  }, [name])
  return (
    <ConfigProvider theme={antdTheme(name)} wave={{ disabled: true }}>
      <AntdApp style={{ height: '100%' }}>{children}</AntdApp>
    </ConfigProvider>
  )
}
