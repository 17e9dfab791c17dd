import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { contentHash } from '@bichroma/core'
import { commandNames } from '@bichroma/contract'
import { handlersFor, runCommand } from '@bichroma/courier'
import { Bench } from './bench'
import { BenchClock } from './benchClock'
import { startControl } from './control'
import { fenLantern } from './fenLantern'
import { profileFolders } from './host/profileFolders'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-bench-'))
const benchIn = (name: string) =>
  new Bench({
    scenario: fenLantern,
    server: 'http://127.0.0.1:9',
    keys: {},
    clock: new BenchClock(Infinity, 1e12),
    stateDir: join(folder, name),
  })
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const serial = 'QL-27-04418'

test('a display remembers its slots, each with its backlight, through a restart', async () => {
  const display = benchIn('memory').display(serial)
  await display.activateSlot(2)
  await display.setControls({ backlight: 31 })
  await display.activateSlot(1)
  const again = benchIn('memory').display(serial)
  expect((await again.getControls()).activeSlot).toBe(1)
  expect((await again.getControls()).backlight).toBe(80)
  expect((await again.activateSlot(2)).backlight).toBe(31)
})

test.each(['sedge-01', 'sedge-02', 'sedge-03'])('%s keeps profiles where its system looks for them', async (name) => {
  const host = benchIn('hosts').host(name)
  const { displays, host: traits } = fenLantern.workstations.find((w) => w.host.name === name)!
  const bytes = new TextEncoder().encode(`profile for ${name}`)
  const { path } = await host.placeProfile(displays[0].serial, 'a.icc', bytes, 'machine')
  const inside = join(profileFolders[traits.operatingSystem].machine, 'a.icc')
  expect(path.replaceAll('\\', '/').replace('C:', 'C').replace(/^\//, '')).toBe(inside)
  expect(new Uint8Array(readFileSync(join(folder, 'hosts/hosts', name, inside)))).toEqual(bytes)
  expect(await host.listInForce()).toEqual([
    { serial: displays[0].serial, scope: 'machine', path, hash: contentHash(bytes) },
  ])
})

test('the same scenario and commands give the same readings', async () => {
  const readings = async (name: string) => {
    const bench = benchIn(name)
    await bench.display(serial).showPatch([0.4, 0.5, 0.6])
    const puck = bench.instrument('TC-0417')
    return [await puck.read(serial), await puck.read(serial)]
  }
  expect(await readings('one')).toEqual(await readings('two'))
})

describe('through the courier’s commands', () => {
  const bench = benchIn('commands')
  const kept = new Map<string, Uint8Array>()
  const contents = {
    get: async (hash: string) => kept.get(hash)!,
    put: async (bytes: Uint8Array) => (kept.set(contentHash(bytes), bytes), contentHash(bytes)),
  }
  const handlers = handlersFor(
    { displays: [bench.display(serial)], instruments: [bench.instrument('TC-0417')], host: bench.host('sedge-02') },
    contents,
  )
  const ask = async (name: (typeof commandNames)[number], args: unknown) => runCommand(handlers, name, args)

  test.each([
    ['a display that is not here', 'display.getControls', { serial: 'X' }, 'No display with serial X'],
    ['an instrument that is not here', 'instrument.zero', { serial: 'X' }, 'Plug it in'],
    ['a slot beyond the last', 'display.readSlot', { serial, slot: 7 }, 'there is no slot 7'],
    ['a backlight beyond its range', 'display.setControls', { serial, backlight: 101 }, 'takes 0 to 100'],
  ] as const)('%s is a fault with a sentence', async (_, name, args, words) => {
    await expect(ask(name, args)).rejects.toThrow(words)
  })

  test('tables that are no tables are refused, and the slot keeps what it holds', async () => {
    const hash = await contents.put(new TextEncoder().encode('{"format":"x"}'))
    await expect(ask('display.writeSlot', { serial, slot: 1, label: 'x', hash })).rejects.toThrow('not slot tables')
    expect(await ask('display.readSlot', { serial, slot: 1 })).toEqual({ slot: 1, label: null, hash: null })
  })

  test('arguments of the wrong shape do not reach a device', async () => {
    await expect(ask('display.showPatch', { serial, rgb: [2, 0, 0] })).rejects.toThrow('1 or less')
    await expect(
      ask('host.placeProfile', { display: serial, hash: 'x', fileName: '../../etc/passwd', scope: 'machine' }),
    ).rejects.toThrow()
  })
})

describe('the control', () => {
  test('causes and mends faults, and answers with a sentence to what it does not know', async () => {
    const bench = benchIn('control')
    const control = await startControl(bench)
    const post = async (path: string, body: unknown) => {
      const response = await fetch(control.url + path, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
      return { status: response.status, body: (await response.json()) as { detail: string; xyz: number[][] } }
    }
    await post('/faults/dataLink', { display: serial, on: true })
    expect(bench.display(serial).dataLink).toBe(false)
    await post('/faults/dataLink', { display: serial, on: false })
    expect(bench.display(serial).dataLink).toBe(true)
    await post('/faults/condition', { workstation: 'sedge-02', condition: 'hdr', on: true })
    expect(bench.host('sedge-02').conditions.hdr).toBe(true)
    expect((await post('/faults/earthquake', {})).body.detail).toContain('There are: dataLink')
    expect((await post('/faults/cover', { instrument: 'nobody', on: true })).status).toBe(400)
    expect((await post('/faults/cover', { on: true })).body.detail).toContain('“instrument” is missing')
    const truth = await post('/truth', { display: serial, signals: [[1, 1, 1]] })
    expect(truth.body.xyz[0][1]).toBeCloseTo(bench.truth(serial, [[1, 1, 1]])[0][1], 1)
    await control.close()
  })
})

test('the clock passes time at its pace, and not at all when there is no hurry to wait for', async () => {
  const endless = new BenchClock(Infinity, 1000)
  await endless.pass(5000)
  expect(endless.now()).toBe(6000)
  endless.jumpTo(1e9)
  expect(endless.now()).toBe(1e9)
  const fast = new BenchClock(100)
  const before = fast.now()
  const wall = performance.now()
  await fast.pass(2000)
  expect(fast.now() - before).toBeGreaterThanOrEqual(1900)
  expect(performance.now() - wall).toBeLessThan(1900)
})
