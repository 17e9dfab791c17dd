// Makes packages/cli/samples anew: readings of a bench panel by a bench colorimeter, before and after a table, an aim,
// limits, pairs, a CxF file, an EDID and a picture. `npm run samples`; the same files every time.
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { PNG } from 'pngjs'
import { BenchClock, BenchDisplay, BenchInstrument, fenLantern, shippedInstrument } from '@bichroma/bench'
import type { Aim, Limits } from '@bichroma/core/aims'
import { uniformFrom } from '@bichroma/core/basics'
import { buildTable3d, characterize, fitAim } from '@bichroma/core/characterization'
import type { PatchReading, Triple } from '@bichroma/core/color'
import { writeCsv, writeEdid, writeReadings } from '@bichroma/core/formats'
import { makePlan, provePatches, samplings, type Patch } from '@bichroma/core/runs'
import { applyTetrahedral } from '@bichroma/core/tables'

const folder = 'packages/cli/samples'
const at = Date.UTC(2026, 10, 24, 9, 30)
const display = fenLantern.workstations.flatMap((w) => w.displays).find((d) => d.name === 'Sedge 2')!
const { light, maker, model } = display.panel
const clock = new BenchClock(Infinity, at)
const onBench = new BenchDisplay(display, clock)
const colorimeter = new BenchInstrument(
  { serial: 'TC-0417', model: shippedInstrument('tessel-c3'), certifiedAt: null },
  clock,
  () => onBench,
  () => onBench.room(),
  7,
)
/** Longer than the light of any display takes to follow, ms. */
const waitMs = 400

async function read(
  patches: readonly Patch[],
  through: (rgb: Triple) => Triple = (rgb) => rgb,
): Promise<PatchReading[]> {
  const readings: PatchReading[] = []
  for (const { name, rgb } of patches) {
    await onBench.showPatch(through(rgb), undefined, waitMs)
    const { xyz } = await colorimeter.read(display.serial, light.source)
    // Six digits: more than any instrument gives.
    readings.push({ name, rgb, xyz: xyz.map((v) => Number(v.toPrecision(6))) as unknown as Triple })
  }
  return readings
}

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 110,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const limits: Limits = {
  rules: [
    { metric: 'averageDeltaE', near: 1, hard: 1.5 },
    { metric: 'worstDeltaE', near: 2, hard: 3 },
    { metric: 'whiteDeltaUv', near: 0.002, hard: 0.004 },
    { metric: 'luminanceOff', near: 2, hard: 5 },
    { metric: 'greyChroma', near: 0.5, hard: 1 },
    { metric: 'coverage', near: 98, hard: 95 },
  ],
}

mkdirSync(folder, { recursive: true })
const put = (name: string, contents: string | Uint8Array) => writeFileSync(join(folder, name), contents)
const json = (value: unknown) => `${JSON.stringify(value, null, 2)}\n`

await onBench.setControls({ backlight: 42, pipeline: 'bypass' })
await colorimeter.zero()
const before = await read(makePlan(samplings.usual))
const c = characterize(before)
const table = buildTable3d(c, fitAim(aim, c).aim, { size: 33 })
const after = await read(provePatches, (rgb) => applyTetrahedral(table, rgb))
put('sedge-2.cgats', writeReadings(before, { description: 'Sedge 2, raw, plan usual', createdAt: at }))
put('sedge-2-after.cgats', writeReadings(after, { description: 'Sedge 2 through the table', createdAt: at }))
put('aim.json', json(aim))
put('limits.json', json(limits))

const uniform = uniformFrom(5)
const lab = (): Triple => [20 + 60 * uniform(), 80 * uniform() - 40, 80 * uniform() - 40]
put(
  'pairs.csv',
  writeCsv(
    ['L1', 'a1', 'b1', 'L2', 'a2', 'b2'],
    Array.from({ length: 8 }, () => {
      const a = lab()
      const b = a.map((v) => v + 4 * uniform() - 2)
      return [...a, ...b].map((v) => Number(v.toFixed(2)))
    }),
  ),
)

const object = (
  { name, rgb, xyz }: PatchReading,
  i: number,
) => `    <cc:Object ObjectType="Target" Name="${name}" Id="p${i + 1}">
      <cc:ColorValues><cc:ColorCIEXYZ><cc:X>${xyz[0]}</cc:X><cc:Y>${xyz[1]}</cc:Y><cc:Z>${xyz[2]}</cc:Z></cc:ColorCIEXYZ></cc:ColorValues>
      <cc:DeviceColorValues><cc:ColorRGB>${['R', 'G', 'B'].map((n, k) => `<cc:${n}>${Number((255 * rgb[k]).toFixed(2))}</cc:${n}>`).join('')}</cc:ColorRGB></cc:DeviceColorValues>
    </cc:Object>`
put(
  'sedge-2-after.cxf',
  `<?xml version="1.0" encoding="UTF-8"?>
<cc:CxF xmlns:cc="http://colorexchangeformat.com/CxF3-core">
  <cc:Resources><cc:ObjectCollection>
${after.map(object).join('\n')}
  </cc:ObjectCollection></cc:Resources>
</cc:CxF>
`,
)
put(
  'sedge-2.edid.bin',
  writeEdid({
    maker: 'QLN',
    productCode: 0x2701,
    serialNumber: 4418,
    week: 9,
    year: 2024,
    size: { width: 60, height: 34 },
    gamma: 2.2,
    primaries: { red: { x: 0.68, y: 0.31 }, green: { x: 0.24, y: 0.7 }, blue: { x: 0.15, y: 0.05 } },
    white: light.nativeWhite as { x: number; y: number },
    name: `${maker} ${model}`.slice(0, 13),
    serialText: display.serial,
    pixels: { width: 2560, height: 1440 },
    bits: 10,
    extension: { colorimetry: ['opRGB', 'DCI-P3'], hdr: null },
  }),
)

/** Hues across, from dark to light downwards, and a grey ramp below. */
const picture = new PNG({ width: 96, height: 64 })
for (let y = 0; y < 64; y++)
  for (let x = 0; x < 96; x++) {
    const hue = (x / 96) * 6
    const wheel = [Math.abs(hue - 3) - 1, 2 - Math.abs(hue - 2), 2 - Math.abs(hue - 4)]
    const rgb = y >= 52 ? [x / 95, x / 95, x / 95] : wheel.map((v) => Math.min(1, Math.max(0, v)) * (y / 51))
    picture.data.set([...rgb.map((v) => Math.round(255 * v)), 255], 4 * (y * 96 + x))
  }
put('picture.png', new Uint8Array(PNG.sync.write(picture)))
