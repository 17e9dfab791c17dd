import { shippedInstrument, shippedPanel } from '@bichroma/bench'
import { readIccProfile } from '@bichroma/core/profiles'
import type { RunDetail, RunOutlook, RunReading, RunReview } from '@bichroma/contract'
import { demoAims } from '../scripts/demoStudio'
import { seeTo } from '../scripts/hands'
import { OneDisplayStudio, serials, type TrialSetting } from '../scripts/trial/oneDisplayStudio'
import { profileError } from '../scripts/trial/profileError'
import { truthOfRun } from '../scripts/trial/trial'
import { expectSame } from './expectSame'

const puck = shippedInstrument('tessel-c3')
const opened: OneDisplayStudio[] = []
afterEach(async () => {
  for (const studio of opened.splice(0)) await studio.close()
})

async function open(panel: string, change: Partial<TrialSetting> = {}): Promise<OneDisplayStudio> {
  const studio = await OneDisplayStudio.open({
    panel: shippedPanel(panel),
    aim: demoAims['Atlas web'],
    instrument: puck,
    seed: 3,
    ...change,
  })
  opened.push(studio)
  return studio
}
const truth = (studio: OneDisplayStudio, panel: string, run: RunDetail) =>
  truthOfRun(studio, shippedPanel(panel), run, 3)!
const stageOf = (run: RunDetail, stage: string) => run.stages.find((s) => s.stage === stage)!
const slotsOf = async (studio: OneDisplayStudio) => (await studio.detail()).slots

describe('kinds of run', () => {
  test('a refresh after 2,000 hours takes little more than half the readings and is as accurate as the full run was @long @long', async () => {
    const studio = await open('quillon-q27')
    await studio.makeCorrection()
    const full = await studio.finish(await studio.start())
    const before = truth(studio, 'quillon-q27', full)
    studio.display.age(2000)
    const aged = truth(studio, 'quillon-q27', full)
    expect(aged.averageDeltaE).toBeGreaterThan(1.4 * before.averageDeltaE)
    const refresh = await studio.finish(await studio.start({ kind: 'refresh' }))
    expect(refresh).toMatchObject({ state: 'done', label: full.label })
    expect(refresh.log.length).toBeLessThanOrEqual(0.6 * full.log.length)
    const after = truth(studio, 'quillon-q27', refresh)
    expect(after.averageDeltaE).toBeLessThan(before.averageDeltaE + 0.03)
    expect(Math.abs(after.luminance.offPercent)).toBeLessThan(1)
    // It starts from the full run, and so does the next.
    const again = await studio.finish(await studio.start({ kind: 'refresh' }))
    expect(stageOf(again, 'shape').evidence[0]).toMatch(/readings of the raw panel, and 1\d\d of an earlier run/)
  })

  test('a slot with a matrix is refreshed too @long', async () => {
    const studio = await open('quillon-q24', { aim: demoAims['Panel wide'] })
    await studio.makeCorrection()
    const full = await studio.finish(await studio.start())
    studio.display.age(2000)
    const refresh = await studio.finish(await studio.start({ kind: 'refresh' }))
    expect(refresh.log.length).toBeLessThan(0.65 * full.log.length)
    expect(truth(studio, 'quillon-q24', refresh).averageDeltaE).toBeLessThan(0.4)
  })

  test('a refresh needs a slot of ours, and a full run to start from', async () => {
    const studio = await open('quillon-q27')
    await expect(studio.start({ kind: 'refresh' })).rejects.toThrow('holds no calibration that could be refreshed')
  })

  test('a spot run takes under a minute and leaves verdict and due line as they are', async () => {
    const studio = await open('quillon-q27')
    await studio.finish(await studio.start({ sampling: 'brief' }))
    const [before] = await slotsOf(studio)
    const spot = await studio.finish(await studio.start({ kind: 'spot' }))
    expect(spot.state).toBe('done')
    expect(spot.log.length).toBeLessThanOrEqual(12)
    expect(spot.stages.reduce((sum, s) => sum + s.tookMs, 0)).toBeLessThan(60_000)
    expect((await slotsOf(studio))[0].judged!.runId).toBe(before.judged!.runId)
    expect(stageOf(spot, 'file').evidence.join()).toContain('verdict stays as it was')
  })

  test('a baseline tells what the raw panel is, on an empty slot too, and changes nothing @long', async () => {
    const studio = await open('quillon-q27')
    const held = structuredClone(studio.display.memory.slots)
    const id = await studio.start({ kind: 'baseline' })
    const run = await studio.finish(id)
    expect(run).toMatchObject({ state: 'done', judged: null })
    expect(run.stages.map((s) => s.stage)).toEqual(['ready', 'baseline', 'file'])
    const review = await studio.client.get<RunReview>(`/runs/${id}/review`)
    expect(review.metrics.patches).toHaveLength(17)
    expect(review.metrics.primaries).not.toBeNull()
    expectSame(studio.display.memory.slots, held)
    expect((await slotsOf(studio))[0]).toMatchObject({ label: null, judged: null })
  })
})

