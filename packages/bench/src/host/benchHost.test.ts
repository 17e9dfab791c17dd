import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Triple } from '@bichroma/core/color'
import { contentHash } from '@bichroma/core/profiles'
import { operatingSystemNames, type OperatingSystem } from '@bichroma/core/register'
import { hostConditionNames, type HostCondition } from '@bichroma/contract'
import { noConditions } from '@bichroma/contract/test'
import { BenchClock } from '../benchClock'
import { BenchHost } from './benchHost'
import { bindingStores, inForce, type Bound } from './bindingStores'
import { profileFolders } from './profileFolders'
import { automaticFactors, signalOnScreen } from './screenEffects'

const folder = mkdtempSync(join(tmpdir(), 'bichroma-host-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const bytes = (text: string) => new TextEncoder().encode(text)
let made = 0
function host(operatingSystem: OperatingSystem, administrator = true) {
  const root = join(folder, String(made++))
  const traits = {
    name: 'w',
    operatingSystem,
    systemVersion: '1',
    administrator,
    signalRange: 'full' as const,
    programs: [],
  }
  return { root, host: new BenchHost(traits, root, new BenchClock(Infinity, 1e12)) }
}

describe.each(operatingSystemNames)('%s', (system) => {
  test('keeps profiles where the system looks for them, and binds them in its own manner', async () => {
    const { root, host: w } = host(system)
    const { path } = await w.placeProfile('D-1', 'a.icc', bytes('one'), 'user')
    const inside = join(profileFolders[system].user, 'a.icc')
    expect(path.replaceAll('\\', '/').replace('C:', 'C').replace(/^\//, '')).toBe(inside)
    expect(new Uint8Array(readFileSync(join(root, inside)))).toEqual(bytes('one'))
    const text = readFileSync(join(root, bindingStores[system].path), 'utf8')
    expect(text).toContain('a.icc')
    expect(text).toContain({ windows: 'ICMProfile', macos: '<!DOCTYPE plist', linux: '[D-1]' }[system])
    w.signOut()
    expect(await w.listInForce()).toEqual([
      {
        serial: 'D-1',
        scope: 'user',
        path,
        hash: contentHash(bytes('one')),
        waitsFor: null,
        associations: { machine: [], user: ['a.icc'], perUser: true },
        by: system === 'macos' ? null : 'Bichroma',
      },
    ])
  })

  test('what was placed last is in force, for the machine as well as for a user; two displays do not mix', async () => {
    const { host: w } = host(system)
    await w.placeProfile('D-1', 'a.icc', bytes('one'), 'user')
    await w.placeProfile('D-2', 'b.icc', bytes('two'), 'machine')
    await w.placeProfile('D-1', 'c.icc', bytes('three'), 'machine')
    w.restart()
    const bySerial = Object.fromEntries((await w.listInForce()).map((b) => [b.serial, b]))
    expect(bySerial['D-1']).toMatchObject({ scope: 'machine', hash: contentHash(bytes('three')) })
    expect(bySerial['D-2']).toMatchObject({ scope: 'machine', hash: contentHash(bytes('two')) })
  })

  test('somebody’s own profile takes the place of ours silently', async () => {
    const { host: w } = host(system)
    await w.placeProfile('D-1', 'a.icc', bytes('one'), 'machine')
    await w.replaceProfile('D-1', 'Moss Quest 2')
    const [bound] = await w.listInForce()
    expect(bound.path).toMatch(/Moss-Quest-2\.icc$/)
    expect(bound.hash).not.toBe(contentHash(bytes('one')))
  })

  test('its bindings read back as they were written', () => {
    const store = bindingStores[system]
    const bindings: Record<string, Bound> = {
      'D-1': { machine: ['a.icc'], user: [], perUser: false },
      'QL-27-04418': { machine: ['a b.icc', 'c.icc'], user: ['d.icc'], perUser: true },
    }
    expect(store.read(store.write(bindings))).toEqual(bindings)
    expect(inForce(bindings['QL-27-04418'])).toEqual({ scope: 'user', name: 'd.icc' })
    expect(inForce({ machine: [], user: [], perUser: false })).toBeNull()
  })

  test('without administrator rights only the user’s scope works, and the sentence says so', async () => {
    const { host: w } = host(system, false)
    await expect(w.placeProfile('D-1', 'a.icc', bytes('one'), 'machine')).rejects.toMatchObject({
      kind: 'privilege',
      sentence: expect.stringContaining('Place it for the user'),
    })
    await w.placeProfile('D-1', 'a.icc', bytes('one'), 'user')
    expect((await w.listInForce())[0].scope).toBe('user')
  })

  test('a full disk keeps what was in force', async () => {
    const { host: w } = host(system)
    await w.placeProfile('D-1', 'a.icc', bytes('one'), 'machine')
    w.restart()
    w.diskFull = true
    await expect(w.placeProfile('D-1', 'b.icc', bytes('two'), 'machine')).rejects.toMatchObject({ kind: 'disk-full' })
    expect((await w.listInForce())[0].hash).toBe(contentHash(bytes('one')))
  })
})

test('where a binding waits for a sign-out, it says so until then', async () => {
  const { host: w } = host('windows')
  await w.placeProfile('D-1', 'a.icc', bytes('one'), 'machine')
  expect(await w.listInForce()).toMatchObject([{ waitsFor: 'sign-out' }])
  w.signOut()
  expect(await w.listInForce()).toMatchObject([{ waitsFor: null }])
})

test('an update brings another version, and settings back to how their maker likes them', async () => {
  const { host: w } = host('macos')
  w.updateSystem('16')
  expect(await w.facts()).toMatchObject({ systemVersion: '16', conditions: { eveningTint: true, screenSaver: true } })
})

test('a clock set off is told, and nothing else minds', async () => {
  const { host: w } = host('linux')
  w.clockShiftMs = -3_600_000
  expect((await w.facts()).clock).toBe(1e12 - 3_600_000)
})

describe('ruinous conditions', () => {
  const room = { illuminanceLux: 60, kelvin: 3200 }
  const grey: Triple = [0.6, 0.6, 0.6]
  const effect = (on: Partial<Record<HostCondition, boolean>>) => {
    const conditions = { ...noConditions, ...on }
    return { signal: signalOnScreen(conditions, grey), factors: automaticFactors(conditions, room) }
  }

  test('none of them leaves the picture alone', () => {
    expect(effect({})).toEqual({ signal: grey, factors: [1, 1, 1] })
  })

  test.each(hostConditionNames)('%s spoils what is measured, alone or on the power that it is about', (name) => {
    const on = name === 'sleepOnBattery' ? { [name]: true, onBattery: true } : { [name]: true }
    expect(effect(on)).not.toEqual(effect({}))
  })

  test('sleep counts on the power that there is', () => {
    expect(effect({ sleepOnBattery: true })).toEqual(effect({}))
    expect(effect({ sleepOnMains: true, onBattery: true }).signal).toEqual(grey)
    expect(effect({ sleepOnMains: true }).signal).toEqual([0, 0, 0])
  })

  test('white adaptation follows a warm room, evening tint takes blue', () => {
    expect(effect({ whiteAdaptation: true }).factors[2]).toBeLessThan(0.8)
    const { signal } = effect({ eveningTint: true })
    expect(signal[2]).toBeLessThan(signal[1])
    expect(signal[1]).toBeLessThan(signal[0])
  })
})
