import { PanelModel, readPanel, type PanelTraits } from '@bichroma/bench'
import type { Aim } from '@bichroma/core/aims'
import { uniformFrom } from '@bichroma/core/basics'
import { panelKindNames, type PanelKind } from '@bichroma/core/register'
import type { PipelineShape } from '@bichroma/core/tables'

/** A display that nobody chose, and an aim that it can be brought to. */
export interface RandomCase {
  readonly seed: number
  readonly panel: PanelTraits
  readonly aim: Aim
}

/** Whether there can be such a display at all. */
function canBe(panel: PanelTraits): boolean {
  try {
    return Boolean(new PanelModel(panel, 1))
  } catch {
    return false
  }
}

const slotKinds = ['1D+3D', '3D', '1D+3x3', '1D'] as const

/**
 * A panel and an aim at random, the same for the same seed: every kind of light and of slot, figures over what the panel
 * schema allows, those that span decades log-uniform. What only tells how long things take, or what a person does, is left
 * at its usual.
 */
export function randomCase(seed: number): RandomCase {
  const random = uniformFrom(seed * 7919 + 17)
  const uniform = (least: number, most: number) => least + (most - least) * random()
  const decades = (least: number, most: number) => least * (most / least) ** random()
  const one = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]
  const three = (of: () => number) => [of(), of(), of()]
  /** Most displays have little of a fault, some much: from `least`, log-uniform, up to all that the schema allows. */
  const some = (least: number, most: number) => (random() < 0.25 ? 0 : decades(least, most))

  const source = one(panelKindNames.filter((k): k is PanelKind => k !== 'projector-lamp'))
  const goesDark = source === 'oled' || source === 'oled-white'
  const whiteSubpixel = source === 'oled-white' ? uniform(0.1, 0.8) : 0
  const peakLuminance = decades(80, 1500)
  const kind = one(slotKinds)
  const bits = one([8, 10, 12] as const)
  const described = () => ({
    format: 'bichroma-panel/1',
    maker: 'Random',
    model: `No. ${seed}`,
    firmware: '1',
    light: {
      source,
      ...(whiteSubpixel && { whiteSubpixel }),
      shiftNm: three(() => uniform(-4, 4)),
      peakLuminance,
      nativeWhite: { x: uniform(0.29, 0.33), y: uniform(0.3, 0.35) },
      contrast: goesDark && random() < 0.6 ? null : decades(200, 20_000),
    },
    tone: { exponents: three(() => uniform(1.6, 2.9)), bows: three(() => uniform(-0.3, 0.3)) },
    coupling: { crosstalk: some(0.002, 0.1), load: some(0.002, 0.3) },
    time: { delayMs: decades(10, 2000), settlingMs: some(1, 150) },
    gains: random() < 0.3 ? { place: one(['before', 'after']), max: 100 } : null,
    brightnessLimit: random() < 0.25 ? { meanLight: decades(0.03, 0.8), exponent: uniform(0.3, 1) } : null,
    signal: { bits, range: one(['full', 'full', 'limited']), driveBits: one([10, 12, 14].filter((b) => b >= bits)) },
    tables: { in: kind === '1D' ? 'card' : 'display', slots: 2, pipeline: pipelineOf(kind) },
  })
  let panel = readPanel(described())
  // Not every light has every white.
  while (!canBe(panel)) panel = readPanel(described())

  function pipelineOf(of: PipelineShape['kind']) {
    const table = () => ({ entries: one([256, 1024, 4096]), bits: one([10, 12, 16]) })
    switch (of) {
      case '1D':
        return { kind: of, after: table() }
      case '1D+3x3':
        return { kind: of, before: table(), matrixFractionBits: one([10, 12, 14]), after: table() }
      case '3D':
        return { kind: of, grid: { size: one([9, 17, 33]), bits: 12 } }
      case '1D+3D':
        return { kind: of, grid: { size: one([9, 17, 33]), bits: 12 }, after: table() }
    }
  }

  // A share of what its colours reach, so that there is an aim at all.
  const reach = peakLuminance * (1 - whiteSubpixel)
  const aim: Aim = {
    white: one([
      { kind: 'standard', name: 'D65' },
      { kind: 'standard', name: 'D50' },
      { kind: 'temperature', kelvin: 5800 },
    ] as const),
    luminance: Math.max(20, Math.round(reach * uniform(0.25, 0.5))),
    toneResponse: one([
      { kind: 'power', exponent: 2.2 },
      { kind: 'sRGB' },
      { kind: 'L*' },
      { kind: 'BT.1886' },
    ] as const),
    primaries:
      kind === '1D' || random() < 0.4
        ? { kind: 'panel' }
        : { kind: 'standard', name: one(['sRGB', 'Display P3'] as const) },
  }
  return { seed, panel, aim }
}