describe('Ready', () => {
  test('what the host does not tell is looked at by hand, and who looked is kept @long', async () => {
    const studio = await open('quillon-q27', { untold: ['whiteAdaptation', 'mirroring'] })
    const id = await studio.start({ kind: 'baseline' })
    const asked: string[] = []
    const run = await studio.finish(id, async (waiting) => {
      asked.push(waiting.message!)
      // The first time only one of the two is confirmed: it asks for the other.
      return asked.length === 1 ? ['whiteAdaptation'] : ['mirroring']
    })
    expect(run.state).toBe('done')
    expect(asked[0]).toContain('2 settings that trial-01 does not tell')
    expect(asked.some((m) => m.includes('one setting') && m.includes('Mirroring'))).toBe(true)
    const looked = run.stages[0].conditions!.filter((c) => c.confirm)
    expect(looked.map((c) => [c.id, c.ok, (c.confirm as { by: string }).by])).toEqual([
      ['whiteAdaptation', true, 'Trial'],
      ['mirroring', true, 'Trial'],
    ])
    expect(run.stages[0].evidence.join()).toContain('Looked at by hand: white adaptation')
  })

  test('room light under a lifted edge is seen before anything is read', async () => {
    const studio = await open('vesper-o25')
    studio.bench.setRoom('Trial', { illuminanceLux: 900 })
    studio.bench.instrument(serials.instrument).seat = { place: { x: 0, y: 0 }, tilt: 0.3, optics: 'open' }
    const run = await studio.finish(await studio.start({ kind: 'baseline' }))
    expect(run).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('No room light under the instrument'),
    })
  })

  test('a display can be made to show its name and number, but not in a run @long', async () => {
    const studio = await open('quillon-q27')
    await studio.client.post(`/displays/${studio.displayId}/name`)
    expect(studio.display.nameShown).toEqual(['On trial', `No. ${studio.displayId}, serial ${serials.display}`])
    const id = await studio.start({ sampling: 'brief' })
    await expect(studio.client.post(`/displays/${studio.displayId}/name`)).rejects.toThrow('is in a run')
    await studio.finish(id)
    studio.display.dataLink = false
    studio.display.connected = false
    await expect(studio.client.post(`/displays/${studio.displayId}/name`)).rejects.toThrow('Plug its cable in')
    await expect(studio.client.post('/displays/999/name')).rejects.toThrow('There is no display 999')
  })
})

