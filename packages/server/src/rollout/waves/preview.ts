import { createHash } from 'node:crypto'
import type { DataSource } from 'typeorm'
import { formatDate } from '@bichroma/core/aims'
import { profileFileName } from '@bichroma/core/profiles'
import { operatingSystems, type OperatingSystem } from '@bichroma/core/register'
import type { PlacementState, Rules } from '@bichroma/core/rollout'
import type { NotInWave, PreviewRow, Selection, WavePreview } from '@bichroma/contract'
import { verdictAt } from '../../aims/verdictAt'
import type { CourierHub } from '../../couriers/hub'
import { studioSettings } from '../../studio/settings'
import { newestFound, newestOpen, standingSql } from '../standingSql'

/** Rows of a preview that are told at once. */
const mostShown = 400
/** Displays that are looked at in one go, so that others are answered in between. */
const blockOf = 1000

/** A row of a preview with what a placement of it needs. */
export interface PlannedRow extends PreviewRow {
  readonly description: string
}

interface ChosenRow {
  displayId: number
  displayName: string
  workstationId: number
  workstationName: string
  operatingSystem: OperatingSystem
  wantedKind: 'profile' | 'none' | 'no profile'
  rules: string
  slot: number | null
  runId: number | null
  profileHash: string | null
  profileName: string | null
  label: string
  luminance: number
  at: number
  state: PlacementState | null
  placedHash: string | null
  path: string | null
  hash: string | null
  ours: number
  /** The courier fell back to the user’s scope here. */
  noRights: number
}

const among = (column: string) => `${column} IN (SELECT value FROM json_each(?))`

/** Conditions of a selection on display_now. */
function chosenBy(selection: Selection, now: number): { sql: string; parameters: unknown[] } {
  const { displays, rooms, aims, systems, models, verdicts, differs } = selection
  const all = [
    displays && { sql: among('now.display_id'), parameters: [JSON.stringify(displays)] },
    rooms && { sql: among('now.room_id'), parameters: [JSON.stringify(rooms)] },
    aims && { sql: among('now.label'), parameters: [JSON.stringify(aims)] },
    systems && { sql: among(`now.facts ->> 'operatingSystem'`), parameters: [JSON.stringify(systems)] },
    models && {
      sql: among(`(now.facts ->> 'maker') || ' ' || (now.facts ->> 'model')`),
      parameters: [JSON.stringify(models)],
    },
    verdicts && { sql: among(verdictAt), parameters: [now, JSON.stringify(verdicts)] },
    differs && { sql: 'now.differs', parameters: [] },
  ].filter((c) => c !== undefined && c !== false)
  return {
    sql: all.map((c) => `AND (${c.sql})`).join(' '),
    parameters: all.flatMap((c): unknown[] => c.parameters),
  }
}

/** Everything that a wave would do, display by display, by number. */
export async function planWave(
  data: DataSource,
  hub: CourierHub,
  selection: Selection,
  now: number,
): Promise<PlannedRow[]> {
  const settings = await studioSettings(data)
  const online = new Set(hub.online())
  const { sql, parameters } = chosenBy(selection, now)
  const planned: PlannedRow[] = []
  for (let after = 0; ;) {
    const rows = await data.query<ChosenRow[]>(
      `SELECT at.display_id AS displayId, now.name AS displayName, at.workstation_id AS workstationId,
         workstation.name AS workstationName, operating_system AS operatingSystem, wanted.kind AS wantedKind, wanted.rules AS rules,
         wanted.slot AS slot, wanted.run_id AS runId, wanted.profile_hash AS profileHash, run.profile_name AS profileName,
         run.label AS label, run.aim ->> '$.luminance' AS luminance, COALESCE(run.summary ->> 'at', run.started_at) AS at,
         ${standingSql} AS state, placement.profile_hash AS placedHash, found.path AS path, found.hash AS hash,
         found.hash IS NOT NULL AND EXISTS (SELECT 1 FROM placement AS mine WHERE mine.display_id = at.display_id
           AND mine.profile_hash = found.hash AND mine.run_id IS NOT NULL) AS ours,
         EXISTS (SELECT 1 FROM placement AS lesser WHERE lesser.workstation_id = at.workstation_id
           AND lesser.scope = 'user' AND lesser.state = 'sent') AS noRights
       FROM (SELECT display_id, workstation_id FROM display_now WHERE display_id IN (
               SELECT now.display_id FROM display_now AS now WHERE now.display_id > ? AND now.wanted_id IS NOT NULL ${sql} ORDER BY 1 LIMIT ${blockOf})
             UNION SELECT display_id, workstation_id FROM display_link WHERE display_id IN (
               SELECT now.display_id FROM display_now AS now WHERE now.display_id > ? AND now.wanted_id IS NOT NULL ${sql} ORDER BY 1 LIMIT ${blockOf})) AS at
         JOIN display_now AS now ON now.display_id = at.display_id
         JOIN display ON display.id = at.display_id JOIN workstation ON workstation.id = at.workstation_id
         JOIN wanted ON wanted.id = now.wanted_id
         LEFT JOIN run ON run.id = wanted.run_id
         LEFT JOIN placement ON placement.id = ${newestOpen('at.display_id', 'at.workstation_id')}
         LEFT JOIN found ON found.id = ${newestFound('at.display_id', 'at.workstation_id')}
       ORDER BY at.display_id, at.workstation_id`,
      [after, ...parameters, after, ...parameters],
    )
    if (!rows.length) break
    const taken = await namesTaken(data, rows)
    for (const row of rows) planned.push(planOf(row, { settings, taken, online }))
    after = rows[rows.length - 1].displayId
    await new Promise((resolve) => setImmediate(resolve))
  }
  return planned
}

