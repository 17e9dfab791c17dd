import { DataSource } from 'typeorm'
import { uniformFrom } from '@bichroma/core/basics'
import { modelFacts } from './models'

interface Display {
  readonly id: number
  readonly maker: string
  readonly model: string
  readonly panelKind: string
  readonly slots: number
  readonly firmware: string
  readonly every: number
  readonly limits: number
  readonly delay: number | null
  readonly kept: string
}
const limits = ['Plate work', 'Loops', 'Dome']

let data: DataSource
let displays: Display[]
beforeAll(async () => {
  data = new DataSource({ type: 'better-sqlite3', database: ':memory:' })
  await data.initialize()
  for (const table of [
    'limits (id INTEGER PRIMARY KEY, name TEXT)',
    `display (id INTEGER PRIMARY KEY, name TEXT, maker TEXT, model TEXT, panel_kind TEXT, slots INTEGER, firmware TEXT,
      check_every_days INTEGER, limits_id INTEGER, delay_ms REAL, kept TEXT)`,
    'instrument (id INTEGER PRIMARY KEY, model TEXT, serial TEXT)',
    'correction (display_id INTEGER, instrument_id INTEGER, made_at INTEGER, residual REAL)',
  ])
    await data.query(`CREATE TABLE ${table}`)
  for (const [i, name] of limits.entries()) await data.query('INSERT INTO limits VALUES (?, ?)', [i + 1, name])
  const random = uniformFrom(23)
  const one = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]
  displays = Array.from({ length: 400 }, (_, i) => ({
    id: i + 1,
    maker: one(['Quillon', 'Marram']),
    model: one(['Q27', 'Q24', 'M32']),
    panelKind: one(['wide-gamut-led', 'white-led']),
    slots: one([1, 3, 5]),
    firmware: one(['1', '2.0', '10']),
    every: one([14, 28]),
    limits: one([1, 2, 3]),
    delay: one([null, 30, 45.5, 120]),
    kept: one(['in use', 'in use', 'in use', 'stored']),
  }))
  for (const d of displays)
    await data.query('INSERT INTO display VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)', [
      ...[d.id, `Desk ${d.id}`, d.maker, d.model, d.panelKind, d.slots, d.firmware],
      ...[d.every, d.limits, d.delay, d.kept],
    ])
  await data.query(`INSERT INTO instrument VALUES (1, 'C3', 'TC-1'), (2, 'C3', 'TC-2')`)
})
afterAll(() => data.destroy())
// What a test writes is gone after it.
beforeEach(() => data.query('BEGIN'))
afterEach(() => data.query('ROLLBACK'))

/** How often each value stands there, by hand. */
function counted<T>(values: readonly T[]): Map<T, number> {
  const of = new Map<T, number>()
  for (const v of values) of.set(v, (of.get(v) ?? 0) + 1)
  return of
}
const asMap = <T>(shares: readonly { value: T; displays: number }[]) =>
  new Map(shares.map((s) => [s.value, s.displays]))

test('each fact of each model is counted over the displays that are in use', async () => {
  const found = await modelFacts(data)
  const used = displays.filter((d) => d.kept === 'in use')
  expect(found.reduce((sum, m) => sum + m.displays, 0)).toBe(used.length)
  expect(found).toHaveLength(6)
  for (const m of found) {
    const own = used.filter((d) => d.maker === m.maker && d.model === m.model)
    expect(m.displays).toBe(own.length)
    expect(asMap<unknown>(m.panelKinds)).toEqual(counted(own.map((d) => d.panelKind)))
    expect(asMap(m.slots)).toEqual(counted(own.map((d) => d.slots)))
    expect(asMap(m.firmware)).toEqual(counted(own.map((d) => d.firmware)))
    expect(asMap(m.checkEveryDays)).toEqual(counted(own.map((d) => d.every)))
    expect(asMap(m.limits)).toEqual(counted(own.map((d) => limits[d.limits - 1])))
    const delays = own.flatMap((d) => (d.delay === null ? [] : [d.delay]))
    expect(m.delayMs).toEqual({ from: Math.min(...delays), to: Math.max(...delays) })
  }
})

test('the most frequent comes first, of models and of what each has', async () => {
  const found = await modelFacts(data)
  const falling = (counts: readonly number[]) => counts.every((c, i) => i === 0 || c <= counts[i - 1])
  expect(falling(found.map((m) => m.displays))).toBe(true)
  for (const m of found)
    for (const shares of [m.panelKinds, m.slots, m.firmware, m.checkEveryDays, m.limits])
      expect(falling(shares.map((s) => s.displays))).toBe(true)
})

test('of corrections the newest of each instrument is told, with the display on which it was made', async () => {
  const [a, b] = displays.filter((d) => d.maker === 'Quillon' && d.model === 'Q27')
  await data.query('INSERT INTO correction VALUES (?, 1, 100, 0.002), (?, 1, 200, 0.001), (?, 2, 150, 0.003)', [
    a.id,
    b.id,
    a.id,
  ])
  const found = await modelFacts(data)
  expect(found.find((m) => m.maker === 'Quillon' && m.model === 'Q27')!.corrections).toEqual([
    { instrument: 'C3 TC-1', displayName: `Desk ${b.id}`, madeAt: 200, residual: 0.001 },
    { instrument: 'C3 TC-2', displayName: `Desk ${a.id}`, madeAt: 150, residual: 0.003 },
  ])
  expect(found.find((m) => m.maker === 'Marram' && m.model === 'Q27')!.corrections).toEqual([])
})

test('a model that no run has measured has no delay; one that nobody uses is not told of', async () => {
  await data.query(
    `INSERT INTO display VALUES (900, 'New', 'Tarn', 'P22', 'white-led', 1, '1', 28, 1, NULL, 'in use'),
       (901, 'Old', 'Tarn', 'P20', 'white-led', 1, '1', 28, 1, 40, 'retired')`,
  )
  const own = (await modelFacts(data)).filter((m) => m.maker === 'Tarn')
  expect(own.map((m) => [m.model, m.displays, m.delayMs])).toEqual([['P22', 1, null]])
})