describe('Level', () => {
  test('a display without commands is brought to the aim by hands that follow the gauge @long', async () => {
    const studio = await open('wren-f7')
    await studio.makeCorrection()
    const told: string[] = []
    const run = await studio.finish(await studio.start({ sampling: 'brief' }), async (waiting) => {
      told.push(waiting.message!)
      return seeTo(waiting, studio.hands)
    })
    expect(run.state).toBe('done')
    expect(told.some((m) => /turn the brightness of On trial down, to between \d+\.\d and \d+\.\d/.test(m))).toBe(true)
    const { gauge } = stageOf(run, 'level')
    const rest = gauge!.luminances.at(-1)!
    expect(rest).toBeGreaterThanOrEqual(gauge!.from)
    expect(Math.abs(truth(studio, 'wren-f7', run).luminance.offPercent)).toBeLessThan(1)
  })

  test('hands that have turned it all the way up and still lack light are told what can be reached @long', async () => {
    const studio = await open('wren-f7', { aim: { ...demoAims['Atlas web'], luminance: 900 } })
    const run = await studio.finish(await studio.start({ sampling: 'brief' }))
    expect(run).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/Choose an aim of \d+ cd\/m² or less/),
    })
  })

  test.each([
    ['down', 25, 'done', /The brightness is at its lowest; the tables take the rest of the light away/],
    ['up', 900, 'failed', /At full backlight the corrected white reaches \d+\.\d cd\/m²/],
  ] as const)(
    'a display that does not tell its setting goes no further %s when somebody says so @long',
    async (turn, luminance, state, words) => {
      const studio = await open('wren-f7', { aim: { ...demoAims['Atlas web'], luminance } })
      await studio.makeCorrection()
      const { getControls } = studio.display
      studio.display.getControls = async () => ({ ...(await getControls.call(studio.display)), backlight: 60 })
      // As far as its buttons go.
      const end = turn === 'down' ? 30 : 100
      const told: string[] = []
      const run = await studio.finish(await studio.start({ sampling: 'brief' }), async (waiting) => {
        told.push(waiting.message!)
        if (!waiting.message!.includes('the brightness')) return seeTo(waiting, studio.hands)
        return studio.hands.turnTo(end)
      })
      expect(told.some((m) => m.endsWith(`If it goes no further ${turn}, press “Go on”.`))).toBe(true)
      expect(run.state).toBe(state)
      expect([run.message, ...run.stages.flatMap((s) => s.evidence)].join('\n')).toMatch(words)
    },
  )

  test.each(['quillon-q27', 'wren-f7'])(
    'an aim as bright as it goes takes what there is, and is judged by it: %s @long',
    async (panel) => {
      const studio = await open(panel, { aim: { ...demoAims['Atlas web'], luminance: 100, asBright: true } })
      await studio.makeCorrection()
      const run = await studio.finish(await studio.start({ sampling: 'brief' }))
      expect(run.state).toBe('done')
      const peak = shippedPanel(panel).light.peakLuminance
      expect(run.aim.luminance).toBeGreaterThan(0.75 * peak)
      expect(run.aim.luminance).toBeLessThan(1.05 * peak)
      expect(Math.abs(truth(studio, panel, run).luminance.offPercent)).toBeLessThan(1)
      expect((await slotsOf(studio))[0].aim).toMatchObject({ asBright: true, luminance: run.aim.luminance })
    },
  )

  test('too dark even at its brightest is said', async () => {
    const studio = await open('quillon-q27', { aim: { ...demoAims['Atlas web'], luminance: 2000, asBright: true } })
    const run = await studio.finish(await studio.start({ sampling: 'brief' }))
    expect(run).toMatchObject({ state: 'failed', message: expect.stringContaining('less than the 2000.0') })
  })
})

test('a knock in the middle: the run asks for the instrument, repeats what it spoiled, and ends as accurate as without @long @long', async () => {
  const results = []
  for (const knocked of [false, true]) {
    const studio = await open('quillon-q27')
    await studio.makeCorrection()
    const id = await studio.start({ sampling: 'brief' })
    if (knocked) studio.bench.instrument(serials.instrument).knock(60)
    const asked: string[] = []
    const run = await studio.finish(id, async (waiting) => {
      asked.push(waiting.message!)
      return seeTo(waiting, studio.hands)
    })
    expect(run.state).toBe('done')
    expect(asked.some((m) => m.includes('Seat it flat'))).toBe(knocked)
    results.push(truth(studio, 'quillon-q27', run))
  }
  expect(results[1].averageDeltaE).toBeLessThan(results[0].averageDeltaE + 0.1)
  expect(results[1].worstDeltaE).toBeLessThan(results[0].worstDeltaE + 0.4)
})

