import type { Triple } from '@bichroma/core/color'
import {
  applySlotTables,
  bytesOfShape,
  decodeSlotTables,
  encodeSlotTables,
  tabulate3d,
  toInteger,
  type MatrixShape,
  type PipelineShape,
  type SlotTables,
} from '@bichroma/core/tables'
import { BenchClock } from '../benchClock'
import { shippedPanel } from '../scenario/shipped'
import type { PanelTraits } from '../panel/panelSchema'
import { BenchDisplay, type Surroundings } from './benchDisplay'
import { passingStore } from './displayMemory'
import { shareOfFormer } from './response'
import { overTheCable } from './signalPath'

const dark: Surroundings = {
  signalRange: 'full',
  signal: (rgb) => rgb,
  lightFactors: () => [1, 1, 1],
  room: () => ({ illuminanceLux: 0, kelvin: 5000 }),
}

function make(panel: PanelTraits, surroundings: Partial<Surroundings> = {}, store = passingStore()) {
  const clock = new BenchClock(Infinity, 1e12)
  const traits = { serial: 'D', panel, hours: 100, hoursPerDay: 8, warmMinutes: 200 }
  return { clock, store, display: new BenchDisplay(traits, clock, store, { ...dark, ...surroundings }) }
}

const ramp = (entries: number, bits: number, top = 1) =>
  Array.from({ length: entries }, (_, i) => toInteger((top * i) / (entries - 1), bits))

/** Tables that pass a signal on, scaled by `top`. */
function straight(shape: PipelineShape, top = 1): SlotTables {
  const three = (table: number[]) => [table, table, table] as const
  const grid = 'grid' in shape
  return {
    format: 'bichroma-slot-tables/2',
    shape,
    ...('before' in shape && {
      before: three(ramp(shape.before.entries, shape.before.bits)),
      matrix: [1, 0, 0, 0, 1, 0, 0, 0, 1].map((m) => m * 2 ** shape.matrixFractionBits),
    }),
    ...(grid && {
      grid: Array.from(tabulate3d(shape.grid.size, (rgb) => rgb).values, (v) =>
        toInteger(v * ('after' in shape ? 1 : top), shape.grid.bits),
      ),
    }),
    ...('after' in shape && {
      after: three(
        shape.kind === '1D+3x3'
          ? Array.from({ length: shape.after.entries }, (_, i) =>
              toInteger(top * (i / (shape.after.entries - 1)) ** 2, shape.after.bits),
            )
          : ramp(shape.after.entries, shape.after.bits, top),
      ),
    }),
  }
}
const bytesOf = (tables: SlotTables) => encodeSlotTables(tables)

