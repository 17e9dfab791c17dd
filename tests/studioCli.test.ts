import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { DisplayListing, RunSummary } from '@bichroma/contract'
import { runStudio } from '../packages/cli/src/studio/studio'
import { Studio } from './studio'

let studio: Studio
let token = ''
beforeAll(async () => {
  studio = await Studio.proven()
  token = (await studio.admin.post<{ token: string }>('/tokens', { name: 'cli', role: 'technician', days: 100 })).token
})
afterAll(() => studio.close())

async function run(line: readonly string[], env: Record<string, string | undefined> = {}) {
  let [out, err] = ['', '']
  const code = await runStudio(line, {
    print: (text) => (out += `${text}\n`),
    complain: (text) => (err += `${text}\n`),
    now: () => studio.clock.now(),
    pause: () => new Promise((resolve) => setImmediate(resolve)),
    env: { BICHROMA_SERVER: studio.server.url, BICHROMA_TOKEN: token, ...env },
  })
  return { code, out, err }
}

test('displays as a table for people and as JSON for programs', async () => {
  const { code, out } = await run(['displays', '--room', 'sedge room'])
  expect(code).toBe(0)
  expect(out).toMatch(/Sedge 2 +Sedge Room +Atlas web +(within|near edge)/)
  const json = JSON.parse((await run(['displays', '--json'])).out) as DisplayListing[]
  expect(json).toEqual(await studio.admin.list<DisplayListing>('/displays'))
  expect((await run(['displays', '--verdict', 'outside'])).out).toBe('No display fits.\n')
})

test('a check run is started and waited for; its verdict is the exit code @long', async () => {
  const { code, out } = await run(['check', 'sedge 2', '--wait', '600', '--json'])
  const told = JSON.parse(out) as RunSummary
  expect(told).toMatchObject({ state: 'done', kind: 'check', displayName: 'Sedge 2' })
  expect(code).toBe({ within: 0, near: 0, outside: 3 }[told.judged!.verdict as 'within'])
})

test('a run that waits for hands is told as such when the time is over; one that was stopped did not end well', async () => {
  const seat = studio.bench.instrument('TC-0417').seat
  studio.bench.instrument('TC-0417').seat = { place: { x: 0, y: 0 }, tilt: 0, optics: 'covered' as never }
  const started = JSON.parse((await run(['check', 'Sedge 2', '--json'])).out) as { id: number }
  let now = 0
  const late = await runStudio(['wait', String(started.id), '--minutes', '1'], {
    print: () => {},
    complain: () => {},
    now: () => (now += 61_000),
    pause: async () => {},
    env: { BICHROMA_SERVER: studio.server.url, BICHROMA_TOKEN: token },
  })
  expect(late).toBe(5)
  await studio.admin.post(`/runs/${started.id}/stop`).catch(() => {})
  await studio.server.engine.ended(started.id)
  studio.bench.instrument('TC-0417').seat = seat
  const ended = await run(['wait', String(started.id)])
  expect([0, 3, 5]).toContain(ended.code)
  expect(ended.out).toContain(`run      ${started.id}`)
})

test('profiles, place, needs, due and export', async () => {
  const folder = mkdtempSync(join(studio.folder, 'cli-'))
  expect((await run(['profiles', '--out', folder])).code).toBe(0)
  expect(readdirSync(folder)).toEqual(['Sedge 2, slot 1.icc'])
  expect((await run(['place', 'Sedge 2'])).out).toContain('is on its way to sedge-02')
  expect((await run(['due', '--days', '700'])).out).toContain('Sedge 2')
  expect((await run(['due', '--days', '0'])).out).toContain('Nothing is due')
  expect((await run(['needs'])).code).toBe(0)
  const file = join(folder, 'report.cgats')
  expect((await run(['export', 'run', file, '--run', '1'])).code).toBe(0)
  expect(readFileSync(file, 'utf8')).toContain('BEGIN_DATA')
})

test.each<[string, readonly string[], Record<string, string | undefined>, number, string]>([
  ['no server', ['displays'], { BICHROMA_SERVER: undefined }, 2, 'Say where the server is'],
  ['no token', ['displays'], { BICHROMA_TOKEN: undefined }, 2, 'A token is needed'],
  ['an address that is none', ['displays', '--server', 'nowhere'], {}, 2, 'is no address'],
  ['another protocol', ['displays', '--server', 'ftp://x'], {}, 2, 'must begin with http'],
  ['nobody there', ['displays', '--server', 'http://127.0.0.1:9'], {}, 6, 'does not answer'],
  ['a token file that is not there', ['displays', '--token-file', '/nowhere'], {}, 2, 'cannot be read'],
  ['a display that is not there', ['verdict', 'Sedge'], {}, 2, 'perhaps Sedge 2'],
  ['a room that is not there', ['displays', '--room', 'x'], {}, 2, 'rooms are Sedge Room'],
  ['a verdict that is none', ['displays', '--verdict', 'fine'], {}, 6, 'verdict'],
  ['a verdict nobody fails on', ['displays', '--fail-on', 'near'], {}, 2, 'one of outside, untold, lapsed, unproven'],
  ['a run that is not there', ['wait', '4711'], {}, 6, 'There is no run 4711'],
  ['a slot that is not there', ['check', 'Sedge 2', '--slot', '7'], {}, 6, 'there is no slot 7'],
  ['a backup by a technician', ['backup'], {}, 6, 'needs the role administrator'],
  ['a form that is none', ['export', 'fleet', 'x.doc'], {}, 2, 'html, pdf, csv'],
  ['a report of no run', ['export', 'run', 'x.pdf'], {}, 2, 'Say which run'],
  ['no command', [], {}, 2, 'Usage'],
  ['a command that is none', ['dance'], {}, 2, 'dance'],
])('%s: one line, and its exit code', async (_what, line, env, code, words) => {
  const said = await run(line, env)
  expect([said.code, said.err]).toEqual([code, expect.stringContaining(words)])
})

test('a token in a file does', async () => {
  const file = join(studio.folder, 'token')
  writeFileSync(file, `${token}\n`)
  expect((await run(['verdict', 'Sedge 2', '--token-file', file], { BICHROMA_TOKEN: undefined })).code).toBe(0)
})