describe('a misread', () => {
  /** One run without: its readings, and how many the instrument took before the first of them. */
  const calm = async () => {
    const studio = await open('quillon-q27')
    await studio.makeCorrection()
    const spy = jest.spyOn(studio.bench.instrument(serials.instrument), 'read')
    const { log } = await studio.finish(await studio.start({ sampling: 'brief' }))
    return { log, before: spy.mock.calls.length - log.length }
  }
  let first: Awaited<ReturnType<typeof calm>>
  beforeAll(async () => {
    first = await calm()
    await opened.pop()!.close()
  })

  test.each<[string, (r: RunReading) => boolean]>([
    ['the first white of Shape', (r) => r.stage === 'shape' && r.name === 'White'],
    ['red among its corners', (r) => r.stage === 'shape' && r.name === 'Red'],
    ['a look at white', (r) => r.name === 'White, watched'],
    ['a colour of a round', (r) => r.name.startsWith('RGB') && r.name.endsWith('round 1')],
    ['white in Prove', (r) => r.stage === 'prove' && r.name === 'White'],
  ])('of %s is read again, and spoils nothing @long', async (_, isIt) => {
    const studio = await open('quillon-q27')
    await studio.makeCorrection()
    const id = await studio.start({ sampling: 'brief' })
    studio.bench.instrument(serials.instrument).misread(first.before + first.log.findIndex(isIt))
    const run = await studio.finish(id)
    expect(run).toMatchObject({ state: 'done', message: null })
    expect(run.log.length).toBeGreaterThan(first.log.length)
    expect(truth(studio, 'quillon-q27', run).averageDeltaE).toBeLessThan(0.45)
  })
})

test('a knock between two looks at how large patches may be is no limit of the display: hands are asked for @long', async () => {
  const calm = await open('quillon-q27')
  await calm.makeCorrection()
  const spy = jest.spyOn(calm.bench.instrument(serials.instrument), 'read')
  const { log } = await calm.finish(await calm.start({ sampling: 'brief' }))
  const before = spy.mock.calls.length - log.length
  const studio = await open('quillon-q27')
  await studio.makeCorrection()
  const id = await studio.start({ sampling: 'brief' })
  // After it, before the first reading that is kept, it looks at its own four colours.
  studio.bench.instrument(serials.instrument).knock(before - 4 - 1)
  const asked: string[] = []
  const run = await studio.finish(id, async (waiting) => {
    asked.push(waiting.message!)
    return seeTo(waiting, studio.hands)
  })
  expect(asked).toEqual([
    expect.stringMatching(/^White moved by −\d+\.\d % while nothing on the screen changed: .*Seat it flat/),
  ])
  expect(run.state).toBe('done')
  expect(run.stages.flatMap((s) => s.evidence).join()).not.toContain('how much of the screen')
  expect(truth(studio, 'quillon-q27', run).averageDeltaE).toBeLessThan(0.45)
})

describe('a budget', () => {
  test.each([
    ['quillon-q27', 'Atlas web', { kind: 'readings', most: 150 }],
    ['quillon-q24', 'Panel wide', { kind: 'readings', most: 120 }],
    ['quillon-q27', 'Atlas web', { kind: 'minutes', most: 2.2 }],
  ] as const)('%s, %s, %j: is kept, and used @long', async (panel, aim, budget) => {
    const studio = await open(panel, { aim: demoAims[aim] })
    await studio.makeCorrection()
    const run = await studio.finish(await studio.start({ budget }))
    expect(run).toMatchObject({ state: 'done', budget })
    const used = budget.kind === 'readings' ? run.log.length : run.stages.reduce((sum, s) => sum + s.tookMs, 0) / 60_000
    expect(used).toBeLessThanOrEqual(budget.most)
    expect(used).toBeGreaterThan(0.75 * budget.most)
    expect(truth(studio, panel, run).averageDeltaE).toBeLessThan(0.4)
  })

  test('that leaves Shape too little is said, and the display is put back @long', async () => {
    const studio = await open('quillon-q27')
    const run = await studio.finish(await studio.start({ budget: { kind: 'readings', most: 100 } }))
    expect(run).toMatchObject({
      state: 'failed',
      message: expect.stringMatching(/budget of 100 readings leaves \d+ readings for Shape/),
    })
    await expect(studio.start({ budget: { kind: 'readings', most: 5 } })).rejects.toThrow('100 or more')
    await expect(studio.start({ budget: { kind: 'coffees', most: 5 } as never })).rejects.toThrow('readings, minutes')
  })
})

