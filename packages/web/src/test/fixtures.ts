import { computeMetrics, judge, resolveAim, targetXyz, type Aim, type Limits } from '@bichroma/core/aims'
import { standardPrimaries } from '@bichroma/core/color'
import { provePatches, stages } from '@bichroma/core/runs'
import type {
  DisplayListing,
  JudgedSummary,
  Need,
  Placement,
  RolloutRow,
  RunDetail,
  RunReview,
  RunSummary,
  Slot,
} from '@bichroma/contract'

/** A fixed now for tests of the interface. */
export const now = Date.UTC(2026, 10, 24, 10)
export const day = 86_400_000

const aim: Aim = {
  white: { kind: 'standard', name: 'D65' },
  luminance: 120,
  toneResponse: { kind: 'sRGB' },
  primaries: { kind: 'standard', name: 'sRGB' },
}
const limits: Limits = {
  rules: [
    { metric: 'averageDeltaE', near: 1, hard: 2 },
    { metric: 'luminanceOff', near: 2, hard: 4 },
  ],
}

const resolved = resolveAim(aim, {
  white: { x: 0.3, y: 0.32 },
  primaries: standardPrimaries['Display P3'],
  black: [0.1, 0.11, 0.15],
})

/** Figures of a display whose blue and whose light are such shares of what is wanted. */
export const metricsOf = (blue: number, luminance = 1) =>
  computeMetrics(
    provePatches.map(({ name, rgb }) => {
      const [x, y, z] = targetXyz(resolved, rgb)
      return { name, rgb, xyz: [x * luminance, y * luminance, z * blue * luminance] as const }
    }),
    resolved,
  )

/** Figures of a display that is on its aim but for a blue that is a little too strong. */
export const metrics = metricsOf(1.01)
export const judgement = judge(metrics, limits)

export const judged = (change: Partial<JudgedSummary> = {}): JudgedSummary => ({
  runId: 7,
  at: now - 5 * day,
  verdict: 'within',
  sentence: 'Every figure is inside its near edge.',
  averageDeltaE: 0.42,
  worstDeltaE: 1.37,
  worstPatch: 'Alder leaf',
  luminance: 119.4,
  white: { x: 0.3131, y: 0.3295 },
  aimWhite: { x: 0.3127, y: 0.329 },
  whiteTemperature: 6478,
  aimWhiteTemperature: 6504,
  whiteDeltaUv: 0.0006,
  ...change,
})

export const slot = (change: Partial<Slot> = {}): Slot => ({
  number: 1,
  label: 'Atlas web',
  aim,
  writtenAt: now - 90 * day,
  writtenBy: 'Marit Oyen',
  preset: null,
  tablesHash: 'a'.repeat(64),
  active: true,
  unsure: false,
  judged: judged(),
  ...change,
})

export const display = (change: Partial<DisplayListing> = {}): DisplayListing => ({
  astray: null,
  id: 1,
  name: 'Sedge 1',
  maker: 'Quillon',
  model: 'Q27',
  serial: 'Q-1',
  firmware: '3.1',
  panelKind: 'wide-gamut-led',
  roomId: 1,
  room: 'Atlas plates',
  workstationId: 1,
  workstation: 'sedge-01',
  operatingSystem: 'linux',
  systemVersion: '12',
  checkEveryDays: 28,
  slot: 1,
  label: 'Atlas web',
  unsure: false,
  luminance: 120,
  white: aim.white,
  judged: judged(),
  verdict: 'within',
  dueAt: now + 23 * day,
  dueState: 'later',
  calendarAt: now + 23 * day,
  forecastAt: null,
  daysFrom: null,
  rests: null,
  mattersAt: null,
  mattersName: null,
  live: true,
  runId: null,
  ...change,
})

export const need = (change: Partial<Need> = {}): Need => ({
  kind: 'outside',
  displayId: 1,
  displayName: 'Sedge 1',
  slot: 1,
  found: null,
  judgedAt: now - 5 * day,
  checkEveryDays: 28,
  placement: null,
  ...change,
})

