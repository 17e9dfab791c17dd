import { live, Studio } from './studio'
import { until } from '../scripts/waiting'
import { good, StrangeCourier } from './strangeCourier'

let studio: Studio
let courier: StrangeCourier
beforeEach(async () => {
  studio = await Studio.open()
  studio.bench.stop()
  await until(async () => !(await studio.display()).live, 'the bench’s own courier is away')
})
afterEach(async () => {
  courier.close()
  await studio.close()
})

async function runWith(answer: ConstructorParameters<typeof StrangeCourier>[2]) {
  courier = new StrangeCourier(studio.server.url, studio.keys[live.workstation], answer)
  await until(async () => (await studio.display()).live, 'the strange courier is connected')
  return studio.finish(await studio.start())
}

test('answers that make no sense end the run with a sentence, and the server lives @long', async () => {
  const run = await runWith((command, send) =>
    send(
      command.name === 'instrument.read'
        ? { ...good(command), value: { xyz: [1, 'two', null], integrationMs: -1, flags: ['sleepy'] } }
        : good(command),
    ),
  )
  expect(run).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('The courier’s answer to instrument.read makes no sense'),
  })
  expect((await studio.display()).runId).toBeNull()
})

test('junk between answers, answers to nothing, and answers twice are passed over @long', async () => {
  const run = await runWith((command, send) => {
    send('[]')
    send('null')
    send({ type: 'result', id: 999_999, ok: true, tookMs: 1 })
    send({ type: 'progress', id: 999_999, done: 0.5 })
    send({ type: 'progress', id: command.id, done: 'half' })
    send(good(command))
    send(good(command))
  })
  // Every reading is the same grey light, so the run must find out that this is no display.
  expect(run.state).toBe('failed')
  expect(run.message).toMatch(/do not make a display|cannot mix the white/)
  expect(run.log).toHaveLength(17)
})

test.each([
  ['a time of 1e308 ms', { tookMs: 1e308 }],
  ['a light of 1e308 cd/m²', { value: { xyz: [1e308, 100, 108], integrationMs: 500, flags: [] } }],
  ['an “ok” that is a word', { ok: 'yes' }],
  ['a name that every object answers to', { value: { toString: 1 } }],
])('an answer with %s ends the run with a sentence at once @long', async (_, change) => {
  const run = await runWith((command, send) =>
    send(command.name === 'instrument.read' ? { ...good(command), ...change } : good(command)),
  )
  expect(run).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('makes no sense. Update the courier.'),
  })
})

test('a fault without a reason is a fault all the same @long', async () => {
  const run = await runWith((command, send) =>
    send(command.name === 'instrument.zero' ? { type: 'result', id: command.id, ok: false, tookMs: 0 } : good(command)),
  )
  expect(run).toMatchObject({ state: 'failed', message: expect.stringContaining('failed without saying why') })
})

test('hanging up in the middle of Ready is the courier being away @long', async () => {
  const run = await runWith((command, send) => {
    if (command.name === 'instrument.identify') courier.close()
    else send(good(command))
  })
  expect(run).toMatchObject({
    state: 'failed',
    message: expect.stringContaining('Switch sedge-02 on and start its courier.'),
  })
})

test('the newest courier of a workstation is the one that counts', async () => {
  courier = new StrangeCourier(studio.server.url, studio.keys[live.workstation], () => {})
  await until(async () => (await studio.display()).live, 'the first is connected')
  const second = new StrangeCourier(studio.server.url, studio.keys[live.workstation], (command, send) =>
    send(good(command)),
  )
  await courier.closed
  const run = await studio.finish(await studio.start())
  expect(run.log).toHaveLength(17)
  // It was read back once, when it came, and told its desk’s page; whatever a run asks, the second is asked.
  expect(courier.asked.filter((c) => c.name !== 'host.readBack' && c.name !== 'host.tellDesk')).toEqual([])
  expect(second.asked.length).toBeGreaterThan(17)
  second.close()
})
