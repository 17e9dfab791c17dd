import { operatingSystemNames, operatingSystems, panelKindNames, panelKinds } from '@bichroma/core/register'

/** Columns of an inventory, in the order in which they are written. */
export const inventoryColumns = [
  'serial',
  'name',
  'maker',
  'model',
  'firmware',
  'panel',
  'slots',
  'building',
  'room',
  'workstation',
  'system',
  'system version',
  'limits',
  'days between checks',
  'kept',
] as const
export type InventoryColumn = (typeof inventoryColumns)[number]

/** A line of an inventory: its cells by column; columns that the file does not have are left out. */
export type InventoryCells = Partial<Record<InventoryColumn, string>>

const asked = (text: string) => text.trim().toLowerCase()

/** The kind of panel that a cell names, by its own name or as people read it; undefined for none. */
export const panelOf = (cell: string) =>
  panelKindNames.find((kind) => kind === asked(cell) || panelKinds[kind].toLowerCase() === asked(cell))

/** The system that a cell names. */
export const systemOf = (cell: string) =>
  operatingSystemNames.find(
    (name) => name === asked(cell) || operatingSystems[name].label.toLowerCase() === asked(cell),
  )

/** Cells at which a program for tables would begin to reckon get a mark in front; it is taken off again when they are read. */
export const guarded = (cell: string): string => (/^['=+\-@\t\r]/.test(cell) ? `'${cell}` : cell)
export const unguarded = (cell: string): string => (/^'['=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell)