test('a black lifted above the panel’s own is made by a 3D table, and refused where there is none @long', async () => {
  const aim = { ...demoAims['Atlas web'], black: { kind: 'fixed', luminance: 0.5 } } as const
  const studio = await open('vesper-o25', { aim })
  await studio.makeCorrection()
  const run = await studio.finish(await studio.start())
  expect(run.state).toBe('done')
  const [black] = studio.bench.truth(serials.display, [[0, 0, 0]])
  expect(black[1]).toBeGreaterThan(0.4)
  expect(black[1]).toBeLessThan(0.6)
  const matrix = await open('quillon-q24', {
    aim: { ...demoAims['Panel wide'], black: { kind: 'relative', factor: 2 } },
  })
  await expect(matrix.start()).rejects.toThrow('holds no 3D table')
})

test('what a finished run overwrote can be put back, once, while nothing has been written since @long', async () => {
  const studio = await open('quillon-q27')
  const first = await studio.finish(await studio.start({ sampling: 'brief' }))
  const held = await studio.display.readSlot(1)
  const [before] = await slotsOf(studio)
  const second = await studio.finish(await studio.start({ sampling: 'brief' }))
  expect((await studio.display.readSlot(1)).bytes).not.toEqual(held.bytes)
  await expect(studio.client.post(`/runs/${first.id}/put-back`)).rejects.toThrow('written since this run')
  await studio.client.post(`/runs/${second.id}/put-back`)
  const back = await studio.finish(second.id)
  expect(back).toMatchObject({ state: 'done', endedAt: second.endedAt, judged: second.judged })
  expect(back.message).toContain('Taken back by Trial. Slot 1 holds “Trial” again')
  expectSame(await studio.display.readSlot(1), held)
  expect((await slotsOf(studio))[0]).toMatchObject({ tablesHash: before.tablesHash, judged: before.judged })
  await expect(studio.client.post(`/runs/${second.id}/profile`)).rejects.toThrow('has been written since')
  await studio.client.post(`/runs/${first.id}/profile`)
  await expect(studio.client.post(`/runs/${second.id}/put-back`)).rejects.toThrow('put back already')
  const check = await studio.finish(await studio.start({ kind: 'check' }))
  await expect(studio.client.post(`/runs/${check.id}/put-back`)).rejects.toThrow('Only what a full run')
})

