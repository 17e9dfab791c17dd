import { In, type DataSource } from 'typeorm'
import type { FoundDisplay, Kept } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import type { Api } from '../http/api'
import { displayEntity, roomEntity, workstationEntity } from '../register/entities'

/** Found displays that are told at once. */
const mostFound = 100

/** What of a registered display tells whether it stands where it is reported. */
interface Known {
  readonly id: number
  readonly serial: string
  readonly name: string
  readonly workstationId: number
  readonly limitsId: number
  readonly checkEveryDays: number
  readonly kept: Kept
}

const named = (display: { id: number; name: string } | undefined) =>
  display ? { displayId: display.id, name: display.name } : null

/** What couriers report and the register does not know there: displays that nobody registered, and displays that moved. */
async function foundDisplays(data: DataSource, hub: CourierHub): Promise<FoundDisplay[]> {
  const reported = hub.reportedDisplays()
  if (!reported.length) return []
  const displays = data.getRepository(displayEntity)
  // Thousands may be reported: one look at the few columns that tell, by the index of serial numbers.
  const rows = await data.query<Known[]>(
    `SELECT id, serial, name, workstation_id AS workstationId, limits_id AS limitsId, check_every_days AS checkEveryDays, kept
     FROM display WHERE serial IN (SELECT value FROM json_each(?))`,
    [JSON.stringify(reported.map((r) => r.display.serial))],
  )
  const known = new Map(rows.map((d) => [d.serial, d]))
  const found = reported
    .filter(({ workstationId, display: { serial } }) => {
      const registered = known.get(serial)
      return registered?.workstationId !== workstationId || registered.kept !== 'in use'
    })
    .slice(0, mostFound)
  if (!found.length) return []
  const ids = found.flatMap((f) => [f.workstationId, known.get(f.display.serial)?.workstationId ?? f.workstationId])
  const workstations = new Map(
    (await data.getRepository(workstationEntity).findBy({ id: In([...new Set(ids)]) })).map((w) => [w.id, w]),
  )
  const reportedAt = new Map(reported.map((r) => [r.display.serial, r.workstationId]))
  // Displays that are registered where something was found and that are not seen there.
  const unseen = (
    await displays.find({
      select: { id: true, name: true, serial: true, workstationId: true },
      where: { workstationId: In([...new Set(found.map((f) => f.workstationId))]), kept: 'in use' },
      order: { id: 'ASC' },
    })
  ).filter((d) => reportedAt.get(d.serial) !== d.workstationId)
  const rooms = new Map((await data.getRepository(roomEntity).find()).map((r) => [r.id, r.name]))
  return Promise.all(
    found.map(async ({ workstationId, display }): Promise<FoundDisplay> => {
      const { maker, model, serial, firmware, slots, panelKind } = display
      const registered = known.get(serial)
      const alike = registered ?? (await displays.findOneBy({ maker, model }))
      const workstation = workstations.get(workstationId)
      return {
        maker,
        model,
        serial,
        firmware,
        slots,
        panelKind,
        workstationId,
        workstation: workstation?.name ?? '',
        room: rooms.get(workstation?.roomId ?? 0) ?? '',
        moved: registered
          ? {
              displayId: registered.id,
              name: registered.name,
              from: workstations.get(registered.workstationId)?.name ?? 'another workstation',
              kept: registered.kept,
              swappedWith: named(
                unseen.find(
                  (d) => d.workstationId === workstationId && reportedAt.get(d.serial) === registered.workstationId,
                ),
              ),
            }
          : null,
        insteadOf: registered
          ? null
          : named(unseen.find((d) => d.workstationId === workstationId && !reportedAt.has(d.serial))),
        like: alike && { limitsId: alike.limitsId, checkEveryDays: alike.checkEveryDays },
      }
    }),
  )
}

/** Displays that were found. */
export function foundRoutes(api: Api, data: DataSource, hub: CourierHub): void {
  api.on('GET /found', () => foundDisplays(data, hub))
}
