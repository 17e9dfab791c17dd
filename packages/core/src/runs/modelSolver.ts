import { aimCurve, aimTargets, type ResolvedAim } from '../aims/aim'
import type { PatchReading } from '../color/patchReading'
import { buildSlot } from '../characterization/buildSlot'
import { characterizeAnew } from '../characterization/characterizeAnew'
import { crossValidate } from '../characterization/crossValidate'
import { characterize, leastCertainColors } from '../characterization/characterize'
import { predictLabInto, type Characterization } from '../characterization/characterization'
import { makeInverter } from '../characterization/inversion'
import { convertLabToXyz, convertXyzToLab } from '../color/lab'
import { invert, multiplyVector, subtract, type Triple } from '../color/matrix3'
import type { PipelineShape } from '../tables/pipelineShape'
import { nearestSent, type SignalCodes } from '../tables/signalCodes'
import type { SlotTables } from '../tables/slotTables'
import { greyPatch, type Patch } from './patches'
import { namedBySignal } from './plan/planParts'

/** What Shape has read of a panel as a whole; a plain object, so that a solve can run in another thread. */
export interface ModelEvidence {
  readonly aim: ResolvedAim
  /** Drives (0–1) as they arrived, and what they showed. */
  readonly readings: readonly PatchReading[]
  /** What an earlier run read of the same panel; the readings then only have to tell what changed. */
  readonly before?: readonly PatchReading[]
  readonly signal: SignalCodes
}

const characterizationOf = ({ readings, before }: ModelEvidence): Characterization =>
  before ? characterizeAnew(characterize(before), readings) : characterize(readings)

function drivesFor(c: Characterization, { aim, signal }: ModelEvidence, signals: readonly Triple[]): Triple[] {
  const target = aimTargets(aim)
  const { intoSignal } = makeInverter(c)
  const found = new Float64Array(3)
  return signals.map((wanted) => {
    const [L, a, b] = convertXyzToLab(target(wanted), c.white)
    intoSignal(L, a, b, found)
    return nearestSent([found[0], found[1], found[2]], signal)
  })
}

/** Drives, rounded to what can be sent, that should show signals as the aim wants them. */
export const solveSignals = (e: ModelEvidence, signals: readonly Triple[]): Triple[] =>
  drivesFor(characterizationOf(e), e, signals)

/** A signal of the aim, and the drive that should show it. */
export interface SolvedPatch {
  readonly patch: Patch
  readonly drive: Triple
}

/** What the next round reads: white, so many greys, and so many colours or fewer, those that the readings tell least about. */
export function solveRound(e: ModelEvidence, greys: number, colors: number): SolvedPatch[] {
  const c = characterizationOf(e)
  const patches = [
    greyPatch(1),
    ...Array.from({ length: greys }, (_, i) => greyPatch(((i + 1) / (greys + 1)) ** towardsBlack)),
    ...leastKnown(c, e, colors).map(namedBySignal),
  ]
  const drives = drivesFor(
    c,
    e,
    patches.map((p) => p.rgb),
  )
  return patches.map((patch, i) => ({ patch, drive: drives[i] }))
}

/** How much closer a round's greys lie together in the shadows. */
const towardsBlack = 1.2

/** Linear light by which a colour lies outside the aim's gamut, and signal by which two chosen ones are apart. */
const [outsideBy, leastApart] = [0.01, 0.03]

const apart = (a: Triple, b: Triple) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])

/** Signals of the aim (0–1) whose drives the readings tell least about, so many of them or fewer. */
export const leastKnownSignals = (e: ModelEvidence, count: number): Triple[] =>
  leastKnown(characterizationOf(e), e, count)

function leastKnown(c: Characterization, { aim, readings }: ModelEvidence, count: number): Triple[] {
  if (!count) return []
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

/**
 * How far colours that are left out of the fit are from what it foretells of them, ΔE2000 on average; null where too few
 * are there to tell, or where an earlier run's are among them.
 */
export const foretellingError = ({ readings, before }: ModelEvidence): number | null =>
  before ? null : (crossValidate(readings)?.averageDeltaE ?? null)

/** The contents of the slot. */
export const solveSlot = (e: ModelEvidence, shape: PipelineShape): SlotTables =>
  buildSlot(characterizationOf(e), e.aim, shape)