describe('profiles', () => {
  const bytesOf = async (studio: OneDisplayStudio, id: number) =>
    new Uint8Array(await (await studio.client.raw('GET', `/runs/${id}/profile`)).arrayBuffer())

  test('version, kind, name and meta are what was asked for; a check run’s readings make one anew @long', async () => {
    const studio = await open('quillon-q27')
    const settings = await studio.client.get<object>('/settings')
    await studio.client.put('/settings', { ...settings, profileName: '{date} {display} {aim}' })
    const full = await studio.finish(
      await studio.start({
        sampling: 'brief',
        profile: { version: 2, kind: 'table', black: 'none', readings: 'own' },
      }),
    )
    const first = readIccProfile(await bytesOf(studio, full.id))
    expect(first.version).toMatch(/^2/)
    expect(first.tags.map((t) => t.signature)).toEqual(expect.arrayContaining(['A2B0', 'B2A0', 'lumi', 'chad', 'meta']))
    expect(first.tags.map((t) => t.signature)).not.toContain('vcgt')
    // Its own set came after Prove's.
    expect(full.log.filter((r) => r.stage === 'file').length).toBeGreaterThan(60)

    const check = await studio.finish(await studio.start({ kind: 'check' }))
    expect(check.profileHash).toBeNull()
    const profile = { version: 4, kind: 'matrix', black: 'measured', readings: 'prove' }
    const made = await studio.client.post<{ profileName: string }>(`/runs/${check.id}/profile`, { profile })
    expect(made.profileName).toMatch(/^\d{4}-\d\d-\d\d-On-trial-Trial\.icc$/)
    const second = readIccProfile(await bytesOf(studio, check.id))
    expect(second.version).toMatch(/^4/)
    expect(second.tags.map((t) => t.signature)).toContain('rXYZ')

    // Once the slot is written anew, the old run's readings describe nothing any more.
    await studio.finish(await studio.start({ sampling: 'brief' }))
    await expect(studio.client.post(`/runs/${check.id}/profile`, { profile })).rejects.toThrow('has been written since')
    await expect(studio.client.post(`/runs/${check.id}/profile`, { profile: { version: 3 } })).rejects.toThrow(
      'version',
    )
    await expect(studio.client.post('/runs/999/profile')).rejects.toThrow('There is no run 999')
  })

  test.each([
    ['quillon-q27', 'Atlas web', 0.12, 0.5],
    ['quillon-q24', 'Panel wide', 0.25, 1],
    ['sorrel-l16', 'Field daylight', 0.2, 0.8],
  ])(
    'a table describes the slot by the panel and the tables, so that colours nobody read come out right: %s @long',
    async (panel, aim, average, worst) => {
      const studio = await open(panel, { aim: demoAims[aim] })
      await studio.makeCorrection()
      const profile = { version: 4, kind: 'table', black: 'measured', readings: 'prove' } as const
      const full = await studio.finish(await studio.start({ profile }))
      expect(stageOf(full, 'file').evidence.join()).toContain('from what Shape found of the panel, through the tables')
      expect(full.log.filter((r) => r.stage === 'file')).toEqual([])
      const { bits } = shippedPanel(panel).signal
      const error = await profileError(studio, full.id, 3, bits)
      expect(error.averageDeltaE).toBeLessThan(average)
      expect(error.worstDeltaE).toBeLessThan(worst)

      // Two years later, of what a check reads then.
      studio.display.age(6000)
      const check = await studio.finish(await studio.start({ kind: 'check' }))
      await studio.client.post(`/runs/${check.id}/profile`, { profile })
      const later = await profileError(studio, check.id, 3, bits)
      expect(later.averageDeltaE).toBeLessThan(average + 0.15)
    },
  )

  test('a policy that makes no sense is refused at its field, and the old one stays @long', async () => {
    const studio = await open('quillon-q27')
    const settings = await studio.client.get<{ night: object; profileName: string }>('/settings')
    const put = (change: object) => studio.client.put('/settings', { ...settings, ...change })
    await expect(put({ profileName: 'a {name}' })).rejects.toThrow('“profileName” holds {name}')
    await expect(put({ night: { ...settings.night, from: '25:00' } })).rejects.toThrow('must be a time of day')
    await expect(put({ placing: 'burn' })).rejects.toThrow('overwrite, keep')
    expect(await studio.client.get('/settings')).toEqual(settings)
  })
})

test('what to expect is reckoned first, and comes from earlier runs on the model later @long', async () => {
  const studio = await open('quillon-q27')
  const outlook = () => studio.client.get<RunOutlook[]>(`/displays/${studio.displayId}/outlook`)
  const brief = (rows: RunOutlook[]) => rows.find((r) => r.kind === 'full' && r.sampling === 'brief')!
  const reckoned = brief(await outlook())
  expect(reckoned).toMatchObject({ from: 0, averageDeltaE: null })
  const run = await studio.finish(await studio.start({ sampling: 'brief' }))
  const measured = brief(await outlook())
  expect(measured).toMatchObject({ from: 1, readings: run.log.length, averageDeltaE: run.judged!.averageDeltaE })
  expect(reckoned.readings / measured.readings).toBeGreaterThan(0.85)
  expect(reckoned.readings / measured.readings).toBeLessThan(1.15)
  expect((await outlook()).find((r) => r.kind === 'refresh')!.readings).toBeLessThan(120)
})
