import { spawnSync } from 'node:child_process'
import { chmodSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { contentHash } from '@bichroma/core/profiles'
import type { FoundByHandAnswer } from '@bichroma/contract'
import { RolloutStudio } from '../scripts/ordeal/rolloutStudio'
import { HeldClient } from './heldClient'
import { openPromise } from './unzip'

let studio: RolloutStudio
let folder: string
const root = () => join(folder, 'root')
const linux = 'reed-003'

/** A colour daemon’s command that keeps in files what it was told; it knows two displays. */
const colormgr = (displays: readonly string[]) => `#!/bin/sh
state="${join(folder, 'daemon')}"; mkdir -p "$state"
case "$1" in
  get-devices-by-kind)
${displays.map((serial) => `    printf 'Object Path:   /devices/${serial}\\nType:          display\\nSerial:        ${serial}\\n\\n'`).join('\n')} ;;
  import-profile) : ;;
  find-profile-by-filename) printf 'Object Path:   %s\\nFilename:      %s\\n' "$2" "$2" ;;
  device-add-profile) : ;;
  device-make-profile-default) printf '%s' "$3" > "$state/$(basename "$2")" ;;
  device-get-default-profile) file="$state/$(basename "$2")"; [ -f "$file" ] && printf 'Object Path:   x\\nFilename:      %s\\n' "$(cat "$file")" || exit 1 ;;
esac
`

/** Unpacks a ZIP of the API beside a sandboxed root. */
async function taken(does: 'place' | 'look', selection: object = {}): Promise<Map<string, Buffer>> {
  const response = await studio.client.raw('POST', '/rollout/files', { selection, does })
  expect([response.status, response.headers.get('content-type')]).toEqual([200, 'application/zip'])
  writeFileSync(join(folder, 'taken.zip'), Buffer.from(await response.arrayBuffer()))
  const files = await openPromise(join(folder, 'taken.zip'))
  for (const [name, bytes] of files) {
    mkdirSync(dirname(join(folder, name)), { recursive: true })
    writeFileSync(join(folder, name), bytes)
  }
  return files
}
const run = (script: string, ...args: string[]) =>
  spawnSync('/bin/sh', [join(folder, script), ...args], {
    encoding: 'utf8',
    env: { PATH: `${join(folder, 'bin')}:${process.env.PATH}`, HOME: '/home/studio', BICHROMA_ROOT: root() },
  })
const found = (text: string) => studio.client.post<FoundByHandAnswer>('/rollout/found', { text })

beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'bichroma-hand-'))
  mkdirSync(join(folder, 'bin'))
  writeFileSync(join(folder, 'bin', 'colormgr'), colormgr(['RD-003-1', 'RD-003-2']))
  chmodSync(join(folder, 'bin', 'colormgr'), 0o755)
  studio = await RolloutStudio.open(3, 2, HeldClient)
  for (const { displayId } of await studio.rows()) studio.file(displayId, 1, 1)
  await studio.settle()
})
afterEach(async () => {
  await studio.close()
  rmSync(folder, { recursive: true, force: true })
})

test('the shell script places, binds, prints; what it prints is read back as found, told by hand @long', async () => {
  const files = await taken('place')
  expect([...files.keys()].filter((n) => !n.startsWith('profiles/')).sort()).toEqual([
    'README.txt',
    'place-linux.sh',
    'place-macos.sh',
    'place-windows.ps1',
  ])
  const { stdout, stderr, status } = run('place-linux.sh', linux)
  expect([status, stderr]).toEqual([0, ''])
  const row = await studio.row(5)
  const stored = join(root(), '/home/studio/.local/share/icc/Reed-5-slot-1-v1.icc')
  expect(contentHash(readFileSync(stored))).toBe(row.wanted!.profileHash)
  expect(stdout.trim().split('\n')[0]).toBe('bichroma-found 1')
  expect(await found(`$ sh place-linux.sh\n${stdout}$ `)).toEqual({
    workstation: linux,
    displays: 2,
    placed: 2,
    unknown: [],
  })
  expect(await studio.row(5)).toMatchObject({
    placement: { state: 'in force', why: 'hand', requestedBy: 'Admin', path: stored },
    found: { told: 'hand', hash: row.wanted!.profileHash, ours: true },
    differs: false,
    mend: null,
  })
  // The same again changes nothing.
  const before = studio.ask<{ n: number }>('SELECT COUNT(*) AS n FROM placement')
  expect(await found(stdout)).toMatchObject({ placed: 0 })
  expect(studio.ask('SELECT COUNT(*) AS n FROM placement')).toEqual(before)
  // Looking alone tells the same.
  await taken('look')
  expect(run('look-linux.sh', linux).stdout).toBe(stdout)
  writeFileSync(stored, 'somebody wrote over it')
  await found(run('look-linux.sh', linux).stdout)
  expect(await studio.row(5)).toMatchObject({
    placement: { state: 'overridden' },
    mend: 'decision',
    found: { told: 'hand' },
  })
})

