import { EntitySchema } from 'typeorm'
import type { Aim, JudgedVerdict, Judgement, Limits, Metrics, ResolvedAim } from '@bichroma/core/aims'
import type { LightSeen } from '@bichroma/core/peers'
import type { ReadsMore } from '@bichroma/core/register'
import { runKinds } from '@bichroma/core/runs'
import type { Ask, Budget, RunKind, RunState, Sampling, Stage, UniformityMap } from '@bichroma/core/runs'
import type {
  Begins,
  Correction,
  Imported,
  JudgedSummary,
  ProfilePolicy,
  ReadingRole,
  RunPatches,
  StageRecord,
} from '@bichroma/contract'
import { columns } from '../data/columns'

export interface RunRow {
  id: number
  displayId: number
  slot: number
  kind: RunKind
  sampling: Sampling
  /** What is done to the instrument's readings. */
  correction: Correction | null
  /** What its instrument reads more, as it was known: taken out of each reading; null where nothing was taken into account. */
  readsMore: ReadsMore | null
  /** The aim's name, which becomes the slot's label. */
  label: string
  aim: Aim
  limits: Limits
  instrumentId: number
  /** It waits in the queue for that instrument and takes no other. */
  onlyWith: boolean
  accountId: number
  /** `importing`: readings from elsewhere are being stored; no run yet for anybody who looks. */
  state: RunState | 'importing'
  stage: Stage
  message: string | null
  startedAt: number
  endedAt: number | null
  /** The label of what the slot held; null for nothing. */
  overwrote: string | null
  resolvedAim: ResolvedAim | null
  baseline: Metrics | null
  metrics: Metrics | null
  judgement: Judgement | null
  summary: (Omit<JudgedSummary, 'verdict'> & { verdict: Judgement['verdict'] }) | null
  profileHash: string | null
  profileName: string | null
  reportHash: string | null
  /** What Shape learned of the panel (a ShapeMemory as JSON), and the one that it started from. */
  memoryHash: string | null
  recalls: string | null
  begins: Begins
  /** What it may take at most; null where the sampling decides. */
  budget: Budget | null
  /** What its profile is to be; null for runs that make none. */
  profile: ProfilePolicy | null
  /** Which patches a check reads; null for those that every kind of run has. */
  patches: RunPatches | null
  /** Where its readings came from, when no run of ours took them. */
  imported: Imported | null
  /** Of the display, when the run began. */
  firmware: string | null
  checkEveryDays: number | null
  /** What the slot held when it was proved. */
  tablesHash: string | null
  /** How even the screen is, from a uniformity run. */
  uniformity: UniformityMap | null
  /** It is putting the display back. */
  restoring: boolean
  /** What it waits for people to do; null while it waits for nobody. */
  asks: Ask | null
  /** When, and by whose name, what it had overwritten was put back after it had ended. */
  takenBackAt: number | null
  takenBackBy: string | null
  /** When, by whose name and why its validation was withdrawn: kept, and no longer counted. */
  withdrawnAt: number | null
  withdrawnBy: string | null
  withdrawnReason: string | null
}

/** What a run holds of what may happen to it later. */
export const nothingLater = {
  onlyWith: false,
  restoring: false,
  asks: null,
  takenBackAt: null,
  takenBackBy: null,
  withdrawnAt: null,
  withdrawnBy: null,
  withdrawnReason: null,
} as const
export const runEntity = new EntitySchema<RunRow>({
  name: 'run',
  columns: {
    id: columns.id as never,
    displayId: columns.integer('display_id'),
    slot: columns.integer('slot'),
    kind: columns.text('kind'),
    sampling: columns.text('sampling'),
    correction: columns.jsonOrNull('correction'),
    readsMore: columns.jsonOrNull('reads_more'),
    label: columns.text('label'),
    aim: columns.json('aim'),
    limits: columns.json('limits'),
    instrumentId: columns.integer('instrument_id'),
    onlyWith: columns.boolean('only_with'),
    accountId: columns.integer('account_id'),
    state: columns.text('state'),
    stage: columns.text('stage'),
    message: columns.textOrNull('message'),
    startedAt: columns.integer('started_at'),
    endedAt: columns.integerOrNull('ended_at'),
    overwrote: columns.textOrNull('overwrote'),
    resolvedAim: columns.jsonOrNull('resolved_aim'),
    baseline: columns.jsonOrNull('baseline'),
    metrics: columns.jsonOrNull('metrics'),
    judgement: columns.jsonOrNull('judgement'),
    summary: columns.jsonOrNull('summary'),
    profileHash: columns.textOrNull('profile_hash'),
    profileName: columns.textOrNull('profile_name'),
    reportHash: columns.textOrNull('report_hash'),
    memoryHash: columns.textOrNull('memory_hash'),
    recalls: columns.textOrNull('recalls'),
    begins: columns.text('begins'),
    profile: columns.jsonOrNull('profile'),
    budget: columns.jsonOrNull('budget'),
    patches: columns.jsonOrNull('patches'),
    imported: columns.jsonOrNull('imported'),
    firmware: columns.textOrNull('firmware'),
    checkEveryDays: columns.integerOrNull('check_every_days'),
    tablesHash: columns.textOrNull('tables_hash'),
    uniformity: columns.jsonOrNull('uniformity'),
    restoring: columns.boolean('restoring'),
    asks: columns.textOrNull('asks'),
    takenBackAt: columns.integerOrNull('taken_back_at'),
    takenBackBy: columns.textOrNull('taken_back_by'),
    withdrawnAt: columns.integerOrNull('withdrawn_at'),
    withdrawnBy: columns.textOrNull('withdrawn_by'),
    withdrawnReason: columns.textOrNull('withdrawn_reason'),
  },
})

