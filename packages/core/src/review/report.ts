import { formatMetric, limitedMetrics } from '../aims/limitedMetrics'
import type { Judgement } from '../aims/limits'
import type { Metrics } from '../aims/metrics'
import { formatDate, formatLuminance, formatTemperature, verdictWords } from './figures'

/** What a report of one run says. */
export interface ReportFacts {
  readonly title: string
  readonly display: string
  readonly workstation: string
  readonly instrument: string
  readonly by: string
  /** ms since 1970, UTC. */
  readonly at: number
  readonly dueAt: number | null
  readonly aimName: string
  readonly metrics: Metrics
  readonly judgement: Judgement
  readonly profileName: string | null
}

const escape = (text: string) =>
  text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!)

const row = (...cells: string[]) => `<tr>${cells.map((c) => `<td>${escape(c)}</td>`).join('')}</tr>`

/** A run's report as one self-contained HTML page: verdict, aim beside achieved, every patch. Same facts, same bytes. */
export function writeReport(facts: ReportFacts): string {
  const { metrics: m, judgement } = facts
  const summary = [
    row(
      'White',
      formatTemperature(m.aimWhiteTemperature),
      formatTemperature(m.whiteTemperature),
      `Δu′v′ ${m.whiteDeltaUv.toFixed(4)}`,
    ),
    row(
      'White xy',
      `${m.aimWhite.x.toFixed(4)} ${m.aimWhite.y.toFixed(4)}`,
      `${m.white.x.toFixed(4)} ${m.white.y.toFixed(4)}`,
      '',
    ),
    row(
      'Luminance',
      formatLuminance(m.aimLuminance),
      formatLuminance(m.luminance),
      `${m.luminanceOff >= 0 ? '+' : '−'}${Math.abs(m.luminanceOff).toFixed(1)} %`,
    ),
    row(
      'Tone, average',
      m.aimAverageExponent.toFixed(2),
      m.averageExponent.toFixed(2),
      (m.averageExponent - m.aimAverageExponent).toFixed(2),
    ),
    row('Black', 'the panel’s own', formatLuminance(m.black, 2), m.contrast ? `${Math.round(m.contrast)} : 1` : ''),
  ].join('')
  const rules = judgement.rules
    .map((r) =>
      row(
        limitedMetrics[r.metric].label,
        formatMetric(r.metric, r.value),
        `${formatMetric(r.metric, r.near)} / ${formatMetric(r.metric, r.hard)}`,
        verdictWords[r.verdict],
      ),
    )
    .join('')
  const patches = [...m.patches]
    .sort((a, b) => b.deltaE - a.deltaE)
    .map((p) =>
      row(
        p.name,
        p.xyz.map((v) => v.toFixed(3)).join(' '),
        p.target.map((v) => v.toFixed(3)).join(' '),
        p.deltaE.toFixed(2),
      ),
    )
    .join('')
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escape(facts.title)}</title>
<style>body{font:14px/1.5 sans-serif;color:#1b1b1b;background:#fff;max-width:860px;margin:32px auto;padding:0 16px}
h1{font-size:22px;font-weight:500}h2{font-size:15px;margin-top:24px}table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums}
td,th{border-top:1px solid #cfcfcf;padding:4px 8px 4px 0;text-align:left}th{font-weight:400;color:#6c6c6c}</style></head><body>
<h1>${escape(facts.title)}: ${verdictWords[judgement.verdict]}</h1>
<p>${escape(judgement.sentence)}</p>
<p>${escape(facts.display)}, on ${escape(facts.workstation)}. Read with ${escape(facts.instrument)} by ${escape(facts.by)} on ${formatDate(facts.at)} (UTC). ${facts.dueAt === null ? 'It changes nothing of when the display is due.' : `Due again ${formatDate(facts.dueAt)}.`}${facts.profileName ? ` Profile: ${escape(facts.profileName)}.` : ''}</p>
<h2>Aim “${escape(facts.aimName)}”</h2>
<table><tr><th></th><th>aim</th><th>achieved</th><th>difference</th></tr>${summary}</table>
<h2>Limits</h2>
<table><tr><th>figure</th><th>achieved</th><th>near / hard edge</th><th>verdict</th></tr>${rules}</table>
<h2>${m.patches.length} patches, worst first</h2>
<table><tr><th>patch</th><th>read XYZ, cd/m²</th><th>aimed XYZ, cd/m²</th><th>ΔE2000</th></tr>${patches}</table>
</body></html>
`
}
