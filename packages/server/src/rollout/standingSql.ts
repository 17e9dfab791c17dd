/**
 * How a placement stands, as core’s standingOf says it, for queries that join `placement`, `found` (the newest) and
 * `display`; see the tenth migration, which keeps it in display_now.
 */
export const standingSql = `CASE WHEN placement.id IS NULL THEN NULL
  WHEN placement.state = 'withdrawn' THEN 'withdrawn'
  WHEN placement.state = 'queued' THEN 'queued'
  WHEN placement.verified_at IS NULL OR found.id IS NULL THEN 'placed'
  WHEN placement.profile_hash IS NULL AND found.path IS NOT NULL THEN 'overridden'
  WHEN placement.profile_hash IS NOT NULL AND (found.path IS NULL OR found.hash IS NULL) THEN 'missing'
  WHEN placement.profile_hash IS NOT NULL AND found.hash <> placement.profile_hash THEN 'overridden'
  WHEN found.waits_for IS NOT NULL THEN 'waiting'
  WHEN placement.slot IS NOT NULL AND placement.slot <> display.active_slot THEN 'out of step'
  ELSE 'in force' END`

/** The newest found of a display on a workstation, by SQL expressions of both. */
export const newestFound = (display: string, workstation: string): string =>
  `(SELECT MAX(id) FROM found AS last WHERE last.display_id = ${display} AND last.workstation_id = ${workstation})`

/** What was agreed to last of a display on a workstation and still holds. */
export const newestOpen = (display: string, workstation: string): string =>
  `(SELECT MAX(id) FROM placement AS open WHERE open.display_id = ${display} AND open.workstation_id = ${workstation}
     AND open.state <> 'withdrawn')`