export const placement = (change: Partial<Placement> = {}): Placement => ({
  id: 3,
  displayId: 1,
  workstationId: 1,
  runId: 7,
  profileHash: 'b'.repeat(64),
  fileName: 'Sedge-1-slot-1.icc',
  description: 'Atlas web, slot 1, 19 Nov 2026',
  slot: 1,
  scope: 'machine',
  state: 'in force',
  requestedAt: now - day,
  requestedBy: 'Marit Oyen',
  placedAt: now - day,
  verifiedAt: now - day,
  path: '/usr/share/color/icc/Sedge-1-slot-1.icc',
  why: 'person',
  waveId: null,
  putBacks: [],
  leftAlone: false,
  fault: null,
  message: null,
  ...change,
})

export const rolloutRow = (change: Partial<RolloutRow> = {}): RolloutRow => ({
  displayId: 1,
  displayName: 'Sedge 1',
  roomName: 'Sedge Room',
  workstationId: 1,
  workstationName: 'sedge-01',
  operatingSystem: 'linux',
  shownSlot: 1,
  wanted: null,
  found: null,
  placement: placement(),
  differs: false,
  mend: null,
  courierOnline: true,
  ...change,
})

export const run = (change: Partial<RunDetail> = {}): RunDetail => ({
  id: 9,
  displayId: 1,
  displayName: 'Sedge 1',
  kind: 'full',
  slot: 1,
  label: 'Atlas web',
  state: 'running',
  startedAt: now,
  endedAt: null,
  startedBy: 'Marit Oyen',
  instrument: 'Colorimeter C3 TC-0417',
  readings: 2,
  judged: null,
  message: null,
  imported: null,
  restoring: false,
  takenBack: null,
  withdrawn: null,
  anew: null,
  patches: null,
  aim,
  resolvedAim: resolved,
  limits,
  overwrote: null,
  sampling: 'usual',
  begins: 'now',
  budget: null,
  asks: null,
  profile: { version: 4, kind: 'matrix', black: 'measured', readings: 'prove' },
  correction: { kind: 'own', panelKind: 'wide-gamut-led' },
  log: [
    {
      seq: 0,
      stage: 'baseline',
      name: 'White',
      role: 'white',
      rgb: [1, 1, 1],
      xyz: [114, 120.3, 131],
      tookMs: 900,
      at: now,
      deltaE: null,
    },
    {
      seq: 1,
      stage: 'shape',
      name: 'Grey 2 %, round 1',
      role: 'patch',
      rgb: [0.1, 0.1, 0.1],
      xyz: [0.3, 0.31, 0.35],
      tookMs: 2900,
      at: now,
      deltaE: 0.31,
    },
  ],
  stage: 'shape',
  stages: stages.slice(0, 4).map((stage, i) => ({
    stage,
    startedAt: now,
    endedAt: i < 3 ? now : null,
    tookMs: 4000 * (i + 1),
    evidence: i < 3 ? [`Evidence of ${stage}`] : [],
    ...(i === 0
      ? { conditions: [{ id: 'courier', label: 'Courier online', found: 'on sedge-01', ok: true, remedy: null }] }
      : {}),
  })),
  progress: { done: 0.41, secondsLeft: 130, basis: 2 },
  patch: { name: 'Grey 4 %, round 1', rgb: [0.2, 0.2, 0.21] },
  loading: null,
  profileHash: null,
  uniformity: null,
  ...change,
})

/** A run as lists have it. */
export const runSummary = (change: Partial<RunSummary> = {}): RunSummary => {
  const { log: _log, stages: _stages, ...whole } = run()
  return { ...(whole as unknown as RunSummary), state: 'done', readings: 39, judged: judged(), ...change }
}

/** The review of a run. */
export const reviewOf = (change: Partial<RunReview> = {}): RunReview => ({
  run: runSummary(),
  displayName: 'Sedge 1',
  aim,
  resolvedAim: resolved,
  limits,
  metrics,
  judgement,
  baseline: null,
  uniformity: null,
  previous: null,
  trail: [],
  profileHash: null,
  profileName: null,
  ...change,
})
