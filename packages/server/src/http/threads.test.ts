import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { workerThreads, type Threads } from './threads'

/** Tasks of these tests; the thread knows them by name. */
const twice = (n: number): number => 2 * n
const never = (): Promise<number> => new Promise(() => {})
const fails = (): number => {
  throw new Error('one cannot divide by it')
}

let folder: string
let threads: Threads
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'bichroma-threads-'))
  writeFileSync(
    join(folder, 'worker.mjs'),
    `const tasks = { twice: (n) => 2 * n, never: () => new Promise(() => setInterval(() => {}, 1000)), fails: () => { throw new Error('one cannot divide by it') } }
     export default ({ task, args }) => tasks[task](...args)`,
  )
})
beforeEach(() => {
  threads = workerThreads(pathToFileURL(join(folder, 'worker.mjs')).href)
})
afterEach(() => threads.close())
afterAll(() => rmSync(folder, { recursive: true, force: true }))

test('a task is done by its name, and what it throws is thrown', async () => {
  expect(await threads.run(twice, 21)).toBe(42)
  await expect(threads.run(fails)).rejects.toThrow('one cannot divide by it')
})

test('64 wait while one is carried out; whoever comes then is told at once', async () => {
  const endless = threads.run(never).catch(() => null)
  const told: string[] = []
  const asked = Array.from({ length: 200 }, () =>
    threads.run(twice, 1).then(
      () => told.push('done'),
      (error: { kind: string }) => told.push(error.kind),
    ),
  )
  await Promise.all(asked.slice(64))
  expect(told).toEqual(Array.from({ length: 136 }, () => 'too-many'))
  // Those in the line go with the server.
  await threads.close()
  await Promise.all(asked)
  expect(told.slice(136)).toEqual(Array.from({ length: 64 }, () => 'unavailable'))
  await endless
})

test('once there is room again, it is taken', async () => {
  const all = Array.from({ length: 65 }, (_, i) => threads.run(twice, i))
  await expect(threads.run(twice, 1)).rejects.toMatchObject({ kind: 'too-many' })
  expect(await Promise.all(all)).toEqual(Array.from({ length: 65 }, (_, i) => 2 * i))
  expect(await threads.run(twice, 100)).toBe(200)
})

test('what a server that is stopped cannot end is refused, and no fault of anybody', async () => {
  const begun = threads.run(never)
  const told = expect(begun).rejects.toMatchObject({ kind: 'unavailable', message: expect.stringContaining('stopped') })
  await threads.close()
  await told
  await expect(threads.run(twice, 1)).rejects.toMatchObject({ kind: 'unavailable' })
})
