import { uniformFrom } from '@bichroma/core/basics'
import { FailingStudio } from '../scripts/ordeal/disk'

let failing: FailingStudio
beforeAll(async () => {
  // How soon it says so, the ordeal measures: a machine that others share may be slow for a minute.
  failing = await FailingStudio.open(60_000)
})
afterAll(() => failing.close())

// `npm run -s ordeal -- disk` does so at every write of a full run and of a check.
test('a run whose disk fails at any of its writes says so, keeps what it read, and is brought to its end @long', async () => {
  const uniform = uniformFrom(20261126)
  for (const [kind, cases] of [
    ['check', 5],
    ['full', 3],
  ] as const) {
    const writes = await failing.count(kind)
    for (let i = 0; i < cases; i++) {
      // The first and the last write, and some in between.
      const at = i === 0 ? 1 : i === 1 ? writes : 1 + Math.floor(uniform() * writes)
      const fault = (['full', 'busy', 'io'] as const)[i % 3]
      expect(await failing.suffer({ kind, fault, at })).toMatchObject({ wrong: null })
    }
  }
}, 300_000)

test('a store that another program has for a moment interrupts nothing @long', async () => {
  const { studio, disk } = failing
  disk.arm('busy', 20)
  const id = await studio.start({ kind: 'check', aimId: undefined, overwrites: undefined })
  const mend = setInterval(() => disk.failed.length > 3 && disk.mend(), 5)
  const run = await studio.finish(id)
  clearInterval(mend)
  expect(disk.failed.length).toBeGreaterThan(3)
  expect(run).toMatchObject({ state: 'done', message: null })
})

test('a figure for drift that cannot be stored undoes no proved run, and is stored once it can be @long', async () => {
  const { studio, disk } = failing
  disk.arm('io', 1, (sql) => /INSERT INTO "?validation/i.test(sql))
  const run = await studio.finish(await studio.start({ sampling: 'brief' }))
  expect(disk.failed).toHaveLength(1)
  expect(run).toMatchObject({ state: 'done', judged: { verdict: 'within' } })
  expect((await studio.display()).slots[0]).toMatchObject({ label: 'Atlas web', judged: { runId: run.id } })
  const history = async () =>
    (await studio.admin.get<{ history: { runId: number }[] }>(`/drift/${studio.displayId}?slot=1`)).history
  expect((await history()).map((h) => h.runId)).not.toContain(run.id)
  disk.mend()
  await studio.restartServer()
  expect((await history()).map((h) => h.runId)).toContain(run.id)
})

test('a courier that hangs up on a full disk takes nothing with it', async () => {
  const { studio, disk } = failing
  disk.arm('full', 1)
  const unforeseen: unknown[] = []
  const note = (error: unknown) => unforeseen.push(error)
  process.on('unhandledRejection', note)
  studio.bench.disconnect('sedge-02')
  const gone = async () => (await studio.display()).live
  while (await gone());
  disk.mend()
  await studio.connect()
  process.off('unhandledRejection', note)
  expect(unforeseen).toEqual([])
})

test('whoever changes something on a full disk is told so, and nothing is changed', async () => {
  const { studio, disk } = failing
  disk.arm('full', 1)
  const response = await studio.admin.raw('POST', '/rooms', { name: 'Lantern Hall' })
  expect(response.status).toBe(503)
  expect(await response.json()).toMatchObject({
    type: '/problems/unavailable',
    detail: 'The disk of the server is full. Make room on it. Nothing was changed; then try again.',
  })
  disk.mend()
  expect((await studio.admin.get<{ name: string }[]>('/rooms')).map((r) => r.name)).toEqual(['Sedge Room'])
})
