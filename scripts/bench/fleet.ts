// A store with a large fleet's history, made without runs: figures only, as runs would have left them.
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { namedLimits, type Aim } from '@bichroma/core/aims'
import { normalFrom, uniformFrom } from '@bichroma/core/basics'

const day = 86_400_000
/** Displays of a room, about as many as the demo's studio has in all. */
const perRoom = 34
const trades = ['Atlas plates', 'Diorama light', 'Dome loops', 'Herbarium', 'Proofs', 'Shore survey']

/**
 * Copies the trends of the first displays of a fleet, worked out by the server's own code, to all the others and to each of
 * their slots: working out 30,000 of them would take the benchmark an hour.
 */
export function copyTrends(folder: string, { worked, slots }: { worked: number; slots: number }): void {
  const store = new Database(join(folder, 'bichroma.sqlite'))
  const columns =
    'label, first_at, at, validations, verdict, instrument_id, average_delta_e, worst_delta_e, luminance_off, white_delta_uv, drift, shifts, foretold, limits_id, limits_updated_at, leaves_at, accepted'
  store.exec(
    `INSERT INTO slot_drift (display_id, slot, ${columns})
     SELECT slot.display_id, slot.number, ${columns
       .split(', ')
       .map((c) => `made.${c}`)
       .join(', ')}
     FROM slot JOIN slot_drift AS made ON made.display_id = 1 + slot.display_id % ${worked} AND made.slot = 1
     WHERE slot.number <= ${slots} AND (slot.display_id > ${worked} OR slot.number > 1);
     DELETE FROM drift_due;`,
  )
  store.close()
}

