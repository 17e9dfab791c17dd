import { spawn } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { buildSync } from 'esbuild'
import type { Page, RunSummary } from '@bichroma/contract'
import { readIccProfile } from '@bichroma/core/profiles'
import { Studio } from './studio'

let studio: Studio
let token = ''
let folder = ''
/** The command line in one file, so that each call begins at once. */
let program = ''
beforeAll(() => {
  program = join(resolve('packages/cli'), `.recipes-${process.pid}.mjs`)
  buildSync({
    entryPoints: ['packages/cli/src/main.ts'],
    outfile: program,
    bundle: true,
    platform: 'node',
    format: 'esm',
    external: ['better-sqlite3', 'pngjs', 'cli-table3', 'commander', 'yup'],
    banner: { js: `import { createRequire } from 'node:module'; const require = createRequire(import.meta.url)` },
  })
})
afterAll(() => rmSync(program, { force: true }))
// Each has a studio of its own: runs are queued and weeks pass in them.
beforeEach(async () => {
  studio = await Studio.proven()
  folder = mkdtempSync(join(studio.folder, 'recipes-'))
  await later(0)
})
afterEach(() => studio.close())

/** Days pass; the recipes get a token that is good then. */
async function later(days: number) {
  studio.clock.jumpTo(studio.clock.now() + days * 86_400_000)
  studio.admin = await studio.as('administrator')
  const body = { name: 'recipes', role: 'administrator', days: 1 }
  token = (await studio.admin.post<{ token: string }>('/tokens', body)).token
}

const blocks = new Map(
  [...readFileSync('docs/recipes.md', 'utf8').matchAll(/```sh recipe=(\w+)\n([\s\S]*?)```/g)].map((m) => [m[1], m[2]]),
)

/** Runs a recipe as it stands in the docs. */
function cook(name: string, env: Record<string, string> = {}, args: readonly string[] = []) {
  const script = join(folder, `${name}.sh`)
  writeFileSync(script, `bichroma() { "${process.execPath}" "${program}" "$@"; }\n${blocks.get(name)}`)
  return new Promise<{ code: number | null; out: string; err: string }>((done) => {
    const child = spawn('sh', [script, ...args], {
      cwd: folder,
      env: { ...process.env, BICHROMA_SERVER: studio.server.url, BICHROMA_TOKEN: token, ...env },
    })
    let [out, err] = ['', '']
    child.stdout.on('data', (chunk) => (out += chunk))
    child.stderr.on('data', (chunk) => (err += chunk))
    child.on('close', (code) => done({ code, out, err }))
  })
}

test('every recipe of the docs is run here', () => {
  expect([...blocks.keys()]).toEqual(['nightly', 'gate', 'profiles', 'monday', 'monitor', 'backup'])
})

test('nightly: a check of each display of the room is queued for the night @long', async () => {
  const { code, err } = await cook('nightly', {}, ['Sedge Room'])
  expect([code, err]).toEqual([0, ''])
  const { items } = await studio.admin.get<Page<RunSummary>>('/runs?kind=check')
  expect(items).toHaveLength(1)
  expect(items[0]).toMatchObject({ kind: 'check', displayName: 'Sedge 2' })
  if (items[0].state === 'queued') await studio.admin.post(`/runs/${items[0].id}/stop`)
  await studio.server.engine.ended(items[0].id)
  const unknown = await cook('nightly', {}, ['Nowhere'])
  expect(unknown.err).toContain('There is no room “Nowhere”; rooms are Sedge Room.')
})

test('gate: a screen within its limits lets the job begin; one that has lapsed does not @long', async () => {
  const fine = await cook('gate', { DISPLAY_NAME: 'Sedge 2' })
  expect([fine.code, fine.out.trim().split('\n').at(-1)]).toEqual([0, 'rendering'])
  await later(60)
  const lapsed = await cook('gate', { DISPLAY_NAME: 'QL-27-04418' })
  expect(lapsed.code).toBe(4)
  expect(lapsed.err).toContain('cannot be trusted today')
  expect(lapsed.out).not.toContain('rendering')
  const nobody = await cook('gate', { DISPLAY_NAME: 'Nobody' })
  expect([nobody.code, nobody.err]).toEqual([2, expect.stringContaining('There is no display “Nobody” in use')])
})

test('profiles: each file is the profile that the run filed', async () => {
  mkdirSync(join(folder, 'profiles'))
  const { code } = await cook('profiles')
  expect(code).toBe(0)
  const [told] = JSON.parse(readFileSync(join(folder, 'profiles.json'), 'utf8')) as { file: string; display: string }[]
  expect(told.display).toBe('Sedge 2')
  const bytes = readFileSync(join(folder, told.file))
  const served = new Uint8Array(await (await studio.admin.raw('GET', '/runs/1/profile')).arrayBuffer())
  expect(new Uint8Array(bytes)).toEqual(served)
  expect(readIccProfile(served).profileClass).toBe('mntr')
})

test('monday: the report as PDF and CSV, and what is due @long', async () => {
  await later(60)
  const { code, err } = await cook('monday')
  expect([code, err]).toEqual([0, ''])
  const day = new Date().toISOString().slice(0, 10)
  expect(
    readFileSync(join(folder, `fleet-${day}.pdf`))
      .subarray(0, 5)
      .toString(),
  ).toBe('%PDF-')
  expect(readFileSync(join(folder, `fleet-${day}.csv`), 'utf8')).toContain('Sedge 2')
  expect(readFileSync(join(folder, `due-${day}.txt`), 'utf8')).toContain('Sedge 2')
})

test('monitor: fine while nothing is outside; the server’s silence is no fine @long', async () => {
  const fine = await cook('monitor')
  expect([fine.code, fine.out]).toEqual([0, 'OK: 1 within\n'])
  await later(60)
  expect((await cook('monitor')).out).toBe('OK: 1 lapsed\n')
  const away = await cook('monitor', { BICHROMA_SERVER: 'http://127.0.0.1:9' })
  expect(away.code).toBe(6)
  const refused = await cook('monitor', { BICHROMA_TOKEN: 'bichroma_wrong' })
  expect([refused.code, refused.err]).toEqual([6, expect.stringContaining('This token is not known')])
})

test('backup: a backup and an inventory @long', async () => {
  const { code, out } = await cook('backup')
  expect(code).toBe(0)
  expect(out).toContain('looked through')
  expect(readFileSync(join(folder, 'inventory.csv'), 'utf8')).toContain('QL-27-04418')
  expect(existsSync(join(studio.folder, 'data', 'backups'))).toBe(true)
})
