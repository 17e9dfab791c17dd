import { In, type DataSource } from 'typeorm'
import { workstationListSchema, type Page, type Workstation, type yup } from '@bichroma/contract'
import type { CourierHub } from '../couriers/hub'
import { holds, pageOf } from '../data/pageOf'
import { workstationEntity, type WorkstationRow } from './entities'

const shown = (
  { courierKeyHash: _secret, retiredAt: _retired, note: _note, ...rest }: WorkstationRow,
  hub: CourierHub,
): Workstation => ({
  ...rest,
  courierOnline: hub.helloOf(rest.id) !== null,
})

/** Workstations for a list, by name. */
export async function listWorkstations(
  data: DataSource,
  hub: CourierHub,
  asked: yup.InferType<typeof workstationListSchema>,
): Promise<Page<Workstation>> {
  const page = await pageOf<{ id: number }>(data, asked, {
    columns: 'workstation.id AS id',
    from: 'workstation JOIN room ON room.id = workstation.room_id',
    where: [
      { sql: 'workstation.retired_at IS NULL' },
      holds(`workstation.name || ' ' || room.name`, asked.search),
      asked.room !== undefined && { sql: 'room_id = ?', parameters: [Number(asked.room)] },
      asked.courier !== undefined && {
        sql: `workstation.id ${asked.courier === 'away' ? 'NOT ' : ''}IN (SELECT value FROM json_each(?))`,
        parameters: [JSON.stringify(hub.online())],
      },
    ],
    by: 'folded(workstation.name)',
    id: 'workstation.id',
  })
  return {
    ...page,
    items: await workstationsOf(
      data,
      hub,
      page.items.map((w) => w.id),
    ),
  }
}

/** Workstations by their numbers (a few hundred at most), in that order. */
export async function workstationsOf(
  data: DataSource,
  hub: CourierHub,
  ids: readonly number[],
): Promise<Workstation[]> {
  const rows = await data.getRepository(workstationEntity).findBy({ id: In([...ids]) })
  const byId = new Map(rows.map((w) => [w.id, shown(w, hub)]))
  return ids.flatMap((id) => byId.get(id) ?? [])
}

export const workstationOf = async (data: DataSource, hub: CourierHub, id: number): Promise<Workstation> =>
  shown(await data.getRepository(workstationEntity).findOneByOrFail({ id }), hub)
