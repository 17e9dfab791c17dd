import { BenchClock, fenLantern } from '@bichroma/bench'
import type { Problem, RunDetail } from '@bichroma/contract'
import { live, Studio } from './studio'
import { until } from '../scripts/waiting'

const day = 86_400_000

test('a clock that is set back in the middle of a run ends no run before it began, and puts nothing a year overdue @long @long', async () => {
  let back = 0
  const clock = new BenchClock(Infinity)
  const studio = await Studio.open(fenLantern, { now: () => Math.floor(clock.now()) - back })
  const id = await studio.start({ sampling: 'brief' })
  await studio.reach(id, 'running', 30)
  back = 400 * day
  const run = await studio.finish(id)
  expect(run.state).toBe('done')
  expect(run.endedAt!).toBeGreaterThanOrEqual(run.startedAt)
  for (const stage of run.stages) expect(stage.endedAt!).toBeGreaterThanOrEqual(stage.startedAt)
  expect(run.log.map((r) => r.at)).toEqual([...run.log.map((r) => r.at)].sort((a, b) => a - b))
  expect(run.judged!.at).toBeGreaterThanOrEqual(run.startedAt)
  expect((await studio.display()).slots[0].writtenAt!).toBeGreaterThanOrEqual(run.startedAt)
  back = 0
  expect(await studio.display()).toMatchObject({ verdict: 'within', dueState: 'later' })
  await studio.close()
})

test('a run that starts in the second before its courier comes back waits for it @long', async () => {
  const studio = await Studio.open(fenLantern, { graceMs: 20_000 })
  studio.bench.disconnect(live.workstation)
  await until(async () => !(await studio.display()).live, 'the courier is away')
  const id = await studio.start({ kind: 'baseline' })
  expect((await studio.run(id)).state).toBe('running')
  await studio.connect()
  expect(await studio.finish(id)).toMatchObject({ state: 'done', message: null })
  await studio.close()
})

test('stopping does not wait for a courier that is awaited', async () => {
  const studio = await Studio.open(fenLantern, { graceMs: 60_000 })
  studio.bench.disconnect(live.workstation)
  await until(async () => !(await studio.display()).live, 'the courier is away')
  const id = await studio.start({ kind: 'baseline' })
  await studio.admin.post(`/runs/${id}/stop`)
  expect(await studio.finish(id)).toMatchObject({
    state: 'stopped',
    message: 'Stopped. Nothing was changed on the display.',
  })
  await studio.close()
})

describe('what is in use for a correction', () => {
  test('starts no run, and no second correction; once it is done both can @long', async () => {
    const studio = await Studio.open()
    studio.bench.carry('HS-0031', live.workstation)
    const instruments = () =>
      studio.admin.get<{ id: number; serial: string; workstationId: number | null }[]>('/instruments')
    await until(
      async () => (await instruments()).filter((i) => i.workstationId !== null).length === 2,
      'both instruments are there',
    )
    await until(async () => (await studio.display()).live, 'the courier is connected')
    const idOf = Object.fromEntries((await instruments()).map((i) => [i.serial, i.id]))
    const body = { displayId: studio.displayId, instrumentId: idOf[live.instrument], referenceId: idOf['HS-0031'] }
    const refused = async (method: 'runs' | 'corrections', sent: object) => {
      const response = await studio.admin.raw('POST', `/${method}`, sent)
      return response.status === 201 ? null : ((await response.json()) as Problem).detail
    }
    const run = { displayId: studio.displayId, kind: 'baseline', slot: 1, aimId: studio.aimIds['Atlas web'] }
    const first = studio.admin.raw('POST', '/corrections', body)
    // Whichever comes first in this very moment has it; the others are told, and nothing goes on beside it.
    const [started, second] = await Promise.all([refused('runs', run), refused('corrections', body)])
    expect((await first).status).toBe(201)
    expect(started).toContain('is being used for something else at this moment')
    expect(second).toContain('is being used for something else at this moment')
    expect(await studio.admin.list<RunDetail>('/runs')).toEqual([])
    const id = (await studio.admin.post<{ id: number }>('/runs', run)).id
    expect(await refused('corrections', body)).toMatch(/in a run|at this moment/)
    expect((await studio.finish(id)).state).toBe('done')
    expect(await refused('corrections', body)).toBeNull()
    await studio.close()
  })
})
