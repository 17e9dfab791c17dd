import { shippedInstrument, shippedPanel, shippedPanels } from '@bichroma/bench'
import type { Aim } from '@bichroma/core/aims'
import { readIccProfile } from '@bichroma/core/profiles'
import { decodeSlotTables } from '@bichroma/core/tables'
import type { MadeCorrection } from '@bichroma/contract'
import { OneDisplayStudio, serials } from '../scripts/trial/oneDisplayStudio'
import { trial } from '../scripts/trial/trial'

const aim = (change: Partial<Aim> = {}): Aim => ({
  white: { kind: 'standard', name: 'D65' },
  luminance: 100,
  toneResponse: { kind: 'power', exponent: 2.2 },
  primaries: { kind: 'panel' },
  ...change,
})
const sRGB = { primaries: { kind: 'standard', name: 'sRGB' } } as const
const puck = shippedInstrument('tessel-c3')

/** Aims that each model can make, and what its slot can do with a brief run: average ΔE2000 by the truth. */
const asked: Readonly<Record<string, { aim: Aim; average: number }>> = {
  'quillon-q27': { aim: aim(sRGB), average: 0.6 },
  'quillon-q24': { aim: aim(), average: 0.8 },
  'marram-m32': { aim: aim(sRGB), average: 0.6 },
  'vesper-o25': { aim: aim(sRGB), average: 0.6 },
  'vesper-w48': { aim: aim(sRGB), average: 1 },
  'ostrel-reed-24': { aim: aim(sRGB), average: 0.7 },
  'tarn-pen-22': { aim: aim(), average: 0.8 },
  'sorrel-l16': { aim: aim(), average: 1 },
  'wren-f7': { aim: aim(), average: 0.9 },
  'halden-p4': { aim: aim({ luminance: 48 }), average: 0.9 },
}

test('every model that ships is asked for something', () => {
  expect(Object.keys(asked)).toEqual(Object.keys(shippedPanels))
})

test.each(Object.entries(asked))(
  '%s goes through a whole brief run, by hands where it needs them @long',
  async (name, { aim, average }) => {
    const found = await trial({
      panel: shippedPanel(name),
      aim,
      instrument: puck,
      corrected: true,
      sampling: 'brief',
      seed: 3,
    })
    process.stdout.write(
      `${name}, brief: ${found.readings} readings, ${found.minutes.toFixed(1)} min, by the truth average ${found.truth?.averageDeltaE.toFixed(3)}, worst ${found.truth?.worstDeltaE.toFixed(2)}\n`,
    )
    expect(found.message).toBeNull()
    expect(found.state).toBe('done')
    expect(found.readings).toBeLessThan(230)
    expect(found.truth!.patches + (found.truth!.outOfReach?.patches ?? 0)).toBe(300)
    expect(found.truth!.averageDeltaE).toBeLessThan(average)
    // Hands hold where the gauge says so, and how often it is read meanwhile is the machine's; the lamp wanders on.
    expect(Math.abs(found.truth!.luminance.offPercent)).toBeLessThan(name === 'halden-p4' ? 3 : 2)
  },
)

test('the same trial gives the same result @long', async () => {
  const once = () =>
    trial({
      panel: shippedPanel('quillon-q27'),
      aim: aim(),
      instrument: puck,
      corrected: true,
      sampling: 'brief',
      seed: 9,
    })
  expect(await once()).toEqual(await once())
})

