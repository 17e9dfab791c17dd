import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { contentHash } from '@bichroma/core/profiles'
import { commandNames } from '@bichroma/contract'
import { handlersFor, runCommand } from '@bichroma/courier'
import { Bench } from './bench'
import { BenchClock } from './benchClock'
import { startControl } from './control'
import { faultNames, faults } from './faults/faults'
import { fenLantern } from './scenario/fenLantern'

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

test('the same scenario and commands give the same readings, whatever other workstations do meanwhile', async () => {
  const readings = async (name: string, alongside: boolean) => {
    const bench = benchIn(name)
    bench.carry('TC-0417', 'sedge-02')
    bench.carry('TC-0522', 'sedge-03')
    const puck = bench.instrument('TC-0417')
    const other = async () => {
      if (!alongside) return
      await bench.display('OS-24-11870').showPatch([1, 1, 1], undefined, 500)
      await bench.instrument('TC-0522').read('OS-24-11870')
    }
    await Promise.all([bench.display(serial).showPatch([0.4, 0.5, 0.6], undefined, 100), other()])
    return [await puck.read(serial), ...(await Promise.all([puck.read(serial), other()])).slice(0, 1)]
  }
  expect(await readings('one', false)).toEqual(await readings('two', true))
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
    ['gains beyond their range', 'display.setControls', { serial, gains: [1, 1, 900] }, 'The gains take 0 to 100'],
    ['the room without a diffuser', 'instrument.readAmbient', { serial: 'TC-0417' }, 'Turn the diffuser in front'],
  ] as const)('%s is a fault with a sentence', async (_, name, args, words) => {
    await expect(ask(name, args)).rejects.toThrow(words)
  })

  test('tables that are no tables are refused, and the slot keeps what it holds', async () => {
    const hash = await contents.put(new TextEncoder().encode('{"format":"x"}'))
    await expect(ask('display.writeSlot', { serial, slot: 1, label: 'x', hash })).rejects.toThrow('not slot tables')
    expect(await ask('display.readSlot', { serial, slot: 1 })).toEqual({ slot: 1, label: null, hash: null })
  })

  test('a patch shown and read in one command is the same as in two', async () => {
    const both = (await ask('display.readPatch', { serial, instrument: 'TC-0417', rgb: [1, 1, 1], waitMs: 500 })) as {
      xyz: number[]
    }
    await ask('display.showPatch', { serial, rgb: [1, 1, 1], waitMs: 500 })
    const alone = (await ask('instrument.read', { serial: 'TC-0417', display: serial })) as { xyz: number[] }
    both.xyz.forEach((v, k) => expect(v / alone.xyz[k]).toBeCloseTo(1, 2))
  })

  test('arguments of the wrong shape do not reach a device', async () => {
    await expect(ask('display.showPatch', { serial, rgb: [2, 0, 0] })).rejects.toThrow('1 or less')
    await expect(ask('display.showPatch', { serial, rgb: [1, 0, 0], area: 2 })).rejects.toThrow('1 or less')
    await expect(
      ask('host.placeProfile', { display: serial, hash: 'x', fileName: '../../etc/passwd', scope: 'machine' }),
    ).rejects.toThrow()
  })
})

