import { Button } from 'antd'
import { useHotkeys } from 'react-hotkeys-hook'
import { lazy, Suspense, useState } from 'react'
import { NavLink, Outlet, useLocation, useNavigate } from 'react-router'
import { usePulse, useSend, useSession } from '../api/queries'
import { useServerEvents } from '../api/useServerEvents'
import { ask } from '../api/client'
import { useCalls } from './useCalls'
import { useInterface } from '../theme/useInterface'
import { areas, areasFor } from './areas'
import { Arriving } from './Arriving'
import { Mark } from './mark'
import { PulseLine } from './PulseLine'

// They come when they are called for: nothing of them is needed before.
const CommandPalette = lazy(() => import('./CommandPalette').then((m) => ({ default: m.CommandPalette })))
const KeysHelp = lazy(() => import('./KeysHelp').then((m) => ({ default: m.KeysHelp })))

/** Rail, area, pulse line. */
export function Frame() {
  useServerEvents()
  useCalls()
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const { theme, setTheme, paletteOpen, setPaletteOpen, keysOpen, setKeysOpen } = useInterface()
  const account = useSession().data?.account
  const signOut = useSend(() => ask('DELETE', '/session'))
  useHotkeys('mod+k', () => setPaletteOpen(true), { preventDefault: true, enableOnFormTags: true })
  useHotkeys(['shift+?', '?'], () => setKeysOpen(true), { useKey: true })
  useHotkeys(
    areas.map((a) => `g>${a.key}`),
    (_event, { hotkey }) => {
      const area = areas.find((a) => hotkey.endsWith(a.key))
      if (area) void navigate(area.path)
    },
  )
  const counts = useCounts()
  const [open, setOpen] = useState(false)
  return (
    <div className="frame">
      <nav className={open ? 'rail open' : 'rail'} aria-label="Areas">
        <div className="mark">
          <Mark />
          Bichroma
        </div>
        {/* Where there is no room beside the area, the rail folds into this. */}
        <button type="button" className="fold" aria-expanded={open} onClick={() => setOpen(!open)}>
          {pathname === '/account'
            ? 'Your account'
            : (areas.find(({ path }) => path !== '/' && pathname.startsWith(path))?.label ?? areas[0].label)}
          <span aria-hidden>{open ? '▴' : '▾'}</span>
        </button>
        {areasFor(account?.role).map(({ path, label }) => (
          <NavLink key={path} to={path} end={path === '/'} onClick={() => setOpen(false)}>
            {label}
            {counts[label] ? (
              <span className="fig asks" title={`${counts[label]} ask for attention`}>
                {counts[label]}
              </span>
            ) : null}
          </NavLink>
        ))}
        <div className="low">
          <Button type="text" size="small" onClick={() => setPaletteOpen(true)}>
            Go to… <span className="fig quiet">Ctrl K</span>
          </Button>
          <Button
            type="text"
            size="small"
            onClick={() => setTheme(theme === 'dark' ? 'light' : 'dark')}
            title="Change the theme"
          >
            {theme === 'dark' ? 'Dark theme' : 'Light theme'}
          </Button>
          <Button type="text" size="small" onClick={() => setKeysOpen(true)}>
            Keys <span className="fig quiet">?</span>
          </Button>
          <Button type="text" size="small" onClick={() => void navigate('/account')}>
            Your account
          </Button>
          <Button
            type="text"
            size="small"
            onClick={() => signOut.mutate(undefined)}
            title={`Signed in as ${account?.name}, ${account?.role}`}
          >
            Sign out
          </Button>
        </div>
      </nav>
      <main className="area">
        <Arriving key={pathname.split('/')[1]}>
          <Suspense
            fallback={
              <div className="none" role="status">
                Loading…
              </div>
            }
          >
            <Outlet />
          </Suspense>
        </Arriving>
      </main>
      <PulseLine />
      <Suspense fallback={null}>
        {paletteOpen && <CommandPalette />}
        {keysOpen && <KeysHelp />}
      </Suspense>
    </div>
  )
}

/** How many things of an area ask for attention. */
function useCounts(): Partial<Record<string, number>> {
  const pulse = usePulse().data
  return { Rounds: pulse?.dueToday, Rollout: pulse?.astray }
}