describe('on one display', () => {
  const open = (panel: string, seed = 1) =>
    OneDisplayStudio.open({ panel: shippedPanel(panel), aim: aim(sRGB), instrument: puck, seed })

  test('a display that needs a power cycle says so, and waits for it', async () => {
    const studio = await open('marram-m32')
    const asked: string[] = []
    const send = jest.spyOn(studio.bench.display(serials.display), 'writeSlot')
    const run = await studio.finish(await studio.start({ sampling: 'brief' }), async ({ message }) => {
      asked.push(message!)
      // The first time nobody does anything: it asks again.
      if (asked.length > 1) await studio.bench.display(serials.display).powerCycle()
    })
    expect(run.state).toBe('done')
    expect(asked).toHaveLength(2)
    for (const message of asked) expect(message).toContain('takes up its new table only when it is switched off and on')
    expect(send).toHaveBeenCalledTimes(1)
    expect(run.loading).toBeNull()
    // Ten minutes over the serial line, and a quarter of that to read it back.
    expect(run.stages.find((s) => s.stage === 'load')!.tookMs / 60_000).toBeGreaterThan(10)
    await studio.close()
  })

  test('firmware that takes its own gamut only is known before anything is read', async () => {
    const studio = await open('quillon-q24')
    await expect(studio.start()).rejects.toThrow('takes only its full panel gamut')
    expect(await studio.client.list('/runs')).toEqual([])
    await studio.close()
  })

  test('a display without tables gets its curves in the profile, and what that costs is said @long', async () => {
    const studio = await open('sorrel-l16')
    const run = await studio.finish(await studio.start({ sampling: 'brief' }))
    expect(run.stages.find((s) => s.stage === 'file')!.evidence[0]).toContain('holds one calibration at a time')
    const bytes = new Uint8Array(await (await studio.client.raw('GET', `/runs/${run.id}/profile`)).arrayBuffer())
    const curves = readIccProfile(bytes).read('vcgt') as unknown as { channels: number[][] }
    const held = await studio.bench.display(serials.display).readSlot(1)
    const tables = decodeSlotTables(held.bytes!, shippedPanel('sorrel-l16').tables.pipeline)
    curves.channels.forEach((channel, c) =>
      channel.forEach((v, i) => expect(v).toBeCloseTo(tables.after![c][i] / 1023, 4)),
    )
    await studio.close()
  })

  test('stopped after its table was written, a display that needs a power cycle is put back, and that is said @long', async () => {
    const studio = await open('marram-m32')
    const id = await studio.start({ sampling: 'brief' })
    let asked = false
    const run = await studio.finish(id, async () => {
      if (!asked) await studio.client.post(`/runs/${id}/stop`)
      asked = true
    })
    expect(run.message).toBe(
      'Stopped. Slot 1 holds nothing again, as before the run. On trial takes it up when it is switched off and on.',
    )
    await studio.close()
  })

  test('a correction made on a display is kept, used, and said; the instrument’s own is used without one @long', async () => {
    const studio = await open('vesper-w48')
    const own = await studio.finish(await studio.start({ sampling: 'brief' }))
    expect(own.correction).toEqual({ kind: 'own', panelKind: 'oled-white' })
    const left = await studio.makeCorrection()
    // Judged on colours that it was not made from: never nothing, and far below what a wrong correction does.
    expect(left).toBeGreaterThan(1e-5)
    expect(left).toBeLessThan(0.004)
    const [kept] = await studio.client.list<MadeCorrection>('/corrections')
    expect(kept).toMatchObject({
      displayId: studio.displayId,
      instrumentId: await studio.instrumentId(serials.instrument),
    })
    const made = await studio.finish(await studio.start({ kind: 'check' }))
    expect(made.correction).toMatchObject({ kind: 'made', displayName: 'On trial' })
    expect(made.stages[0].conditions!.find((c) => c.id === 'correction')!.found).toContain('made on On trial')
    await studio.close()
  })

  test('a correction refuses what makes none @long', async () => {
    const studio = await open('quillon-q27')
    const [instrumentId, referenceId] = [
      await studio.instrumentId(serials.instrument),
      await studio.instrumentId(serials.reference),
    ]
    const ask = (change: object) =>
      studio.client.post('/corrections', { displayId: studio.displayId, instrumentId, referenceId, ...change })
    await expect(ask({ displayId: 99 })).rejects.toThrow('not in the register')
    await expect(ask({ instrumentId: referenceId })).rejects.toThrow('“instrumentId” must be a colorimeter')
    await expect(ask({ referenceId: undefined })).rejects.toThrow('“referenceId” is missing')
    studio.bench.instrument(serials.reference).covered = true
    await expect(ask({})).rejects.toThrow('The cover of Spectro S1 TRIAL-2 is closed')
    studio.bench.instrument(serials.reference).covered = false
    const run = await studio.start({ sampling: 'brief' })
    await expect(ask({})).rejects.toThrow('is in a run')
    await studio.finish(run)
    await ask({})
    expect(await studio.client.list('/corrections')).toHaveLength(1)
    await studio.close()
  })

  test('two slots hold two calibrations, and a check says which tables somebody else wrote @long', async () => {
    const studio = await open('vesper-o25')
    await studio.finish(await studio.start({ sampling: 'brief', slot: 1 }))
    await studio.finish(await studio.start({ sampling: 'brief', slot: 3 }))
    const display = await studio.detail()
    expect(display.slots.map((s) => s.label)).toEqual(['Trial', null, 'Trial'])
    await studio.bench.display(serials.display).writeSlot(1, 'mine', null)
    const run = await studio.finish(await studio.start({ kind: 'check', slot: 1 }))
    expect(run.message).toContain('no longer holds the tables of “Trial”')
    await studio.close()
  })
})