describe('slots', () => {
  test.each(['quillon-q27', 'quillon-q24', 'marram-m32', 'sorrel-l16', 'tarn-pen-22', 'wren-f7'])(
    '%s takes tables of its own kind, shows through them, and gives them back',
    async (name) => {
      const panel = shippedPanel(name)
      const { display } = make(panel, { signalRange: panel.signal.range })
      const raw = display.truth([1, 1, 1])[1]
      await display.writeSlot(1, 'half', bytesOf(straight(panel.tables.pipeline, 0.5)))
      await display.powerCycle()
      expect(display.truth([1, 1, 1])[1] / raw).toBeLessThan(0.3)
      const back = await display.readSlot(1)
      expect(back.label).toBe('half')
      expect(decodeSlotTables(back.bytes!, panel.tables.pipeline)).toEqual(straight(panel.tables.pipeline, 0.5))
      await display.setControls({ pipeline: 'bypass' })
      // A little warmth is lost while it is off.
      expect(display.truth([1, 1, 1])[1] / raw).toBeCloseTo(1, 2)
    },
  )

  test.each(['quillon-q27', 'marram-m32'])('%s tells how far a write is, steadily and to its end', async (name) => {
    const panel = shippedPanel(name)
    const { display, clock } = make(panel)
    const started = clock.now()
    const told: { at: number; done: number }[] = []
    const bytes = bytesOf(straight(panel.tables.pipeline))
    await display.writeSlot(1, 'x', bytes, (done) => told.push({ at: clock.now() - started, done }))
    const whole = clock.now() - started
    expect(told.length).toBeGreaterThan(8)
    for (const { at, done } of told) expect(done).toBeCloseTo(at / whole, 6)
    expect(told[told.length - 1].done).toBeCloseTo(1, 9)
  })

  test('tables of another kind or size are refused, and the slot keeps what it holds @long', async () => {
    const panel = shippedPanel('quillon-q27')
    const { display } = make(panel)
    await display.writeSlot(1, 'mine', bytesOf(straight(panel.tables.pipeline)))
    const before = await display.readSlot(1)
    for (const shape of [
      shippedPanel('tarn-pen-22').tables.pipeline,
      { ...panel.tables.pipeline, grid: { size: 17, bits: 12 } } as PipelineShape,
    ])
      await expect(display.writeSlot(1, 'other', bytesOf(straight(shape)))).rejects.toMatchObject({
        kind: 'bad-tables',
      })
    expect(await display.readSlot(1)).toEqual(before)
    await expect(display.readSlot(4)).rejects.toThrow('there is no slot 4')
  })

  test('each slot remembers its brightness, and all of it survives a restart', async () => {
    const panel = shippedPanel('quillon-q27')
    const { display, store } = make(panel)
    await display.writeSlot(2, 'x', bytesOf(straight(panel.tables.pipeline, 0.7)))
    await display.activateSlot(2)
    await display.setControls({ backlight: 31 })
    await display.activateSlot(1)
    const again = make(panel, {}, store).display
    expect(await again.getControls()).toMatchObject({ activeSlot: 1, backlight: panel.control.factory })
    expect(await again.activateSlot(2)).toMatchObject({ backlight: 31 })
    expect((await again.readSlot(2)).label).toBe('x')
  })

  test('a factory preset can be overwritten, and comes back when the slot is emptied', async () => {
    const panel = shippedPanel('vesper-o25')
    const { display } = make(panel)
    expect(display.identity.presets).toEqual(['Cinema', 'Bright', null])
    expect(await display.readSlot(1)).toEqual({ label: 'Cinema', bytes: null })
    await display.writeSlot(1, 'Loop video', bytesOf(straight(panel.tables.pipeline)))
    expect((await display.readSlot(1)).label).toBe('Loop video')
    await display.writeSlot(1, null, null)
    expect(await display.readSlot(1)).toEqual({ label: 'Cinema', bytes: null })
  })

  test('old firmware takes its own gamut only', async () => {
    const panel = shippedPanel('quillon-q24')
    const { display } = make(panel)
    const shape = panel.tables.pipeline as MatrixShape
    const unit = 2 ** shape.matrixFractionBits
    const mixing = {
      ...straight(shape),
      matrix: [0.7, 0.3, 0, 0.1, 0.9, 0, 0, 0.1, 0.9].map((m) => Math.round(m * unit)),
    }
    await expect(display.writeSlot(1, 'sRGB', bytesOf(mixing))).rejects.toThrow('only the panel’s own gamut')
    await display.writeSlot(1, 'Panel wide', bytesOf(straight(shape)))
    expect((await display.readSlot(1)).label).toBe('Panel wide')
  })

  test('a reference display works with a new table only after it was switched off and on', async () => {
    const panel = shippedPanel('marram-m32')
    const { display } = make(panel)
    const raw = display.truth([0.5, 0.5, 0.5])
    await display.writeSlot(1, 'half', bytesOf(straight(panel.tables.pipeline, 0.5)))
    expect(display.truth([0.5, 0.5, 0.5])[1] / raw[1]).toBeCloseTo(1, 3)
    expect((await display.getControls()).needsPowerCycle).toBe(true)
    await display.powerCycle()
    expect((await display.getControls()).needsPowerCycle).toBe(false)
    expect(display.truth([0.5, 0.5, 0.5])[1]).toBeLessThan(raw[1] / 2)
  })
})

