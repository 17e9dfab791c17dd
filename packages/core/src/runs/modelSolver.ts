import { aimCurve, aimTargets, type ResolvedAim } from '../aims/aim'
import type { PatchReading } from '../aims/metrics'
import { buildSlot } from '../characterization/buildSlot'
import { characterize, leastCertainColors } from '../characterization/characterize'
import { predictLabInto } from '../characterization/characterization'
import { makeInverter } from '../characterization/inversion'
import { convertLabToXyz, convertXyzToLab } from '../color/lab'
import { invert, multiplyVector, subtract, type Triple } from '../color/matrix3'
import type { PipelineShape } from '../tables/pipelineShape'
import { quantizeSignal, type SlotTables } from '../tables/slotTables'

/** What Shape has read of a panel as a whole; a plain object, so that a solve can run in another thread. */
export interface ModelEvidence {
  readonly aim: ResolvedAim
  /** Drives (0–1) and what they showed. */
  readonly readings: readonly PatchReading[]
  readonly signalBits: number
}

/** Drives, rounded to the signal's bits, that should show signals as the aim wants them. */
export function solveSignals({ aim, readings, signalBits }: ModelEvidence, signals: readonly Triple[]): Triple[] {
  const c = characterize(readings)
  const target = aimTargets(aim)
  const { intoSignal } = makeInverter(c)
  const found = new Float64Array(3)
  return signals.map((signal) => {
    const [L, a, b] = convertXyzToLab(target(signal), c.white)
    intoSignal(L, a, b, found)
    return quantizeSignal([found[0], found[1], found[2]], signalBits)
  })
}

/** Linear light by which a colour lies outside the aim's gamut, and signal by which two chosen ones are apart. */
const [outsideBy, leastApart] = [0.01, 0.03]

const apart = (a: Triple, b: Triple) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])

/** Signals of the aim (0–1) whose drives the readings tell least about, so many of them or fewer. */
export function leastKnownSignals({ aim, readings }: ModelEvidence, count: number): Triple[] {
  if (!count) return []
  const c = characterize(readings)
  const lab = new Float64Array(3)
  const back = invert(aim.matrix)
  const { encode } = aimCurve(aim)
  // More are asked for than wanted: some drives show what lies outside the aim's gamut, and those come to its edge last.
  const found = leastCertainColors(readings, 4 * count).map((drive) => {
    predictLabInto(c, drive[0], drive[1], drive[2], lab)
    const light = multiplyVector(back, subtract(convertLabToXyz([lab[0], lab[1], lab[2]], c.white), aim.black))
    const signal = light.map((l) => encode(Math.min(1, Math.max(0, l)))) as unknown as Triple
    return { signal, outside: light.some((l) => l < -outsideBy || l > 1 + outsideBy) }
  })
  const ordered = [...found.filter((f) => !f.outside), ...found.filter((f) => f.outside)]
  const chosen: Triple[] = []
  for (const { signal } of ordered)
    if (chosen.length < count && chosen.every((other) => apart(signal, other) > leastApart)) chosen.push(signal)
  return chosen
}

/** The contents of the slot. */
export const solveSlot = ({ aim, readings }: ModelEvidence, shape: PipelineShape): SlotTables =>
  buildSlot(characterize(readings), aim, shape)
