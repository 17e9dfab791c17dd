// A store with a large fleet's history, made without runs: figures only, as runs would have left them.
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { normalFrom, namedLimits, uniformFrom, type Aim } from '@bichroma/core'

const day = 86_400_000

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
    for (let r = 1; r <= 20; r++) insert('room', 'id,name').run(r, `Room ${r}`)
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
      'display_id,workstation_id,run_id,profile_hash,file_name,description,scope,state,requested_at,account_id,placed_at,verified_at,path',
    )
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
      workstation.run(d, `desk-${d}`, 1 + (d % 20), 'linux', '12')
      display.run(d, `Desk ${d}`, 'Quillon', models[d % models.length], `S-${d}`, '1', 'white-led', d, 2, 28, 1, 1)
      if (due) insert('drift_due', 'display_id,slot').run(d, 1)
      const loss = 0.002 + 0.006 * uniform()
      for (let i = 0; i < each; i++) {
        const at = now - (each - i) * 30 * day
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
        const summary = { runId: ++runId, at, verdict: 'within', sentence: '', aimWhite: white, averageDeltaE: average }
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
          'within',
          JSON.stringify(figures),
        )
      }
      for (let n = 1; n <= slots; n++) slot.run(d, n, 'Atlas web', JSON.stringify(aim), n === 1 ? runId : null)
      for (let n = 1; n <= placements; n++) {
        const state = n < placements ? 'withdrawn' : 'in force'
        const at = now - (placements - n) * 30 * day
        placement.run(d, d, runId, profile, `Desk-${d}.icc`, 'Atlas web', 'machine', state, at, 1, at, at, '/usr/share')
      }
    }
  })()
  store.close()
}
