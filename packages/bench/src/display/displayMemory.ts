import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Triple } from '@bichroma/core/color'
import type { SignalRange } from '@bichroma/core/tables'
import type { PanelTraits } from '../panel/panelSchema'

/** What a display remembers while it is off; what its slots hold is kept beside it, a file each. */
export interface DisplayMemory {
  activeSlot: number
  /** Each slot remembers its own brightness. */
  slots: { label: string | null; holds: boolean; backlight: number }[]
  gains: Triple
  offsets: Triple
  inputRange: SignalRange
  dynamicContrast: boolean
  hours: number
  /** When `hours` was last counted, ms since 1970. */
  countedAt: number
}

/** Where a display keeps its memory. */
export interface DisplayStore {
  recall(): DisplayMemory | null
  remember(memory: DisplayMemory): void
  /** Bytes of a slot's tables, null for an empty one. */
  tables(slot: number): Uint8Array | null
  keepTables(slot: number, bytes: Uint8Array | null): void
}

/** A display as it leaves its factory: bright, every slot with its preset or empty. `hours`: used so far. */
export function factoryMemory(traits: PanelTraits, hours: number, now: number): DisplayMemory {
  const gain = traits.gains?.max ?? 100
  return {
    activeSlot: 1,
    slots: Array.from({ length: traits.tables.slots }, (_, i) => ({
      label: traits.tables.presets[i] ?? null,
      holds: false,
      backlight: traits.control.factory,
    })),
    gains: [gain, gain, gain],
    offsets: [0, 0, 0],
    inputRange: traits.signal.range,
    dynamicContrast: false,
    hours,
    countedAt: now,
  }
}

/** A memory in files below a folder, each replaced as a whole. */
export function fileStore(folder: string, serial: string): DisplayStore {
  const path = (rest: string) => join(folder, `${serial}${rest}`)
  const replace = (to: string, content: string | Uint8Array) => {
    mkdirSync(folder, { recursive: true })
    writeFileSync(`${to}.new`, content)
    renameSync(`${to}.new`, to)
  }
  return {
    recall: () => {
      try {
        return JSON.parse(readFileSync(path('.json'), 'utf8'))
      } catch {
        return null
      }
    },
    remember: (memory) => replace(path('.json'), JSON.stringify(memory)),
    tables: (slot) => {
      try {
        return readFileSync(path(`.slot${slot}`))
      } catch {
        return null
      }
    },
    keepTables: (slot, bytes) =>
      bytes ? replace(path(`.slot${slot}`), bytes) : rmSync(path(`.slot${slot}`), { force: true }),
  }
}

/** A memory that lasts as long as the process. */
export function passingStore(): DisplayStore {
  let kept: DisplayMemory | null = null
  const slots = new Map<number, Uint8Array>()
  return {
    recall: () => kept,
    remember: (memory) => (kept = memory),
    tables: (slot) => slots.get(slot) ?? null,
    keepTables: (slot, bytes) => (bytes ? slots.set(slot, bytes) : slots.delete(slot)),
  }
}
