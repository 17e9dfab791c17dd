import { hostConditionNames } from '@bichroma/contract'
import { exampleControls, exampleDisplay, exampleHost, noConditions } from '@bichroma/contract/test'
import { operatingSystemNames } from '@bichroma/core'
import { judgeReadiness, warmUpMinutes, type ReadinessFacts } from './readiness'

const conditions = noConditions
const day = 86_400_000
const good: ReadinessFacts = {
  workstation: 'sedge-02',
  courierOnline: true,
  displayFound: true,
  displaySerial: 'S1',
  display: { ...exampleDisplay, holds: '1D+3x3' },
  controls: exampleControls,
  instrumentName: 'Colorimeter C3 T1',
  instrumentHere: true,
  certifiedAt: exampleHost.clock - 100 * day,
  correction: { kind: 'own', panelKind: exampleDisplay.panelKind },
  now: exampleHost.clock,
  host: exampleHost,
  look: { xyz: [110, 118, 125], integrationMs: 600, flags: [] },
}
const failing = (change: Partial<ReadinessFacts>) => judgeReadiness({ ...good, ...change }).filter((c) => !c.ok)

test('when all is well every condition is met and none asks for anything', () => {
  const all = judgeReadiness(good)
  expect(all).toHaveLength(11 + hostConditionNames.length)
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
  [
    'dynamic contrast',
    { controls: { ...good.controls!, dynamicContrast: true } },
    'dynamicContrast',
    'Turn dynamic contrast off in the display’s own menu',
  ],
  [
    'ranges that differ',
    { controls: { ...good.controls!, inputRange: 'limited' } },
    'signalRange',
    'Set the display’s input to full range',
  ],
  [
    'gains in front of the table',
    {
      display: { ...exampleDisplay, holds: '3D', gains: { min: 0, max: 255, factory: 255, place: 'before' } },
      controls: { ...good.controls!, gains: [255, 240, 255] },
    },
    'gains',
    'Set red, green and blue to 255',
  ],
  [
    'a correction for another kind of panel',
    { correction: { kind: 'own', panelKind: 'white-led' } },
    'correction',
    'Put the display into the register as OLED',
  ],
  ['an old certificate', { certifiedAt: exampleHost.clock - 400 * day }, 'certificate', 'certified anew'],
  [
    'a clock that is off',
    { host: { ...exampleHost, clock: exampleHost.clock + 7_200_000 } },
    'clock',
    'no reading is affected',
  ],
  ['a cold display', { controls: { ...good.controls!, warmMinutes: 12.4 } }, 'warm', '18 more minutes'],
])('%s is the one thing that is named', (_, change, id, words) => {
  const found = failing(change)
  expect(found.map((c) => c.id)).toEqual([id])
  expect(found[0].remedy).toContain(words)
})

test('what only may be off is advice: the run goes on', () => {
  const advice = ['correction', 'certificate', 'clock']
  expect(
    judgeReadiness(good)
      .filter((c) => c.advisory)
      .map((c) => c.id),
  ).toEqual(advice)
})

test('gains behind the tables may stand where they like', () => {
  expect(
    failing({
      display: { ...exampleDisplay, holds: '3D', gains: { min: 0, max: 100, factory: 100, place: 'after' } },
      controls: { ...good.controls!, gains: [80, 100, 90] },
    }),
  ).toEqual([])
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
    expect(found[0].remedy).toMatch(
      condition === 'onBattery' ? /^Plug sedge-02 into the mains/ : /^Turn it off on sedge-02 under .{8,}[^.]\.$/,
    )
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