describe('how long things take', () => {
  const written = async (name: string) => {
    const panel = shippedPanel(name)
    const { clock, display } = make(panel)
    const before = clock.now()
    await display.writeSlot(1, 'x', bytesOf(straight(panel.tables.pipeline)))
    return {
      seconds: (clock.now() - before) / 1000,
      bytes: bytesOfShape(panel.tables.pipeline),
      told: display.identity,
    }
  }

  test('a 3D table over a serial line takes about ten minutes, over USB seconds; the display says so before', async () => {
    const [serial, usb] = [await written('marram-m32'), await written('quillon-q27')]
    expect(serial.seconds / 60).toBeGreaterThan(8)
    expect(serial.seconds / 60).toBeLessThan(12)
    expect(usb.bytes).toBeGreaterThan(serial.bytes)
    expect(usb.seconds).toBeLessThan(10)
    expect(serial.told.writeSeconds).toBeCloseTo(serial.seconds, 1)
  })

  test('a display that resets first takes that time besides', async () => {
    const { seconds, told } = await written('quillon-q24')
    expect(told.resetSeconds).toBe(20)
    expect(seconds).toBeCloseTo(20 + told.writeSeconds, 1)
  })
})

describe('what can go wrong', () => {
  test('without its data cable nothing is written, and the picture stays', async () => {
    const { display } = make(shippedPanel('quillon-q27'))
    display.dataLink = false
    await expect(display.setControls({ backlight: 10 })).rejects.toMatchObject({ kind: 'data-link' })
    await display.showPatch([1, 1, 1])
    expect((await display.getControls()).dataLink).toBe(false)
    display.connected = false
    await expect(display.showPatch([1, 1, 1])).rejects.toMatchObject({ kind: 'no-display' })
  })

  test('a write cut in half leaves the slot half new, without a name @long', async () => {
    const panel = shippedPanel('quillon-q27')
    const { display } = make(panel)
    const [old, fresh] = [straight(panel.tables.pipeline, 1), straight(panel.tables.pipeline, 0.5)]
    await display.writeSlot(1, 'old', bytesOf(old))
    display.next.cutWrite = true
    await expect(display.writeSlot(1, 'new', bytesOf(fresh))).rejects.toMatchObject({ kind: 'data-link' })
    display.dataLink = true
    const held = await display.readSlot(1)
    expect(held.label).toBeNull()
    const tables = decodeSlotTables(held.bytes!, panel.tables.pipeline)
    expect(tables).not.toEqual(old)
    expect(tables).not.toEqual(fresh)
    expect(tables.after![0].slice(0, 500)).toEqual(fresh.after![0].slice(0, 500))
    expect(tables.after![0].slice(600)).toEqual(old.after![0].slice(600))
    // It happens once.
    await display.writeSlot(1, 'new', bytesOf(fresh))
    expect(decodeSlotTables((await display.readSlot(1)).bytes!, panel.tables.pipeline)).toEqual(fresh)
  })

  test('a corrupt reading back differs by a bit, once, and the slot itself is right', async () => {
    const panel = shippedPanel('tarn-pen-22')
    const { display } = make(panel)
    const bytes = bytesOf(straight(panel.tables.pipeline))
    await display.writeSlot(1, 'x', bytes)
    display.next.corruptRead = true
    expect((await display.readSlot(1)).bytes).not.toEqual(bytes)
    expect((await display.readSlot(1)).bytes).toEqual(bytes)
    display.next.damageWrite = true
    await display.writeSlot(1, 'x', bytes)
    expect((await display.readSlot(1)).bytes).not.toEqual(bytes)
  })

  test('ranges that differ cut shadows and lights off, or never reach them', () => {
    for (const v of [0, 0.25, 0.5, 1]) {
      expect(overTheCable([v, v, v], 'full', 'full', 10)[0]).toBeCloseTo(v, 2)
      expect(overTheCable([v, v, v], 'limited', 'limited', 10)[0]).toBeCloseTo(v, 2)
    }
    // Code 940 of 1023 taken for full range is not white; 16/255 of full taken for limited is black.
    expect(overTheCable([1, 1, 1], 'limited', 'full', 10)[0]).toBeCloseTo(940 / 1023, 6)
    expect(overTheCable([0, 0, 0], 'limited', 'full', 10)[0]).toBeCloseTo(64 / 1023, 6)
    expect(overTheCable([0.06, 0.06, 0.06], 'full', 'limited', 10)[0]).toBe(0)
    expect(overTheCable([0.95, 0.95, 0.95], 'full', 'limited', 10)[0]).toBe(1)
  })

  test('gains before a table change what the table does; after it they scale its output', async () => {
    const half: Triple = [128, 128, 128]
    const gamma = 2
    const bend = (shape: PipelineShape): SlotTables => ({
      ...straight(shape),
      grid: Array.from(tabulate3d(17, (rgb) => rgb.map((v) => v ** gamma) as unknown as Triple).values, (v) =>
        toInteger(v, 12),
      ),
    })
    const panel = shippedPanel('marram-m32')
    const drive = async (place: 'before' | 'after') => {
      const { display } = make({ ...panel, gains: { place, max: 256 }, coupling: { crosstalk: 0, load: 0 } })
      await display.writeSlot(1, 'x', bytesOf(bend(panel.tables.pipeline)))
      await display.powerCycle()
      display.press({ gains: half })
      return display.truth([1, 1, 1])[1]
    }
    const expected = applySlotTables(bend(panel.tables.pipeline), [0.5, 0.5, 0.5])[1]
    expect(expected).toBeCloseTo(0.25, 3)
    expect(await drive('before')).toBeLessThan(await drive('after'))
  })

  test('buttons refuse what the display has not', () => {
    const { display } = make(shippedPanel('sorrel-l16'))
    expect(() => display.press({ slot: 2 })).toThrow('slots 1 to 1')
    expect(() => display.press({ backlight: 101 })).toThrow('from 0 to 100')
    expect(() => display.press({ gains: [1, 1, 1] })).toThrow('no gains')
  })

  test('dynamic contrast dims dark pictures, and the display says that it is on', async () => {
    const { display } = make(shippedPanel('quillon-q27'))
    const [bright, dim] = [display.truth([1, 1, 1])[1], display.truth([0.2, 0.2, 0.2])[1]]
    display.setDynamicContrast(true)
    expect(display.truth([1, 1, 1])[1]).toBeCloseTo(bright, 6)
    expect(display.truth([0.2, 0.2, 0.2])[1]).toBeLessThan(0.8 * dim)
    expect((await display.getControls()).dynamicContrast).toBe(true)
  })

  test('ageing by hours dims it for good', () => {
    const { display } = make(shippedPanel('quillon-q24'))
    const before = display.truth([1, 1, 1])[1]
    display.age(5000)
    expect(display.truth([1, 1, 1])[1] / before).toBeLessThan(0.96)
  })
})

test('light follows the signal: nothing at first, then exponentially; the share left over a window is its mean', () => {
  const times = { delayMs: 100, settlingMs: 20 }
  expect(shareOfFormer(times, 0, 99, 99)).toBe(1)
  expect(shareOfFormer(times, 0, 120, 120)).toBeCloseTo(Math.exp(-1), 12)
  expect(shareOfFormer(times, 0, 5000, 6000)).toBeLessThan(1e-12)
  // Against the same integral by small steps.
  for (const [from, to] of [
    [0, 50],
    [0, 400],
    [90, 130],
    [110, 500],
  ]) {
    const n = 20_000
    const mean =
      Array.from({ length: n }, (_, i) => {
        const t = from + ((i + 0.5) / n) * (to - from)
        return shareOfFormer(times, 0, t, t)
      }).reduce((a, b) => a + b, 0) / n
    expect(shareOfFormer(times, 0, from, to)).toBeCloseTo(mean, 4)
  }
})
