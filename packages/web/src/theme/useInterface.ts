import { create } from 'zustand'
import { persist } from 'zustand/middleware'
import type { ThemeName } from './tokens'

interface InterfaceState {
  theme: ThemeName
  paletteOpen: boolean
  keysOpen: boolean
  /** This browser is to call when a run waits for hands. */
  calls: boolean
  setCalls: (calls: boolean) => void
  setTheme: (theme: ThemeName) => void
  setPaletteOpen: (open: boolean) => void
  setKeysOpen: (open: boolean) => void
}

/** What the interface alone knows. Theme and calls are kept between visits. */
export const useInterface = create<InterfaceState>()(
  persist(
    (set) => ({
      theme: 'dark',
      paletteOpen: false,
      keysOpen: false,
      calls: false,
      setCalls: (calls) => set({ calls }),
      setTheme: (theme) => set({ theme }),
      setPaletteOpen: (paletteOpen) => set({ paletteOpen }),
      setKeysOpen: (keysOpen) => set({ keysOpen }),
    }),
    { name: 'bichroma-interface', partialize: ({ theme, calls }) => ({ theme, calls }) },
  ),
)
