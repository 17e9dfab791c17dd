import { hostConditionNames, type HostCondition } from '@bichroma/contract'
import { operatingSystemNames } from '@bichroma/core'
import { judgeReadiness, warmUpMinutes, type ReadinessFacts } from './readiness'

const conditions = Object.fromEntries(hostConditionNames.map((n) => [n, false])) as Record<HostCondition, boolean>
const good: ReadinessFacts = {
  workstation: 'sedge-02',
  courierOnline: true,
  displayFound: true,
  displaySerial: 'S1',
  controls: { backlight: 50, pipeline: 'slot', activeSlot: 1, dataLink: true, warmMinutes: 95 },
  instrumentName: 'Colorimeter C3 T1',
  instrumentHere: true,
  host: { name: 'sedge-02', operatingSystem: 'linux', systemVersion: '12', conditions },
  look: { xyz: [110, 118, 125], integrationMs: 600, flags: [] },
}
const failing = (change: Partial<ReadinessFacts>) => judgeReadiness({ ...good, ...change }).filter((c) => !c.ok)

test('when all is well every condition is met and none asks for anything', () => {
  const all = judgeReadiness(good)
  expect(all).toHaveLength(6 + hostConditionNames.length)
  expect(all.every((c) => c.ok && c.remedy === null && c.found)).toBe(true)
  expect(new Set(all.map((c) => c.id)).size).toBe(all.length)
})

test.each<[string, Partial<ReadinessFacts>, string, string]>([
  [
    'the courier away',
    { courierOnline: false, controls: null, host: null, look: null },
    'courier',
    'start its courier',
  ],
  ['another display', { displayFound: false, controls: null, look: null }, 'display', 'connect it to sedge-02'],
  [
    'no data link',
    { controls: { ...good.controls!, dataLink: false }, look: null },
    'dataLink',
    'Plug in the data cable',
  ],
  ['no instrument', { instrumentHere: false, look: null }, 'instrument', 'Plug Colorimeter C3 T1 into sedge-02'],
  [
    'the cover closed',
    { look: { xyz: [0, 0, 0], integrationMs: 1, flags: ['cover'] } },
    'cover',
    'Open the instrument’s cover',
  ],
  [
    'the instrument on the desk',
    { look: { xyz: [0.2, 0.2, 0.2], integrationMs: 1, flags: [] } },
    'cover',
    'Hang the instrument flat',
  ],
  ['a cold display', { controls: { ...good.controls!, warmMinutes: 12.4 } }, 'warm', '18 more minutes'],
])('%s is the one thing that is named', (_, change, id, words) => {
  const found = failing(change)
  expect(found.map((c) => c.id)).toEqual([id])
  expect(found[0].remedy).toContain(words)
})

test('warm is warm at the minute', () => {
  expect(failing({ controls: { ...good.controls!, warmMinutes: warmUpMinutes } })).toEqual([])
})

describe.each(operatingSystemNames)('on %s', (operatingSystem) => {
  test.each([...hostConditionNames])('%s left on is named, with the place where it is turned off', (condition) => {
    const found = failing({
      host: { ...good.host!, operatingSystem, conditions: { ...conditions, [condition]: true } },
    })
    expect(found.map((c) => c.id)).toEqual([condition])
    expect(found[0].remedy).toMatch(/^Turn it off on sedge-02 under .{8,}[^.]\.$/)
  })
})

test('several faults are all told', () => {
  expect(
    failing({
      instrumentHere: false,
      look: null,
      controls: { ...good.controls!, warmMinutes: 1, dataLink: false },
    }).map((c) => c.id),
  ).toEqual(['dataLink', 'instrument', 'warm'])
})
