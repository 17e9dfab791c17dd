import type { DisplayTraits } from '@bichroma/bench'

/** What the register is told of a display of a scenario. */
export const displayBody = (
  { name, serial, panel }: DisplayTraits & { readonly name: string },
  care: { readonly workstationId: number; readonly limitsId: number; readonly checkEveryDays: number },
) => ({
  name,
  maker: panel.maker,
  model: panel.model,
  serial,
  firmware: panel.firmware,
  slots: panel.tables.slots,
  panelKind: panel.light.source,
  ...care,
})
