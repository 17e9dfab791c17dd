import { describeAim } from '../../aims/describe'
import type { Aim } from '../../aims/aim'
import type { JudgedVerdict, Judgement, LimitRule, Limits } from '../../aims/limits'
import type { Metrics } from '../../aims/metrics'
import { formatMetric } from '../../aims/limitedMetrics'
import { judgingWhite, patchDifference } from '../../aims/differenceFigures'
import { differenceLabels } from '../../color/differences'
import type { ReadsMore } from '../../register/instrumentOffset'
import { runKinds, stageLabels, type RunKind, type Stage } from '../../runs/stages'
import { achievedRows, ruleRows } from '../achieved'
import { chromaticityChart, greyChart, patchesChart, toneErrorChart } from '../charts/metricsCharts'
import { cssOfLab } from '../../color/cssOfLab'
import { formatDate, formatSigned, verdictWords } from '../../aims/figures'
import type { Block, ReportDocument } from './document'

/** What a run leaves behind as evidence of how its figures came about. */
interface RunEvidence {
  readonly stages: readonly {
    readonly stage: Stage
    readonly tookMs: number
    readonly evidence: readonly string[]
    readonly conditions?: readonly { readonly label: string; readonly found: string; readonly ok: boolean }[]
  }[]
  readonly readings: number
  readonly readingsHash: string
  readonly correction: string
  readonly tablesHash: string | null
  readonly profileHash: string | null
}

/** What a report of one run tells. */
export interface RunReportFacts {
  readonly studio: string
  /** Of the software. */
  readonly version: string
  readonly run: { readonly id: number; readonly kind: RunKind; readonly at: number; readonly startedAt: number }
  readonly display: {
    readonly name: string
    readonly maker: string
    readonly model: string
    readonly serial: string
    readonly firmware: string
  }
  readonly workstation: string
  readonly room: string
  readonly slot: number
  readonly aimName: string
  readonly aim: Aim
  readonly instrument: string
  /** ms since 1970. */
  readonly certifiedAt: number | null
  readonly by: string
  readonly dueAt: number | null
  readonly profileName: string | null
  /** The file that the readings came in, when no run of ours took them. */
  readonly importedFrom: string | null
  /** That it counts no longer, and why. */
  readonly withdrawn: { readonly at: number; readonly by: string; readonly reason: string } | null
  /** That it was judged anew with its instrument's offset taken out, by whom, and what it came to as it was read. */
  readonly anew: {
    readonly at: number
    readonly by: string
    readonly luminance: number
    readonly since: number
    readonly verdict: JudgedVerdict
    readonly averageDeltaE: number
  } | null
  /** What was taken out of its readings as they were taken: what the instrument reads more. */
  readonly readsMore: ReadsMore | null
  readonly metrics: Metrics
  readonly judgement: Judgement
  readonly limits: Limits
  readonly baseline: Metrics | null
  readonly evidence: RunEvidence
}

/** Patches that a report lists: more than these are for a spreadsheet, not for reading. */
const mostPatches = 500

const xyz = (v: readonly number[]) => v.map((c) => c.toFixed(3)).join('  ')

/** A validation's report: one page that says it all, its patches, and with `whole` the evidence of every stage. */
export function runReport(f: RunReportFacts, { whole }: { readonly whole: boolean }): ReportDocument {
  const { metrics: m, judgement, display } = f
  const formula = judgement.formula ?? 'de2000'
  const edges = (metric: LimitRule['metric']) => f.limits.rules.find((r) => r.metric === metric && !r.levels)
  const kind = f.importedFrom ? 'Imported readings' : runKinds[f.run.kind].label
  const white = judgingWhite(m)
  const charts = m.greys.length ? [toneErrorChart(m, f.limits), greyChart(m, edges)] : []
  return {
    studio: f.studio,
    title: `${display.name}, slot ${f.slot}, ${f.aimName}`,
    verdict: judgement.verdict,
    sentence: judgement.sentence,
    lines: [
      ...(f.withdrawn
        ? [
            `Withdrawn on ${formatDate(f.withdrawn.at)} by ${f.withdrawn.by}, and counts no longer: ${f.withdrawn.reason}`,
          ]
        : []),
      ...(f.anew
        ? [
            `Judged anew: ${f.instrument} has read ${formatSigned(100 * f.anew.luminance, 1)} % since ${formatDate(f.anew.since)}, which ${f.anew.by} took into account on ${formatDate(f.anew.at)}. As it was read: ${verdictWords[f.anew.verdict]}, ${f.anew.averageDeltaE.toFixed(2)} ΔE on average.`,
          ]
        : []),
      ...(f.readsMore
        ? [
            `Taken out of each reading: ${f.instrument} reads ${formatSigned(100 * f.readsMore.luminance, 1)} %, as was known by then.`,
          ]
        : []),
      `${kind} of ${formatDate(f.run.at)} (UTC), run ${f.run.id}. ${display.maker} ${display.model}, serial ${display.serial}, firmware ${display.firmware}; ${f.workstation}, ${f.room}.`,
      `Aim “${f.aimName}”: ${describeAim(f.aim)}. Read with ${f.instrument}${f.certifiedAt === null ? '' : `, certified ${formatDate(f.certifiedAt)}`}, ${f.importedFrom ? `imported from ${f.importedFrom} by ${f.by}` : `by ${f.by}`}.`,
      `${f.dueAt === null || f.withdrawn ? 'It changes nothing of when the display is due.' : `Due again ${formatDate(f.dueAt)}.`}${f.profileName ? ` Profile: ${f.profileName}.` : ''}`,
    ],
    blocks: [
      {
        kind: 'table',
        head: ['Aim and achieved', 'aim', 'achieved', 'difference'],
        figures: [1, 2, 3],
        widths: [0.4, 0.2, 0.2, 0.2],
        rows: achievedRows(m).map((r) => [`${r.name}${r.unit ? `, ${r.unit}` : ''}`, r.aim, r.achieved, r.difference]),
      },
      {
        kind: 'table',
        head: ['Limits', 'achieved', 'near edge', 'hard edge', 'verdict'],
        figures: [1, 2, 3],
        widths: [0.3, 0.22, 0.14, 0.14, 0.2],
        rows: ruleRows(judgement).map((r) => [
          r.name,
          r.doubt ? `${r.achieved} ${r.doubt}` : r.achieved,
          r.near,
          r.hard,
          {
            text: r.note ? `${r.word}; ${r.note}` : r.word,
            verdict: r.verdict,
          },
        ]),
      },
      { kind: 'charts', charts: [...charts, patchesChart(m, formula, edges)] },
      { kind: 'page' },
      {
        kind: 'heading',
        text:
          m.patches.length > mostPatches
            ? `The worst ${mostPatches} of ${m.patches.length} patches; CSV and CGATS hold them all`
            : `${m.patches.length} patches, worst first`,
      },
      {
        kind: 'table',
        head: ['patch', 'signal, %', 'aimed XYZ, cd/m²', 'read XYZ, cd/m²', differenceLabels[formula]],
        figures: [1, 2, 3, 4],
        widths: [0.27, 0.16, 0.23, 0.23, 0.11],
        rows: m.patches
          .map((p) => ({ p, value: patchDifference(p, formula, white) }))
          .sort((a, b) => b.value - a.value)
          .slice(0, mostPatches)
          .map(({ p, value }) => [
            { text: p.name, colors: [cssOfLab(p.targetLab), cssOfLab(p.lab)] },
            p.rgb.map((v) => Number((v * 100).toFixed(1))).join('  '),
            xyz(p.target),
            xyz(p.xyz),
            value.toFixed(2),
          ]),
      },
      ...(m.gamut ? gamutBlocks(m) : []),
      ...reasonBlocks(f.limits),
      ...(whole ? evidenceBlocks(f) : []),
    ],
    origin: `Made by Bichroma ${f.version} from run ${f.run.id}: ${f.evidence.readings} readings, SHA-256 ${f.evidence.readingsHash}.`,
    at: f.run.at,
  }
}

