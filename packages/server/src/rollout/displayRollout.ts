import type { DataSource } from 'typeorm'
import { policyBook, switchesAstray, type PlacementState, type ProgramFound } from '@bichroma/core/rollout'
import type { DisplayRollout } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { Refusal } from '../http/problem'
import { displayEntity, workstationEntity } from '../register/entities'
import { studioSettings } from '../studio/settings'
import { programFoundEntity } from './entities'
import {
  foundJson,
  foundShown,
  placementJson,
  placementShown,
  rolloutOf,
  wantedJson,
  wantedShown,
  type FoundJson,
  type PlacementJson,
  type WantedJson,
} from './listRollout'
import { newestFound, newestOpen, standingSql } from './standingSql'
import { rulesOf } from './upkeep'

/** Rows of each history that are told. */
const mostTold = 40

/** One display’s part in rollout. */
export async function displayRollout(data: DataSource, hub: CourierHub, id: number): Promise<DisplayRollout> {
  const [row] = await rolloutOf(data, hub, [id])
  const display = await data.getRepository(displayEntity).findOneBy({ id })
  if (!row || !display) throw new Refusal('not-found', `There is no display ${id} in use.`)
  const held = (await rulesOf(data, [id])).get(id)
  const placements = await data.query<
    { told: string; state: PlacementState; by: string | null; found: string | null }[]
  >(
    `SELECT ${placementJson} AS told, ${standingSql} AS state, account.name AS by,
       CASE WHEN found.id IS NOT NULL THEN json_object('path', found.path, 'by', found.by, 'waitsFor', found.waits_for) END AS found
     FROM placement JOIN display ON display.id = placement.display_id LEFT JOIN account ON account.id = placement.account_id
       LEFT JOIN found ON found.id = ${newestFound('placement.display_id', 'placement.workstation_id')}
     WHERE placement.display_id = ? ORDER BY placement.id DESC LIMIT ${mostTold}`,
    [id],
  )
  const wanted = await data.query<{ told: string }[]>(
    `SELECT ${wantedJson} AS told FROM wanted WHERE display_id = ? ORDER BY id DESC LIMIT ${mostTold}`,
    [id],
  )
  const found = await data.query<{ told: string; workstation: string }[]>(
    `SELECT ${foundJson} AS told, workstation.name AS workstation FROM found JOIN workstation ON workstation.id = workstation_id
     WHERE display_id = ? ORDER BY found.id DESC LIMIT ${mostTold}`,
    [id],
  )
  const links = await data.query<{ workstationId: number; workstationName: string; state: PlacementState | null }[]>(
    `SELECT display_link.workstation_id AS workstationId, workstation.name AS workstationName, ${standingSql} AS state
     FROM display_link JOIN display ON display.id = display_link.display_id
       JOIN workstation ON workstation.id = display_link.workstation_id
       LEFT JOIN placement ON placement.id = ${newestOpen('display_link.display_id', 'display_link.workstation_id')}
       LEFT JOIN found ON found.id = ${newestFound('display_link.display_id', 'display_link.workstation_id')}
     WHERE display_link.display_id = ? ORDER BY workstation.name`,
    [id],
  )
  const programs: ProgramFound[] = await data
    .getRepository(programFoundEntity)
    .findBy({ workstationId: row.workstationId })
  const { operatingSystem } = await data.getRepository(workstationEntity).findOneByOrFail({ id: row.workstationId })
  const { profile } = await studioSettings(data)
  const at = { shownSlot: row.shownSlot, courierOnline: row.courierOnline }
  return {
    row,
    policy: held ? { rules: held.rules, origins: held.origins } : policyBook([])({ display: id, room: 0, aim: null }),
    placements: placements.map((p) =>
      placementShown(
        JSON.parse(p.told) as PlacementJson,
        p.state,
        p.by,
        p.found === null ? null : (JSON.parse(p.found) as { path: string; by: string; waitsFor: null }),
        at,
      ),
    ),
    wanted: wanted.map((w) => wantedShown(JSON.parse(w.told) as WantedJson)),
    found: found.map((f) => ({ ...foundShown(JSON.parse(f.told) as FoundJson), workstation: f.workstation })),
    programs: switchesAstray(programs, operatingSystem, profile.version),
    programsRead: programs.length,
    curves: display.curves,
    links: links.map((l) => ({ ...l, courierOnline: hub.helloOf(l.workstationId) !== null })),
  }
}
