import { Not, type DataSource } from 'typeorm'
import { displayListSchema, needListSchema, type Instrument } from '@bichroma/contract'
import { idOf, type Api } from '../http/api'
import type { CourierHub } from '../couriers/hub'
import { Refusal } from '../http/problem'
import { queryOf } from '../http/query'
import { instrumentEntity, roomEntity } from '../register/entities'
import { workstationsOf } from '../register/workstations'
import type { RunEngine } from '../runs/engine/engine'
import { runEntity } from '../runs/entities'
import { isHeld } from '../runs/heldByRuns'
import { displayDetail } from './displayDetail'
import { listDisplays } from './displayNow'
import { listNeeds } from './needs'
import { pulseOf } from './pulse'
import type { Standings } from './standings'

interface FloorServices {
  readonly data: DataSource
  readonly hub: CourierHub
  readonly engine: RunEngine
  readonly standings: Standings
  readonly now: () => number
}

/** What people look at first: displays with their verdicts, instruments with where they are, the line at the bottom. */
export function floorRoutes(api: Api, { data, hub, engine, standings, now }: FloorServices): void {
  api.on('GET /floor', () => standings.floor(now()))
  api.on('GET /needs', (request) => listNeeds(data, queryOf(request, needListSchema), now()))
  api.on('GET /displays', (request) => listDisplays(data, hub, queryOf(request, displayListSchema), now()))
  api.on('GET /displays/:id', async (request) => {
    const id = idOf(request)
    const display = await displayDetail(data, hub, now(), id)
    if (!display) throw new Refusal('not-found', `There is no display ${id}.`)
    return { ...display, runs: display.runs.map((run) => engine.asItStands(run)) }
  })

  api.on('GET /instruments', async (): Promise<Instrument[]> => {
    const held = await data
      .getRepository(runEntity)
      .find({ select: { id: true, instrumentId: true }, where: { state: isHeld() } })
    const runOf = new Map(held.map((r) => [r.instrumentId, r.id]))
    const rows = await data
      .getRepository(instrumentEntity)
      .find({ where: { kind: Not('elsewhere') }, order: { id: 'ASC' } })
    const places = hub.placesOfInstruments()
    const workstations = new Map((await workstationsOf(data, hub, [...new Set(places.values())])).map((w) => [w.id, w]))
    const rooms = new Map((await data.getRepository(roomEntity).find()).map((r) => [r.id, r]))
    return rows.map(({ broughtBy: _broughtBy, ...i }) => {
      const workstationId = places.get(i.serial) ?? null
      const workstation = workstationId === null ? undefined : workstations.get(workstationId)
      const room = workstation && rooms.get(workstation.roomId)
      return {
        ...i,
        workstationId,
        workstation: workstation?.name ?? null,
        room: room ? { name: room.name, building: room.building } : null,
        runId: runOf.get(i.id) ?? null,
      }
    })
  })

  api.on('GET /pulse', () => pulseOf(data, hub, engine, now()))
}
