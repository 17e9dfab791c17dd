import { spawn, spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openStore } from '@bichroma/server'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-power-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))
const shim = join(folder, 'powerCut.so')

// SQLite is compiled when it is installed, so there is a compiler.
beforeAll(() => {
  const made = spawnSync('cc', ['-shared', '-fPIC', '-O1', '-o', shim, 'tests/powerCut.c', '-ldl'], {
    encoding: 'utf8',
  })
  if (made.status !== 0) throw new Error(made.stderr)
})

/** Writes readings until so many were acknowledged, cuts the power, and gives the folder as the disk has it then. */
async function cutAfter(acknowledged: number): Promise<{ kept: string; last: number }> {
  const watched = join(folder, `data-${acknowledged}`)
  const kept = join(folder, `kept-${acknowledged}`)
  for (const made of [watched, kept]) mkdirSync(made)
  const writer = spawn(process.execPath, ['--import', 'tsx', 'tests/powerCutWriter.ts', watched], {
    env: { ...process.env, LD_PRELOAD: shim, WATCHED: watched, KEPT: kept },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  let last = -1
  await new Promise<void>((resolve) => {
    writer.stdout.on('data', (chunk: Buffer) => {
      for (const line of chunk.toString().split('\n')) if (/^\d+$/.test(line)) last = Math.max(last, Number(line))
      if (last >= acknowledged) writer.kill('SIGKILL')
    })
    writer.once('close', () => resolve())
  })
  return { kept, last }
}

test.each([3, 120])('a power cut after %d readings loses none that was acknowledged @long', async (count) => {
  const { kept, last } = await cutAfter(count)
  expect(readdirSync(kept)).toContain('bichroma.sqlite-wal')
  const data = await openStore(kept)
  expect(await data.query('PRAGMA integrity_check')).toEqual([{ integrity_check: 'ok' }])
  const [{ readings, steps }] = (await data.query(
    'SELECT (SELECT COUNT(*) FROM reading) AS readings, (SELECT COUNT(*) FROM run_step WHERE done_at IS NOT NULL) AS steps',
  )) as { readings: number; steps: number }[]
  expect(readings).toBeGreaterThan(last)
  expect(steps).toBe(readings)
  await data.destroy()
})