/** What a run that reached its end saw of its display's raw light; from any slot, for light is the display's. */
export interface RunLightRow {
  id: number
  runId: number
  displayId: number
  /** When the run ended, ms since 1970. */
  at: number
  seen: LightSeen
}
export const runLightEntity = new EntitySchema<RunLightRow>({
  name: 'run_light',
  columns: {
    id: columns.id as never,
    runId: columns.integer('run_id'),
    displayId: columns.integer('display_id'),
    at: columns.integer('at'),
    seen: columns.json('seen'),
  },
})

/** A run without the figures of every patch, which can be many: those are read as text, by whoever sends them on. */
export type RunFacts = Omit<RunRow, 'metrics'>
const factColumns = runEntity.options.columns as Record<keyof RunRow, unknown>
/** What of a run is selected where its metrics are not. */
export const runFacts = Object.fromEntries(
  Object.keys(factColumns)
    .filter((name) => name !== 'metrics')
    .map((name) => [name, true]),
) as Record<keyof RunFacts, true>

/** One step of a run: stored before it is taken, its result after. */
export interface StepRow {
  id: number
  runId: number
  seq: number
  key: string
  result: { value: unknown } | null
  askedAt: number
  doneAt: number | null
}
export const stepEntity = new EntitySchema<StepRow>({
  name: 'run_step',
  columns: {
    id: columns.id as never,
    runId: columns.integer('run_id'),
    seq: columns.integer('seq'),
    key: columns.text('key'),
    result: columns.jsonOrNull('result'),
    askedAt: columns.integer('asked_at'),
    doneAt: columns.integerOrNull('done_at'),
  },
})

/** What a stage may have none of. */
type StageExtras = 'conditions' | 'rounds' | 'warmUp' | 'gauge'
export type StageRow = Omit<StageRecord, StageExtras> & {
  [K in StageExtras]?: StageRecord[K] | null
} & { id: number; runId: number }
export const stageEntity = new EntitySchema<StageRow>({
  name: 'run_stage',
  columns: {
    id: columns.id as never,
    runId: columns.integer('run_id'),
    stage: columns.text('stage'),
    startedAt: columns.integer('started_at'),
    endedAt: columns.integerOrNull('ended_at'),
    tookMs: columns.real('took_ms'),
    evidence: columns.json('evidence'),
    conditions: columns.jsonOrNull('conditions'),
    rounds: columns.jsonOrNull('rounds'),
    warmUp: columns.jsonOrNull('warm_up'),
    gauge: columns.jsonOrNull('gauge'),
  },
})
/** A stage as it is told: what it has none of is left out. */
export const stageRecordOf = (row: StageRow): StageRecord => {
  const { id: _id, runId: _runId, conditions, rounds, warmUp, gauge, ...record } = row
  return {
    ...record,
    ...(conditions && { conditions }),
    ...(rounds && { rounds }),
    ...(warmUp && { warmUp }),
    ...(gauge && { gauge }),
  }
}

/** One acknowledged reading. Signal or drive 0–1; XYZ in cd/m²; duration at real pace, ms. */
export interface ReadingRow {
  id: number
  runId: number
  seq: number
  stage: Stage
  name: string
  role: ReadingRole
  r: number
  g: number
  b: number
  x: number
  y: number
  z: number
  tookMs: number
  at: number
  deltaE: number | null
}
export const readingEntity = new EntitySchema<ReadingRow>({
  name: 'reading',
  columns: {
    id: columns.id as never,
    runId: columns.integer('run_id'),
    seq: columns.integer('seq'),
    stage: columns.text('stage'),
    name: columns.text('name'),
    role: columns.text('role'),
    r: columns.real('r'),
    g: columns.real('g'),
    b: columns.real('b'),
    x: columns.real('x'),
    y: columns.real('y'),
    z: columns.real('z'),
    tookMs: columns.real('took_ms'),
    at: columns.integer('at'),
    deltaE: columns.realOrNull('delta_e'),
  },
})

/** What a run is called in a sentence: its kind, display and slot. */
export const runName = (run: Pick<RunRow, 'kind' | 'slot' | 'label'>, displayName: string): string =>
  `${runKinds[run.kind].label}, ${displayName}, slot ${run.slot}${run.label ? ` “${run.label}”` : ''}`

/** What a run comes to the other way: with an offset until it is taken into account, and as it was read from then on. */
export interface RunAnewRow {
  id: number
  runId: number
  offsetId: number
  /** The run itself is told with the offset, and this is as it was read. */
  swapped: boolean
  was: JudgedVerdict
  becomes: JudgedVerdict
  /** All JSON. */
  metrics: string
  judgement: string
  summary: string
  figures: string
  /** What changes places, while it does. */
  other: string | null
}
export const runAnewEntity = new EntitySchema<RunAnewRow>({
  name: 'run_anew',
  columns: {
    id: columns.id as never,
    runId: columns.integer('run_id'),
    offsetId: columns.integer('offset_id'),
    swapped: columns.boolean('swapped'),
    was: columns.text('was'),
    becomes: columns.text('becomes'),
    metrics: columns.text('metrics'),
    judgement: columns.text('judgement'),
    summary: columns.text('summary'),
    figures: columns.text('figures'),
    other: columns.textOrNull('other'),
  },
})