const nameKey = (workstationId: number, name: string) => `${workstationId} ${name.toLowerCase()}`

/** Names of files on the workstations of some rows, with the display whose they are. */
async function namesTaken(data: DataSource, rows: readonly ChosenRow[]): Promise<Map<string, number>> {
  const taken = await data.query<{ workstationId: number; displayId: number; fileName: string }[]>(
    `SELECT DISTINCT workstation_id AS workstationId, display_id AS displayId, file_name AS fileName FROM placement
     WHERE ${among('workstation_id')} AND file_name IS NOT NULL ORDER BY id`,
    [JSON.stringify([...new Set(rows.map((r) => r.workstationId))])],
  )
  return new Map(taken.map((t) => [nameKey(t.workstationId, t.fileName), t.displayId]))
}

function planOf(
  row: ChosenRow,
  {
    settings,
    taken,
    online,
  }: { settings: Awaited<ReturnType<typeof studioSettings>>; taken: Map<string, number>; online: ReadonlySet<number> },
): PlannedRow {
  const rules = JSON.parse(row.rules) as Rules
  const { displayId, displayName, workstationId, workstationName, operatingSystem, slot, runId, profileHash } = row
  const release = row.wantedKind === 'none' && row.state !== null
  const not = notIn(row)
  const scope = rules.scope === 'machine' && row.noRights ? 'user' : rules.scope
  const named = () => {
    const subject = { display: displayName, slot: slot!, aim: row.label, luminance: row.luminance, at: row.at }
    const name =
      settings.placing === 'overwrite' || row.profileName === null
        ? profileFileName(settings.profileName, subject, settings.placing === 'overwrite')
        : row.profileName
    const owner = taken.get(nameKey(workstationId, name))
    const own = owner === undefined || owner === displayId ? name : name.replace(/\.icc$/, `-d${displayId}.icc`)
    taken.set(nameKey(workstationId, own), displayId)
    return own
  }
  const wait = operatingSystems[operatingSystem].waitsFor[scope]
  return {
    displayId,
    displayName,
    workstationId,
    workstationName,
    operatingSystem,
    action: not ? null : release ? 'release' : 'place',
    not,
    slot: release ? null : slot,
    runId: release ? null : runId,
    profileHash: release ? null : profileHash,
    fileName: not || release ? null : named(),
    scope,
    inPlaceOf: row.path,
    ours: Boolean(row.ours),
    waits: not
      ? []
      : [...(online.has(workstationId) ? [] : (['courier'] as const)), ...(wait && !release ? [wait] : [])],
    description: release ? 'no profile of ours' : `${row.label}, slot ${slot}, ${formatDate(row.at)}`,
  }
}

function notIn({ wantedKind, state, placedHash, profileHash }: ChosenRow): NotInWave | null {
  if (wantedKind === 'no profile') return 'no profile'
  if (wantedKind === 'none') return state === null ? 'nothing wanted' : null
  if (placedHash !== profileHash) return null
  if (state === 'in force' || state === 'waiting') return 'already so'
  return state === 'queued' || state === 'placed' ? 'under way' : null
}

/** SHA-256 over what a wave would do: who agrees to it agrees to this. */
export function digestOf(rows: readonly PlannedRow[]): string {
  const hash = createHash('sha256')
  for (const r of rows)
    if (r.action)
      hash.update(JSON.stringify([r.displayId, r.workstationId, r.action, r.runId, r.profileHash, r.fileName, r.scope]))
  return hash.digest('hex')
}

const counted = <T extends string>(words: readonly T[]): Partial<Record<T, number>> => {
  const counts: Partial<Record<T, number>> = {}
  for (const word of words) counts[word] = (counts[word] ?? 0) + 1
  return counts
}

/** What a wave would do, as it is shown. */
export function previewOf(rows: readonly PlannedRow[]): WavePreview {
  const does = rows.filter((r) => r.action !== null)
  return {
    digest: digestOf(rows),
    does: does.length,
    chosen: rows.length,
    waits: counted(does.flatMap((r) => r.waits)),
    not: counted(rows.flatMap((r) => (r.not ? [r.not] : []))),
    rows: [...does, ...rows.filter((r) => r.action === null)]
      .slice(0, mostShown)
      .map(({ description: _description, ...row }) => row),
  }
}
