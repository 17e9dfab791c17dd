import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'better-sqlite3'
import { normalFrom, uniformFrom } from '@bichroma/core/basics'
import { openStore } from '../app/store'
import { sumUpDrift } from './sumUpDrift'

const day = 86_400_000
const now = 1.8e12
let folder: string
let file: string
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'bichroma-drift-'))
  await (await openStore(folder)).destroy()
  file = join(folder, 'bichroma.sqlite')
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

/** Checks of 34 displays by four instruments, of which the third reads so much more for the last 80 days. */
function fill(share: number): void {
  const store = new Database(file)
  store.pragma('foreign_keys = OFF')
  const uniform = uniformFrom(4)
  const normal = normalFrom(uniform)
  for (let id = 1; id <= 4; id++)
    store
      .prepare(`INSERT INTO instrument (id, serial, maker, model, kind) VALUES (?, ?, 'Tessel', 'C3', 'colorimeter')`)
      .run(id, `TC-${id}`)
  const insert = store.prepare(
    `INSERT INTO validation (run_id, display_id, slot, label, at, instrument_id, kind, calibrated, imported, verdict, figures)
     VALUES (?, ?, 1, 'Plates', ?, ?, 'check', ?, 0, 'within', ?)`,
  )
  let run = 0
  for (let display = 1; display <= 34; display++) {
    store
      .prepare(
        `INSERT INTO display (id, name, maker, model, serial, firmware, panel_kind, workstation_id, limits_id, check_every_days, slots, active_slot)
         VALUES (?, ?, 'Quillon', 'Q27', ?, '1', 'white-led', 1, 1, 28, 1, 1)`,
      )
      .run(display, `D${display}`, `S${display}`)
    for (let ago = 290 - 20 * uniform(); ago > 0; ago -= 28) {
      const instrument = 1 + Math.floor(4 * uniform())
      // Half-way each was calibrated to another luminance: that is no change of an instrument.
      const anew = ago < 150 && ago >= 122
      const level = ago < 150 ? 130 : 120
      const off = instrument === 3 && ago < 80 ? share : 0
      const luminance = level * Math.exp(off + 0.002 * normal())
      insert.run(++run, display, now - ago * day, instrument, Number(anew), JSON.stringify({ luminance }))
    }
  }
  store.close()
}

test('an instrument that has begun to read otherwise is told from the checks of a store, with how much and since when @long', () => {
  fill(0.012)
  const [turn, ...others] = sumUpDrift(file, now).changes
  expect(others).toEqual([])
  expect(turn).toMatchObject({ instrumentId: 3, name: 'C3 TC-3' })
  expect(Math.abs(turn.luminance - 0.012)).toBeLessThan(2 * turn.within)
  expect(Math.abs((now - turn.since) / day - 80)).toBeLessThan(25)
  expect(turn.sentence).toMatch(/^C3 TC-3 has (read|come to read) 1\.\d % ± 0\.\d bright since about /)
})

test('instruments that read as they did ring no alarm, calibrations in between notwithstanding', () => {
  fill(0)
  expect(sumUpDrift(file, now).changes).toEqual([])
})
