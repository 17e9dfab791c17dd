import { In, type DataSource } from 'typeorm'
import { whiteChromaticity } from '@bichroma/core/aims'
import { normalQuantile, signedKey, whiteKeys, type SlotDrift, type Trend } from '@bichroma/core/drift'
import type { LightSeen, Rate, SetAsked } from '@bichroma/core/peers'
import type { PanelKind } from '@bichroma/core/register'
import type { Kept, PeerMember } from '@bichroma/contract'
import { correctionEntity, instrumentEntity } from '../register/entities'
import { runEntity, type RunRow } from '../runs/entities'
import { instrumentFacts } from '../runs/instrumentFacts'
import type { PeerSetRow } from './entities'
import type { MemberGathered } from './peerStanding'

const day = 86_400_000
/** Runs of a display that its light is known by. */
const lightRuns = 12
/** A trend says nothing of a loss beyond half of the light. */
const mostFaded = 0.5
/** Days that are looked ahead at most. */
const furthestDays = 365

/** Panels whose black is their backlight’s, and goes down with it. */
const blackIsOwn: readonly PanelKind[] = ['oled', 'oled-white', 'projector-lamp']

interface Row {
  displayId: number
  slot: number
  name: string
  maker: string
  model: string
  serial: string
  panelKind: PanelKind
  workstationId: number
  kept: Kept
  room: string
  label: string | null
  judgedRunId: number | null
  summary: string | null
  dueAt: number | null
  everyDays: number
  /** Trends of the slot that was validated most often, as JSON. */
  trends: string | null
  /** How far its white has to measure from the set's to look like it, as a person found by eye; null where nobody did. */
  eyeU: number | null
  eyeV: number | null
  eyeDoubt: number | null
  /** The aim of its own that it has by that. */
  eyeAimId: number | null
}

/** Members of a set as the register has them, in their order. */
export async function membersOf(data: DataSource, setId: number): Promise<Row[]> {
  return data.query<Row[]>(
    `SELECT peer_member.display_id AS displayId, peer_member.slot AS slot, display.name AS name, maker, model, serial, display.workstation_id AS workstationId,
       panel_kind AS panelKind, display.kept AS kept, room.name AS room, slot.label AS label, slot.judged_run_id AS judgedRunId, run.summary AS summary,
       display_now.due_at AS dueAt, display.check_every_days AS everyDays,
       (SELECT drift -> '$.trends' FROM slot_drift WHERE slot_drift.display_id = display.id
        ORDER BY validations DESC LIMIT 1) AS trends, peer_match.u AS eyeU, peer_match.v AS eyeV,
       peer_match.settled ->> '$.doubt' AS eyeDoubt, peer_match.aim_id AS eyeAimId
     FROM peer_member JOIN display ON display.id = peer_member.display_id
       JOIN workstation ON workstation.id = display.workstation_id JOIN room ON room.id = workstation.room_id
       LEFT JOIN slot ON slot.display_id = display.id AND slot.number = peer_member.slot
       LEFT JOIN run ON run.id = slot.judged_run_id
       LEFT JOIN display_now ON display_now.display_id = display.id
       LEFT JOIN peer_match ON peer_match.set_id = peer_member.set_id AND peer_match.display_id = display.id
         AND peer_match.state = 'in force'
     WHERE peer_member.set_id = ? ORDER BY place`,
    [setId],
  )
}

/** A member as it is told. */
export function shownMember({
  displayId,
  slot,
  name,
  maker,
  model,
  panelKind,
  room,
  kept,
  label,
  summary,
}: Row): PeerMember {
  const judged = summary === null ? null : (JSON.parse(summary) as NonNullable<RunRow['summary']>)
  return {
    ...{ displayId, slot, name, maker, model, panelKind, room, kept, label },
    judged: judged && {
      ...{ runId: judged.runId, at: judged.at, verdict: judged.verdict, averageDeltaE: judged.averageDeltaE },
      ...{ white: judged.white, aimWhite: judged.aimWhite },
    },
  }
}

/** What a set asks, in numbers. */
export const askedOf = (
  { white, standard, share, headroom, limits, referenceId, adopted }: PeerSetRow,
  now: number,
): SetAsked => ({
  now,
  reference: referenceId,
  white: whiteChromaticity(white, { x: 0.3127, y: 0.329 }),
  standard,
  share,
  headroom,
  limits,
  adopted,
})

