import type { DataSource } from 'typeorm'
import { operatingSystems, panelKinds, type OperatingSystem, type PanelKind } from '@bichroma/core/register'
import { writeCsv } from '@bichroma/core/formats'
import { inventorySchema, validate, type InventoryPlan } from '@bichroma/contract'
import { dayOf } from '../../data/dayOf'
import type { Api } from '../../http/api'
import { Refusal } from '../../http/problem'
import { applyInventory, type InventoryServices } from './apply'
import { guarded, inventoryColumns, type InventoryColumn } from './columns'
import { planInventory } from './plan'

/** Rows that are read at once. */
const rowBlock = 1000

/** The register as a table: out, and in with a preview. */
export function inventoryRoutes(api: Api, services: InventoryServices): void {
  const { data, now, changed } = services
  let taking = false

  api.on('GET /inventory', async (_request, response) => {
    response
      .attachment(`Inventory ${dayOf(now())}.csv`)
      .type('text/csv')
      .send(await inventoryText(data))
  })

  api.on('POST /inventory/plan', async (request): Promise<InventoryPlan> => {
    const { text } = validate(inventorySchema, request.body)
    return (await planInventory(data, text)).plan
  })

  api.on('POST /inventory', async (request, response) => {
    const { text, digest } = validate(inventorySchema, request.body)
    if (digest === undefined) throw new Refusal('invalid-input', 'Look at what it would do first.', 'digest')
    if (taking) throw new Refusal('conflict', 'Another inventory is being taken in at this moment. Wait for it.')
    taking = true
    try {
      const { plan, acts } = await planInventory(data, text)
      if (plan.counts.fault)
        throw new Refusal('invalid-input', `${plan.counts.fault} lines cannot be taken; mend them first.`, 'text')
      if (plan.digest !== digest)
        throw new Refusal('conflict', 'The register has changed since the preview. Look at what it would do once more.')
      const written = await applyInventory(services, acts, request.account)
      response.status(201)
      return { written }
    } finally {
      taking = false
      changed()
    }
  })
}

type Row = { readonly id: number; readonly panel: PanelKind; readonly system: OperatingSystem } & Readonly<
  Record<Exclude<InventoryColumn, 'panel' | 'system'>, string | number | null>
>

/** Every display, those that were put away included, as CSV. */
async function inventoryText(data: DataSource): Promise<string> {
  const parts: string[] = []
  for (let last = 0; ;) {
    const rows = await data.query<Row[]>(
      `SELECT display.id AS id, serial, display.name AS name, maker, model, firmware, panel_kind AS panel, slots, building,
         room.name AS room, workstation.name AS workstation, operating_system AS system,
         system_version AS "system version", limits.name AS limits, check_every_days AS "days between checks", kept
       FROM display JOIN workstation ON workstation.id = workstation_id JOIN room ON room.id = room_id
         JOIN limits ON limits.id = limits_id WHERE display.id > ? ORDER BY display.id LIMIT ${rowBlock}`,
      [last],
    )
    const text = writeCsv(
      inventoryColumns,
      rows.map((row) => {
        const told = { ...row, panel: panelKinds[row.panel], system: operatingSystems[row.system].label }
        return inventoryColumns.map((column) => guarded(String(told[column] ?? '')))
      }),
    )
    parts.push(parts.length ? text.slice(text.indexOf('\n') + 1) : text)
    if (rows.length < rowBlock) return parts.join('')
    last = rows[rows.length - 1].id
    await new Promise((resolve) => setImmediate(resolve))
  }
}
