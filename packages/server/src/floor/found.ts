import { In, Not, type DataSource } from 'typeorm'
import { moveDisplaySchema, validate, type FoundDisplay } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { insertion } from '../data/atomically'
import { idOf, type Api } from '../http/api'
import { Refusal } from '../http/problem'
import type { Ledger } from '../ledger/ledger'
import { displayEntity, displayEventEntity, roomEntity, workstationEntity } from '../register/entities'
import { placementEntity } from '../rollout/entities'
import { isHeld } from '../runs/heldByRuns'
import { runEntity } from '../runs/entities'

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
}

/** What couriers report and the register does not know there: displays that nobody registered, and displays that moved. */
async function foundDisplays(data: DataSource, hub: CourierHub): Promise<FoundDisplay[]> {
  const reported = hub.reportedDisplays()
  if (!reported.length) return []
  const displays = data.getRepository(displayEntity)
  // Thousands may be reported: one look at the few columns that tell, by the index of serial numbers.
  const rows = await data.query<Known[]>(
    `SELECT id, serial, name, workstation_id AS workstationId, limits_id AS limitsId, check_every_days AS checkEveryDays
     FROM display WHERE serial IN (SELECT value FROM json_each(?))`,
    [JSON.stringify(reported.map((r) => r.display.serial))],
  )
  const known = new Map(rows.map((d) => [d.serial, d]))
  const found = reported
    .filter(({ workstationId, display }) => known.get(display.serial)?.workstationId !== workstationId)
    .slice(0, mostFound)
  if (!found.length) return []
  const ids = found.flatMap((f) => [f.workstationId, known.get(f.display.serial)?.workstationId ?? f.workstationId])
  const workstations = new Map(
    (await data.getRepository(workstationEntity).findBy({ id: In([...new Set(ids)]) })).map((w) => [w.id, w]),
  )
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
            }
          : null,
        like: alike && { limitsId: alike.limitsId, checkEveryDays: alike.checkEveryDays },
      }
    }),
  )
}

/** Displays that were found, and those that go to another workstation. */
export function foundRoutes(api: Api, { data, hub, ledger, now, changed }: FoundServices): void {
  api.on('GET /found', () => foundDisplays(data, hub))

  api.on('POST /displays/:id/move', async (request) => {
    const id = idOf(request)
    const { workstationId } = validate(moveDisplaySchema, request.body)
    const display = await data.getRepository(displayEntity).findOneBy({ id })
    if (!display) throw new Refusal('not-found', `There is no display ${id}.`)
    const [to, from] = await Promise.all(
      [workstationId, display.workstationId].map((w) => data.getRepository(workstationEntity).findOneBy({ id: w })),
    )
    if (!to) throw new Refusal('invalid-input', '“Workstation” names none that is there; choose one.', 'workstationId')
    if (to.id === display.workstationId) throw new Refusal('conflict', `${display.name} is at ${to.name} already.`)
    if (await data.getRepository(runEntity).existsBy({ displayId: id, state: isHeld() }))
      throw new Refusal('conflict', `${display.name} is in a run. Wait for it, or stop it first.`)
    const { manager } = data
    const text = `Moved from ${from?.name ?? 'another workstation'} to ${to.name}`
    ledger.change(
      request.account,
      (take) => {
        take(manager.createQueryBuilder().update(displayEntity).set({ workstationId }).where({ id }))
        take(insertion(manager, displayEventEntity, { displayId: id, at: now(), kind: 'moved', text }))
        // What lies on the workstation that it left says nothing of it any more.
        take(
          manager
            .createQueryBuilder()
            .update(placementEntity)
            .set({ state: 'withdrawn', message: `The display moved to ${to.name}.` })
            .where({ displayId: id, state: Not('withdrawn') }),
        )
      },
      () => ({
        act: 'changed',
        thing: 'display',
        id,
        name: display.name,
        changes: [{ field: 'workstation', from: from?.name, to: to.name }],
      }),
    )
    changed()
    return {}
  })
}

interface FoundServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly ledger: Ledger
  readonly now: () => number
  readonly changed: () => void
}