/** Fills the store of a folder with so many displays and validations; returns the ids of the displays. */
export function fillFleet(
  folder: string,
  {
    displays,
    validations,
    now,
    slots = 1,
    placements = 0,
    due = false,
  }: {
    displays: number
    /** In all, each of a display's first slot. */
    validations: number
    now: number
    /** Of each display. */
    slots?: number
    /** Of each display; all but the last are withdrawn. */
    placements?: number
    /** Trends are still to be worked out. */
    due?: boolean
  },
) {
  const store = new Database(join(folder, 'bichroma.sqlite'))
  const uniform = uniformFrom(3)
  const normal = normalFrom(uniform)
  const models = ['Q27', 'Q24', 'M32', 'O25', 'Pen 22', 'L16']
  const aim: Aim = {
    white: { kind: 'standard', name: 'D65' },
    luminance: 120,
    toneResponse: { kind: 'sRGB' },
    primaries: { kind: 'standard', name: 'sRGB' },
  }
  const white = { x: 0.3127, y: 0.329 }
  const insert = (table: string, columns: string) =>
    store.prepare(
      `INSERT INTO ${table} (${columns}) VALUES (${columns
        .split(',')
        .map(() => '?')
        .join(',')})`,
    )
  const each = Math.round(validations / displays)
  store.transaction(() => {
    const rooms = Math.max(20, Math.ceil(displays / perRoom))
    const room = insert('room', 'id,name,building')
    for (let r = 1; r <= rooms; r++) room.run(r, `${trades[r % trades.length]} ${r}`, `House ${1 + Math.floor(r / 30)}`)
    const instrument = insert('instrument', 'id,maker,model,serial,kind')
    for (let i = 1; i <= 8; i++) instrument.run(i, 'Tessel', 'C3', `T-${i}`, 'colorimeter')
    const workstation = insert('workstation', 'id,name,room_id,operating_system,system_version')
    const display = insert(
      'display',
      'id,name,maker,model,serial,firmware,panel_kind,workstation_id,limits_id,check_every_days,slots,active_slot',
    )
    const slot = insert('slot', 'display_id,number,label,aim,judged_run_id')
    const placement = insert(
      'placement',
      'display_id,workstation_id,run_id,slot,profile_hash,file_name,description,scope,state,requested_at,account_id,placed_at,verified_at,path,tries',
    )
    const found = insert('found', 'display_id,workstation_id,path,hash,scope,associations,since,read_at')
    const profile = 'a'.repeat(64)
    if (placements) insert('content', 'hash,bytes,created_at').run(profile, Buffer.from('profile'), now)
    const run = insert(
      'run',
      'id,display_id,slot,kind,label,aim,limits,instrument_id,account_id,state,stage,started_at,ended_at,summary,profile_hash',
    )
    const validation = insert(
      'validation',
      'run_id,display_id,slot,label,at,instrument_id,kind,calibrated,imported,verdict,figures',
    )
    const limits = JSON.stringify(namedLimits[1].limits)
    let runId = 0
    for (let d = 1; d <= displays; d++) {
      workstation.run(d, `desk-${d}`, 1 + (d % rooms), 'linux', '12')
      display.run(d, `Desk ${d}`, 'Quillon', models[d % models.length], `S-${d}`, '1', 'white-led', d, 2, 28, 1, 1)
      if (due) insert('drift_due', 'display_id,slot').run(d, 1)
      const loss = 0.002 + 0.006 * uniform()
      for (let i = 0; i < each; i++) {
        // The newest of some is late, so that every verdict and due line is there.
        const at = now - (each - 1 - i) * 30 * day - (d % 45) * day
        const since = i % 12
        const calibrated = since === 0
        const off = 100 * (Math.exp(-loss * since) - 1) + 0.2 * normal()
        const z = -0.002 * since + 0.0005 * normal()
        const average = 0.3 + 0.05 * since + 0.03 * normal()
        const figures = {
          'averageDeltaE:de2000': average,
          'worstDeltaE:de2000': 2.4 * average,
          'percentile95DeltaE:de2000': 1.9 * average,
          'whiteDeltaE:de2000': 0.3,
          'worstPrimaryDeltaE:de2000': average,
          whiteDeltaUv: Math.abs(z) * 0.1,
          luminanceOff: off,
          toneError: 0.4,
          greyChroma: 0.3,
          worstGreyChroma: 0.6,
          worstGreyDeltaUv: 0.002,
          black: 0.12,
          contrast: 1000,
          coverage: 97,
          luminance: 120 * (1 + off / 100),
          whiteX: 0.0005 * normal(),
          whiteZ: z,
        }
        const verdict = average > 0.8 ? (d % 7 ? 'near' : 'outside') : 'within'
        const summary = {
          runId: ++runId,
          at,
          verdict,
          sentence: `Average ΔE2000 ${average.toFixed(2)} is ${verdict}.`,
          averageDeltaE: average,
          worstDeltaE: 2.4 * average,
          worstPatch: 'red',
          luminance: 120 * (1 + off / 100),
          white: { x: white.x + 0.0005 * normal(), y: white.y + z / 20 },
          aimWhite: white,
          whiteTemperature: 6504 + 40 * normal(),
          aimWhiteTemperature: 6504,
          whiteDeltaUv: Math.abs(z) * 0.1,
        }
        const kind = calibrated ? 'full' : 'check'
        const tool = 1 + ((d + i) % 8)
        run.run(
          runId,
          d,
          1,
          kind,
          'Atlas web',
          JSON.stringify(aim),
          limits,
          tool,
          1,
          'done',
          'file',
          at,
          at,
          JSON.stringify(summary),
          placements && calibrated ? profile : null,
        )
        validation.run(
          runId,
          d,
          1,
          'Atlas web',
          at,
          tool,
          kind,
          Number(calibrated),
          0,
          verdict,
          JSON.stringify(figures),
        )
      }
      // One in eighty was never read.
      const judged = each > 0 && d % 80 !== 0
      for (let n = 1; n <= slots; n++)
        slot.run(d, n, 'Atlas web', JSON.stringify(aim), n === 1 && judged ? runId : null)
      for (let n = 1; n <= placements; n++) {
        const state = n < placements ? 'withdrawn' : 'sent'
        const at = now - (placements - n) * 30 * day
        const file = `Desk-${d}.icc`
        placement.run(d, d, runId, 1, profile, file, 'Atlas web', 'machine', state, at, 1, at, at, '/usr/share', 1)
      }
      if (placements) {
        // Some were replaced by others, some are gone.
        const hash = d % 90 === 0 ? 'b'.repeat(64) : d % 70 === 0 ? null : profile
        const bound = JSON.stringify({ machine: hash ? [`Desk-${d}.icc`] : [], user: [], perUser: false })
        found.run(d, d, hash && '/usr/share', hash, hash && 'machine', bound, now, now)
      }
    }
  })()
  store.close()
}