describe('the control', () => {
  const start = async (name: string) => {
    const bench = benchIn(name)
    const control = await startControl(bench)
    const post = async (path: string, body: unknown) => {
      const response = await fetch(control.url + path, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
      return { status: response.status, body: (await response.json()) as { detail: string; xyz: number[][] } }
    }
    return { bench, control, post }
  }

  test('causes and mends faults, and answers with a sentence to what it does not know', async () => {
    const { bench, control, post } = await start('control')
    const display = bench.display(serial)
    await post('/faults/dataLink', { display: serial, on: true })
    expect(display.dataLink).toBe(false)
    await post('/faults/dataLink', { display: serial, on: false })
    expect(display.dataLink).toBe(true)
    await post('/faults/condition', { workstation: 'sedge-02', condition: 'hdr', on: true })
    expect(bench.host('sedge-02').conditions.hdr).toBe(true)
    await post('/faults/buttons', { display: serial, slot: 2, gains: [90, 100, 100] })
    expect(display.memory).toMatchObject({ activeSlot: 2, gains: [90, 100, 100] })
    await post('/faults/roomLight', { room: 'Sedge Room', illuminanceLux: 800 })
    expect(bench.room('Sedge Room')).toEqual({ illuminanceLux: 800, kelvin: 5000 })
    await post('/faults/seat', { instrument: 'TC-0417', x: 0.5, y: 0, tilt: 0.2 })
    expect(bench.instrument('TC-0417').seat).toMatchObject({ place: { x: 0.5, y: 0 }, tilt: 0.2 })
    expect((await post('/faults/earthquake', {})).body.detail).toContain('There are: dataLink')
    expect((await post('/faults/toString', {})).status).toBe(400)
    expect((await post('/faults/cover', { instrument: 'nobody', on: true })).status).toBe(400)
    expect((await post('/faults/cover', { on: true })).body.detail).toContain('“instrument” is missing')
    expect((await post('/faults/buttons', { display: serial, slot: 9 })).body.detail).toContain('8 or less')
    expect((await post('/faults/buttons', { display: serial, slot: 8 })).body.detail).toContain('slots 1 to 3')
    expect((await post('/nowhere', {})).status).toBe(404)
    const truth = await post('/truth', { display: serial, signals: [[1, 1, 1]] })
    expect(truth.body.xyz[0][1]).toBeCloseTo(bench.truth(serial, [[1, 1, 1]])[0][1], 1)
    await control.close()
  })

  test('its page is plain, says that it is a stand-in, and has a form for every fault', async () => {
    const { control } = await start('page')
    const page = await (await fetch(control.url)).text()
    expect(page).toContain('Not part of Bichroma')
    for (const name of faultNames) {
      expect(page).toContain(`data-fault="${name}"`)
      expect(page).toContain(faults[name].about)
    }
    expect(page).toContain(serial)
    const state = (await (await fetch(`${control.url}/state`)).json()) as { workstations: unknown[] }
    expect(state.workstations).toHaveLength(20)
    await control.close()
  })

  test('jumps to a later instant, for making history', async () => {
    const { bench, control, post } = await start('clock')
    const before = bench.truth(serial, [[1, 1, 1]])[0][1]
    await post('/clock', { at: 1e12 + 4e10 })
    // Fifteen months of use.
    expect(bench.truth(serial, [[1, 1, 1]])[0][1] / before).toBeLessThan(0.995)
    expect((await post('/clock', { at: 'soon' })).status).toBe(400)
    await control.close()
  })
})

test('the clock passes time at its pace, and not at all when there is no hurry to wait for', async () => {
  const endless = new BenchClock(Infinity, 1000)
  const [a, b] = [endless.lane(), endless.lane()]
  await a.pass(5000)
  await b.pass(2000)
  expect([endless.now(), a.now(), b.now()]).toEqual([6000, 6000, 3000])
  endless.jumpTo(1e9)
  expect([endless.now(), b.now()]).toEqual([1e9, 1e9])
  const fast = new BenchClock(100)
  const before = fast.now()
  const wall = performance.now()
  await fast.pass(2000)
  expect(fast.now() - before).toBeGreaterThanOrEqual(1900)
  expect(performance.now() - wall).toBeLessThan(1900)
})

test('time that is counted passes by operations alone, though they are waited for', async () => {
  const counted = new BenchClock(1000, 1000, true)
  const lane = counted.lane()
  await lane.pass(4000)
  await new Promise((resolve) => setTimeout(resolve, 5))
  expect([lane.now(), counted.now()]).toEqual([5000, 5000])
})
