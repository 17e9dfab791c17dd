import { join } from 'node:path'
import type { RunDetail } from '@bichroma/contract'
import { startServer } from '@bichroma/server'
import { HeldClient } from './heldClient'
import { live, passwords, Studio } from './studio'
import { until } from '../scripts/waiting'

let studio: Studio
beforeEach(async () => {
  studio = await Studio.open()
})

/** What a new server on the same folder says of a run. */
async function afterRestart(id: number): Promise<RunDetail> {
  const again = await startServer({ dataDir: join(studio.folder, 'data'), now: () => Math.floor(studio.clock.now()) })
  const client = new HeldClient(again.url)
  await client.signIn('administrator', passwords.administrator)
  const run = await client.get<RunDetail>(`/runs/${id}`)
  await again.close()
  return run
}

test('a server that is closed in the middle of a run closes at once and leaves the run to be resumed', async () => {
  const id = await studio.start()
  const seen = await studio.reach(id, 'running', 40)
  await studio.server.close()
  const run = await afterRestart(id)
  expect(run.state).toBe('interrupted')
  expect(run.log.slice(0, seen.log.length)).toEqual(seen.log)
  // At once: what was being read when it was asked, and no more of the two hundred that were to come.
  expect(run.log.length - seen.log.length).toBeLessThan(20)
  studio.bench.stop()
}, 120_000)

test('a server that is closed while a run waits for hands closes at once too @long', async () => {
  const id = await studio.start()
  await studio.reach(id, 'running', 20)
  studio.bench.instrument(live.instrument).covered = true
  const waiting = await studio.reach(id, 'waiting')
  await studio.server.close()
  const run = await afterRestart(id)
  expect(run).toMatchObject({
    state: 'interrupted',
    message: expect.stringContaining(`All ${waiting.log.length} readings are kept`),
  })
  studio.bench.stop()
}, 120_000)

test('a server that is closed while a run waits for its courier closes at once too @long', async () => {
  const id = await studio.start()
  await studio.reach(id, 'running', 20)
  studio.bench.disconnect(live.workstation)
  await studio.reach(id, 'waiting')
  await studio.server.close()
  expect((await afterRestart(id)).state).toBe('interrupted')
  studio.bench.stop()
}, 120_000)

test('a server that is closed while a stopped run waits to put its slot back closes at once too @long', async () => {
  const id = await studio.start()
  await studio.reach(id, 'running', 20)
  studio.bench.disconnect(live.workstation)
  await studio.reach(id, 'waiting')
  await studio.admin.post(`/runs/${id}/stop`)
  await until(
    async () => (await studio.run(id)).message!.startsWith('Putting the display back'),
    'it wants to put the slot back',
  )
  await studio.server.close()
  expect(await afterRestart(id)).toMatchObject({
    state: 'interrupted',
    message: expect.stringContaining('Stop the run once more'),
  })
  studio.bench.stop()
}, 120_000)

test('a run that is stopped while it waits for hands puts the slot back @long', async () => {
  const id = await studio.start()
  await studio.reach(id, 'running', 20)
  studio.bench.instrument(live.instrument).covered = true
  await studio.reach(id, 'waiting')
  await studio.admin.post(`/runs/${id}/stop`)
  expect(await studio.finish(id)).toMatchObject({
    state: 'stopped',
    message: 'Stopped. Slot 1 holds nothing again, as before the run.',
  })
  expect(studio.bench.display(live.serial).memory.slots[0]).toEqual({ label: null, holds: false, backlight: 80 })
  await studio.close()
})

test('stopping twice in one breath is one stop @long', async () => {
  const id = await studio.start()
  await studio.reach(id, 'running', 20)
  const both = await Promise.allSettled([studio.admin.post(`/runs/${id}/stop`), studio.admin.post(`/runs/${id}/stop`)])
  expect(both.some((b) => b.status === 'fulfilled')).toBe(true)
  expect((await studio.finish(id)).state).toBe('stopped')
  expect((await studio.display()).runId).toBeNull()
  await expect(studio.admin.post(`/runs/${id}/resume`)).rejects.toThrow('does not wait for anything')
  await studio.close()
})