test('a file of another stays, a profile that was damaged on the way is not placed, a display that is not there is told @long', async () => {
  await taken('place')
  const theirs = join(root(), '/home/studio/.local/share/icc/Reed-5-slot-1-v1.icc')
  mkdirSync(dirname(theirs), { recursive: true })
  writeFileSync(theirs, 'another’s')
  writeFileSync(join(folder, 'profiles/Reed-6-slot-1-v1.icc'), 'damaged')
  const { stderr, stdout } = run('place-linux.sh', linux)
  expect(stderr).toContain(`${theirs} is another's file, and it stays.`)
  expect(stderr).toContain('Reed-6-slot-1-v1.icc is not the file that it should be.')
  expect(readFileSync(theirs, 'utf8')).toBe('another’s')
  expect(await found(stdout)).toMatchObject({ displays: 2, placed: 0 })
  expect(await studio.row(5)).toMatchObject({ placement: null, differs: true, found: { path: null, told: 'hand' } })
  writeFileSync(join(folder, 'bin', 'colormgr'), colormgr(['RD-003-1']))
  expect(run('place-linux.sh', linux).stderr).toContain('No display RD-003-2 is plugged in here.')
  // On another workstation it does nothing.
  expect(run('place-linux.sh', 'reed-999')).toMatchObject({ stderr: '', status: 0 })
})

test('what a script does not tell of is not taken for read back @long', async () => {
  await taken('place')
  const { stdout } = run('place-linux.sh', linux)
  await found(stdout)
  // Sent again, and the courier went before it could read back.
  studio.ask(`UPDATE placement SET verified_at = NULL WHERE display_id IN (5, 6) RETURNING id`)
  await found(stdout.replace(/display\tRD-003-2.*\n/, ''))
  expect((await studio.row(5)).placement!.state).toBe('in force')
  expect((await studio.row(6)).placement!.state).toBe('placed')
})

test('what is no output of a script is refused with a sentence, and a courier’s word goes before it @long', async () => {
  await expect(found('hello')).rejects.toThrow('no line “bichroma-found 1”')
  await expect(found('bichroma-found 1\nhost\treed-003\n')).rejects.toThrow('breaks off')
  await expect(found('bichroma-found 1\nhost\tnowhere\nend')).rejects.toThrow('no workstation “nowhere”')
  await expect(found('bichroma-found 1\nhost\treed-003\ndisplay\tx\nend')).rejects.toThrow('must be “display”')
  expect(await found('bichroma-found 1\r\nhost\tREED-003\r\ndisplay\tQ-1\t-\t-\r\nend\r\n')).toMatchObject({
    displays: 0,
    unknown: ['Q-1'],
  })
  studio.bench.connect(linux)
  while (!(await studio.row(5)).courierOnline) await new Promise((resolve) => setTimeout(resolve, 5))
  await expect(found('bichroma-found 1\nhost\treed-003\nend')).rejects.toThrow('reads back by itself')
  const nothing = await studio.client.raw('POST', '/rollout/files', { selection: { models: ['None'] }, does: 'place' })
  expect(nothing.status).toBe(409)
})

test('the PowerShell script, line by line: quotes and braces close, rows are data, and it calls what it declares', async () => {
  const text = (await taken('place')).get('place-windows.ps1')!.toString('utf8')
  const lines = text.split('\n')
  // Here-strings: from @' at the end of a line to '@ at the beginning of one; rows cannot end them.
  const code: string[] = []
  const here: string[][] = []
  let held: string[] | null = null
  for (const line of lines) {
    if (held) {
      if (line.startsWith(`'@`)) held = null
      else held.push(line)
      continue
    }
    code.push(line)
    if (line.endsWith(`@'`)) here.push((held = []))
  }
  expect(held).toBeNull()
  expect(here[0].every((line) => /^row\t[^\t]+\t[^\t]+\t[A-Za-z0-9.-]+\.icc\t[0-9a-f]{64}$/.test(line))).toBe(true)
  expect(here[0]).toHaveLength(2)
  const declared = [...here[1].join('\n').matchAll(/bool (\w+)\(/g)].map((m) => m[1])
  const called = [...text.matchAll(/\[Bichroma\.Color\]::(\w+)\(/g)].map((m) => m[1])
  expect([...new Set(called)].sort()).toEqual([...declared].sort())
  const depth = { '(': 0, '{': 0, '[': 0 }
  const closes = { ')': '(', '}': '{', ']': '[' } as const
  for (const line of code) {
    if (line.startsWith('#')) continue
    // Text in quotes, with `" and '' inside; what is left is code.
    const bare = line.replace(/'(?:[^']|'')*'|"(?:[^"`]|`.)*"/g, '')
    expect([line, /['"]/.test(bare.replace(/@$/, ''))]).toEqual([line, /@'$|^'@/.test(line)])
    for (const mark of bare) {
      if (mark in depth) depth[mark as '(']++
      if (mark in closes) expect(--depth[closes[mark as ')']]).toBeGreaterThanOrEqual(0)
    }
  }
  expect(depth).toEqual({ '(': 0, '{': 0, '[': 0 })
})