function gamutBlocks(m: Metrics): Block[] {
  const { uv, xy } = m.gamut!
  return [
    { kind: 'heading', text: 'Gamut beside the aim’s' },
    { kind: 'charts', charts: [chromaticityChart(m)] },
    {
      kind: 'table',
      head: ['', 'coverage of the aim', 'area ratio'],
      figures: [1, 2],
      widths: [0.5, 0.25, 0.25],
      rows: [
        ['u′v′', `${uv.coverage.toFixed(1)} %`, `${uv.areaRatio.toFixed(1)} %`],
        ['xy', `${xy.coverage.toFixed(1)} %`, `${xy.areaRatio.toFixed(1)} %`],
      ],
    },
  ]
}

function reasonBlocks(limits: Limits): Block[] {
  const reasoned = limits.rules.filter((r) => r.reason)
  if (!reasoned.length) return []
  return [
    { kind: 'heading', text: 'Why the edges are where they are' },
    ...reasoned.map((r): Block => ({
      kind: 'text',
      text: `${formatMetric(r.metric, r.near)} and ${formatMetric(r.metric, r.hard)}: ${r.reason}`,
    })),
  ]
}

function evidenceBlocks(f: RunReportFacts): Block[] {
  const { evidence, baseline } = f
  const conditions = evidence.stages.find((s) => s.conditions)?.conditions ?? []
  return [
    { kind: 'page' },
    { kind: 'heading', text: 'Evidence of the run' },
    {
      kind: 'table',
      head: ['what', 'which'],
      figures: [],
      widths: [0.25, 0.75],
      rows: [
        [
          'Instrument',
          `${f.instrument}${f.certifiedAt === null ? ', certificate not told' : `, certified ${formatDate(f.certifiedAt)}`}`,
        ],
        ['Correction', evidence.correction],
        ['Firmware', f.display.firmware],
        ['Tables', evidence.tablesHash ?? 'none written'],
        ['Profile', f.profileName ? `${f.profileName}, ${evidence.profileHash}` : 'none filed'],
        ...(f.importedFrom ? [['File', f.importedFrom]] : []),
      ],
    },
    ...(baseline
      ? [
          {
            kind: 'text' as const,
            text: `Before, tables bypassed: average ${baseline.averageDeltaE.toFixed(2)}, worst ${baseline.worstDeltaE.toFixed(2)} ΔE2000, ${baseline.luminance.toFixed(1)} cd/m².`,
          },
        ]
      : []),
    ...(conditions.length
      ? [
          { kind: 'heading' as const, text: 'Readiness' },
          {
            kind: 'table' as const,
            head: ['condition', 'found', ''],
            figures: [],
            widths: [0.35, 0.5, 0.15],
            rows: conditions.map((c) => [c.label, c.found, c.ok ? 'met' : 'not met']),
          },
        ]
      : []),
    ...(evidence.stages.length
      ? [
          { kind: 'heading' as const, text: 'Stages' },
          {
            kind: 'table' as const,
            head: ['stage', 'took', 'evidence'],
            figures: [1],
            widths: [0.15, 0.15, 0.7],
            rows: evidence.stages.map((s) => [
              stageLabels[s.stage],
              `${Math.round(s.tookMs / 1000)} s`,
              s.evidence.join('. '),
            ]),
          },
        ]
      : []),
  ]
}
