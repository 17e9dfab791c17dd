import { exampleControls, exampleDisplay, exampleHost, noConditions } from '@bichroma/contract/test'
import { operatingSystemNames } from '../../register/operatingSystems'
import { hostConditionNames } from './hostConditions'
import { judgeReadiness, warmUpMinutes, type ReadinessFacts } from './judgeReadiness'

const conditions = noConditions
const day = 86_400_000
const good: ReadinessFacts = {
  workstation: 'sedge-02',
  courierOnline: true,
  displayFound: true,
  displaySerial: 'S1',
  display: exampleDisplay,
  controls: exampleControls,
  instrumentName: 'Colorimeter C3 T1',
  instrumentHere: true,
  certifiedAt: exampleHost.clock - 100 * day,
  correction: { kind: 'own', panelKind: exampleDisplay.panelKind },
  roomLight: null,
  now: exampleHost.clock,
  host: exampleHost,
  look: { xyz: [110, 118, 125], flags: [] },
  dark: { xyz: [0.11, 0.118, 0.15], flags: [] },
  lastContrast: 1000,
  hdrAim: false,
  needsCorrection: true,
  readsMore: null,
}
const failing = (change: Partial<ReadinessFacts>) => judgeReadiness({ ...good, ...change }).filter((c) => !c.ok)

test('when all is well every condition is met and none asks for anything', () => {
  const all = judgeReadiness(good)
  expect(all).toHaveLength(13 + hostConditionNames.length)
  expect(all.every((c) => c.ok && c.remedy === null && c.found)).toBe(true)
  expect(new Set(all.map((c) => c.id)).size).toBe(all.length)
})

test('what is taken out of each reading is told beside the correction', () => {
  const said = (readsMore: number | null) =>
    judgeReadiness({ ...good, readsMore }).find((c) => c.id === 'correction')!.found
  expect(said(0.006)).toBe(`${said(null)}; what it reads more is taken out (+0.6 %)`)
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
  ['the cover closed', { look: { xyz: [0, 0, 0], flags: ['cover'] } }, 'cover', 'Open the instrument’s cover'],
  ['the instrument on the desk', { look: { xyz: [0.2, 0.2, 0.2], flags: [] } }, 'cover', 'Hang the instrument flat'],
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
      display: { ...exampleDisplay, gains: { factory: 255, place: 'before' } },
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
  ['room light under a lifted edge', { dark: { xyz: [1.4, 1.4, 1.4], flags: [] } }, 'seat', 'Seat the instrument flat'],
  [
    'a little room light, as the last judgement tells',
    { dark: { xyz: [0.3, 0.3, 0.3], flags: [] } },
    'darkening',
    'press its edges down',
  ],
  [
    'a colorimeter without a correction for the panel',
    { correction: { kind: 'none' } },
    'correction',
    'Make a correction for it with a spectroradiometer',
  ],
  ['an HDR aim on a host that is not in HDR', { hdrAim: true }, 'hdr', 'Turn it on on sedge-02'],
])('%s is the one thing that is named', (_, change, id, words) => {
  const found = failing(change)
  expect(found.map((c) => c.id)).toEqual([id])
  expect(found[0].remedy).toContain(words)
})

test('what only may be off is advice: the run goes on', () => {
  const advice = ['darkening', 'correction', 'certificate', 'clock']
  expect(
    judgeReadiness(good)
      .filter((c) => c.advisory)
      .map((c) => c.id),
  ).toEqual(advice)
})

test('gains behind the tables may stand where they like', () => {
  expect(
    failing({
      display: { ...exampleDisplay, gains: { factory: 100, place: 'after' } },
      controls: { ...good.controls!, gains: [80, 100, 90] },
    }),
  ).toEqual([])
})

test.each([
  ['on for long enough, to the minute', warmUpMinutes, true],
  ['not on for long: its light is watched instead', warmUpMinutes - 0.1, false],
  ['not telling: its light is watched instead', null, false],
])('warmth, %s', (_, warmMinutes, told) => {
  const all = judgeReadiness({ ...good, controls: { ...good.controls!, warmMinutes } })
  expect(all.some((c) => c.id === 'warm')).toBe(told)
  expect(all.every((c) => c.ok)).toBe(true)
})

test('a projector, read from a stand, may have the room’s light in its black', () => {
  const stray = { dark: { xyz: [1.4, 1.4, 1.4] as [number, number, number], flags: [] } }
  const display = { ...good.display!, panelKind: 'projector-lamp' as const }
  expect(
    failing({ ...stray, display, correction: { kind: 'own', panelKind: 'projector-lamp' }, lastContrast: null }),
  ).toEqual([])
})

describe('what nothing tells', () => {
  const host = { ...exampleHost, conditions: { ...conditions, whiteAdaptation: null, mirroring: null } }
  test('has to be looked at, with the place to look', () => {
    const found = failing({ host })
    expect(found.map((c) => [c.id, c.confirm])).toEqual([
      ['whiteAdaptation', 'needed'],
      ['mirroring', 'needed'],
    ])
    expect(found[0].found).toContain('look under the desktop’s Settings')
  })

  test('counts as met once somebody has looked, and says who and when', () => {
    const seen = { by: 'Tobin', at: 5 }
    const all = judgeReadiness({ ...good, host }, { whiteAdaptation: seen })
    expect(all.find((c) => c.id === 'whiteAdaptation')).toMatchObject({ ok: true, confirm: seen })
    expect(all.find((c) => c.id === 'mirroring')).toMatchObject({ ok: false, confirm: 'needed' })
  })

  test('what is told needs nobody’s word', () => {
    expect(judgeReadiness(good).every((c) => c.confirm === undefined)).toBe(true)
  })
})

test.each([
  ['macos', '12.6', 'System Preferences'],
  ['macos', '15', 'System Settings'],
  ['windows', '10', 'Windows HD Color settings'],
  ['windows', '11 24H2', 'Display, HDR'],
  ['linux', 'rolling', 'the desktop’s Settings'],
] as const)('the place of a switch follows the version: %s %s', (operatingSystem, systemVersion, place) => {
  const host = { ...exampleHost, operatingSystem, systemVersion, conditions: { ...conditions, hdr: true } }
  expect(failing({ host })[0].remedy).toContain(place)
})

describe.each(operatingSystemNames)('on %s', (operatingSystem) => {
  test.each([...hostConditionNames])('%s left on is named, with the place where it is turned off', (condition) => {
    const found = failing({
      host: { ...good.host!, operatingSystem, conditions: { ...conditions, [condition]: true } },
    })
    expect(found.map((c) => c.id)).toEqual([condition])
    expect(found[0].remedy).toMatch(
      condition === 'onBattery'
        ? /^Plug sedge-02 into the mains/
        : /^Turn it off on sedge-02 under .{8,}: .{8,}[^.]\.$/,
    )
  })
})

test('several faults are all told', () => {
  expect(
    failing({
      instrumentHere: false,
      look: null,
      controls: { ...good.controls!, dynamicContrast: true, dataLink: false },
    }).map((c) => c.id),
  ).toEqual(['dataLink', 'instrument', 'dynamicContrast'])
})
