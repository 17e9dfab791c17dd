import type { DataSource } from 'typeorm'

/** Writes every row anew from what it tells of. */
export async function rebuildDisplays(data: DataSource): Promise<number> {
  await data.query(
    `INSERT OR REPLACE INTO display_now (${sourceColumns}) SELECT ${sourceColumns} FROM display_now_source ORDER BY display_id`,
  )
  await data.query('DELETE FROM display_now WHERE display_id NOT IN (SELECT display_id FROM display_now_source)')
  const [{ rows }] = await data.query<{ rows: number }[]>('SELECT COUNT(*) AS rows FROM display_now')
  return rows
}

/** Displays whose row says something else than what it tells of: none, as long as the triggers keep it. */
export async function strayDisplays(data: DataSource): Promise<number[]> {
  const rows = await data.query<{ id: number }[]>(
    `SELECT DISTINCT display_id AS id FROM (
       SELECT * FROM (SELECT ${sourceColumns} FROM display_now EXCEPT SELECT ${sourceColumns} FROM display_now_source)
       UNION ALL
       SELECT * FROM (SELECT ${sourceColumns} FROM display_now_source EXCEPT SELECT ${sourceColumns} FROM display_now))`,
  )
  return rows.map((r) => r.id)
}

/** Columns of display_now that are made from what it tells of: all but the number of the change. */
const sourceColumns = `display_id, name, words, room_id, workstation_id, slot, label, verdict, judged_at, due_at, lapses_at,
  average_delta_e, run_id, placement_id, placement_state, placement_slot, found_id, wanted_id, newest_run_id,
  differs, lacks_profile, facts`
