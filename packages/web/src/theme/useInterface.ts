import { create } from 'zustand'
import { persist } from 'zustand/middleware'
import type { ThemeName } from './tokens'

interface InterfaceState {
  theme: ThemeName
  paletteOpen: boolean
  keysOpen: boolean
  setTheme: (theme: ThemeName) => void
  setPaletteOpen: (open: boolean) => void
  setKeysOpen: (open: boolean) => void
}

/** What the interface alone knows. The theme is kept between visits. */
export const useInterface = create<InterfaceState>()(
  persist(
    (set) => ({
      theme: 'dark',
      paletteOpen: false,
      keysOpen: false,
      setTheme: (theme) => set({ theme }),
      setPaletteOpen: (paletteOpen) => set({ paletteOpen }),
      setKeysOpen: (keysOpen) => set({ keysOpen }),
    }),
    { name: 'bichroma-interface', partialize: ({ theme }) => ({ theme }) },
  ),
)