type Judged = Pick<RunRow, 'id' | 'instrumentId' | 'correction' | 'displayId' | 'summary' | 'imported'>

/** What is known of those members of a set that are in use. */
export async function gatherSet(data: DataSource, setId: number, now: number): Promise<MemberGathered[]> {
  const rows = (await membersOf(data, setId)).filter((r) => r.kept === 'in use')
  const ids = rows.flatMap((r) => r.judgedRunId ?? [])
  const runs: Judged[] = ids.length
    ? await data.getRepository(runEntity).find({
        select: { id: true, instrumentId: true, correction: true, displayId: true, summary: true, imported: true },
        where: { id: In(ids) },
      })
    : []
  const metrics = new Map(
    (
      await data.query<{ id: number; metrics: string }[]>(
        `SELECT id, metrics FROM run WHERE metrics IS NOT NULL AND id IN (${ids.map(() => '?').join(', ')})`,
        ids,
      )
    ).map((r) => [r.id, r.metrics]),
  )
  const members: MemberGathered[] = []
  for (const row of rows) {
    const run = runs.find((r) => r.id === row.judgedRunId && metrics.has(r.id))
    members.push({
      id: row.displayId,
      seen: await lightOf(data, row.displayId),
      blackFollows: !blackIsOwn.includes(row.panelKind),
      byEye: row.eyeU === null || row.eyeV === null ? null : { u: row.eyeU, v: row.eyeV, doubt: row.eyeDoubt ?? 0 },
      ...fadingOf(row, now),
      judged: run
        ? {
            runId: run.id,
            at: run.summary?.at ?? now,
            metrics: metrics.get(run.id)!,
            by: await readBy(data, run, row.panelKind),
          }
        : null,
    })
  }
  return members
}

async function lightOf(data: DataSource, displayId: number): Promise<(LightSeen & { at: number })[]> {
  const rows = await data.query<{ at: number; seen: string }[]>(
    `SELECT at, seen FROM run_light WHERE display_id = ? ORDER BY id DESC LIMIT ${lightRuns}`,
    [displayId],
  )
  return rows.map(({ at, seen }) => ({ ...(JSON.parse(seen) as LightSeen), at }))
}

/** How a member's light goes by its own trends: what is left when it falls due, and how its white changes. */
function fadingOf({ trends, dueAt, everyDays }: Row, now: number) {
  const days = dueAt === null ? everyDays : Math.min(furthestDays, Math.max(0, (dueAt - now) / day))
  const known = trends === null ? {} : (JSON.parse(trends) as SlotDrift['trends'])
  const [light, x, z] = [known[signedKey], known[whiteKeys.x], known[whiteKeys.z]]
  // Luminance is trended in per cent of its logarithm.
  const fade = light ? Math.max(0, -light.slope / 100) : null
  return {
    fadePerDay: fade,
    daysUntilDue: fade ? Math.min(days, mostFaded / fade) : days,
    rates: light && x && z ? { light: rateOf(light, 100), x: rateOf(x, 1), z: rateOf(z, 1) } : null,
  }
}

const rateOf = ({ slope, slopeLow, slopeHigh, confidence }: Trend, by: number): Rate => ({
  slope: slope / by,
  deviation: (slopeHigh - slopeLow) / 2 / normalQuantile(0.5 + confidence / 2) / by,
})

/** By what a run was read; null where it was not one of ours. */
async function readBy(data: DataSource, run: Judged, panelKind: PanelKind) {
  if (run.imported) return null
  const instrument = await data.getRepository(instrumentEntity).findOneBy({ id: run.instrumentId })
  if (!instrument) return null
  const at = run.summary?.at ?? 0
  const facts = await instrumentFacts(data, run, instrument, { panelKind, contradicted: false, now: at })
  const made = run.correction?.kind === 'made' ? run.correction : null
  const row = made && (await data.getRepository(correctionEntity).findOneBy({ id: made.id }))
  return {
    facts,
    instrument: `instrument ${instrument.id}`,
    reference: row ? `instrument ${row.referenceId}` : `instrument ${instrument.id}`,
    correction: made ? `made ${made.id}` : run.correction?.kind === 'own' ? `own ${run.correction.panelKind}` : null,
    panelKind,
  }
}
