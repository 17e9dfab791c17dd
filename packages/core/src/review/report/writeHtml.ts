import { formatDate, verdictWords } from '../../aims/figures'
import { escapeXml } from '../charts/drawing'
import { verdictShape } from '../charts/verdictShape'
import type { Block, Cell, ReportDocument } from './document'
import type { Verdict } from '../../aims/limits'

/** What an HTML report carries with it, so that it asks for nothing: a font (WOFF2) and the studio's logo, in base64. */
export interface HtmlParts {
  readonly font: string | null
  /** A whole data URL. */
  readonly logo: string | null
}

const sign = (verdict: Verdict, size: number) =>
  `<svg class="sign" width="${size}" height="${size}" viewBox="0 0 ${size} ${size}" role="img" aria-label="${verdictWords[verdict]}">${verdictShape(verdict, 0, 0, size)}</svg>`

function cell(content: Cell): string {
  if (typeof content === 'string') return escapeXml(content)
  const before = content.verdict ? `${sign(content.verdict, 11)} ` : ''
  const chips = content.colors
    ? `<span class="pair"><i style="background:${content.colors[0]}"></i><i style="background:${content.colors[1]}"></i></span>`
    : ''
  return before + chips + escapeXml(content.text)
}

function block(b: Block): string {
  switch (b.kind) {
    case 'heading':
      return `<h2>${escapeXml(b.text)}</h2>`
    case 'text':
      return `<p>${escapeXml(b.text)}</p>`
    case 'page':
      return '<div class="page"></div>'
    case 'charts':
      return `<div class="charts">${b.charts.map((c) => `<figure><figcaption>${escapeXml(c.title)}</figcaption>${c.svg}</figure>`).join('')}</div>`
    case 'table': {
      const kind = (i: number) => (b.figures.includes(i) ? ' class="fig"' : '')
      const head = b.head.map((h, i) => `<th${kind(i)} scope="col">${escapeXml(h)}</th>`).join('')
      const rows = b.rows.map((r) => `<tr>${r.map((c, i) => `<td${kind(i)}>${cell(c)}</td>`).join('')}</tr>`).join('\n')
      const columns = b.widths.map((w) => `<col style="width:${Number((100 * w).toFixed(1))}%">`).join('')
      return `<table><colgroup>${columns}</colgroup><thead><tr>${head}</tr></thead><tbody>\n${rows}\n</tbody></table>`
    }
  }
}

const style = `body{font:14px/1.45 "Report",sans-serif;color:#1b1b1b;background:#fff;max-width:880px;margin:28px auto;padding:0 20px}
h1{font-size:22px;font-weight:500;margin:0 0 6px}h2{font-size:15px;font-weight:600;margin:22px 0 6px}p{margin:0 0 5px}
.top{display:flex;justify-content:space-between;color:#4c4c4c;margin-bottom:16px}.top img{max-height:40px;max-width:180px}
.sentence{font-size:15px}.sign{vertical-align:-1px}table{border-collapse:collapse;width:100%;margin:12px 0;font-variant-numeric:tabular-nums}
td,th{border-top:1px solid #d4d4d4;padding:3px 10px 3px 0;text-align:left;vertical-align:top}th{font-weight:400;color:#555}
.fig{text-align:right}.charts{display:flex;flex-wrap:wrap;gap:8px 24px}figure{margin:6px 0}figcaption{color:#4c4c4c}
svg text{font-family:"Report",sans-serif}.pair{display:inline-flex;border:1px solid #bbb;margin-right:7px;vertical-align:-2px}.pair i{width:13px;height:13px}
footer{margin-top:26px;color:#555;font-size:12px;overflow-wrap:anywhere}@media print{.page{break-after:page}body{margin:0}}`

/** A report as one HTML page that asks for nothing from outside. The same document gives the same bytes. */
export function writeHtmlReport(report: ReportDocument, { font, logo }: HtmlParts): string {
  const face = font
    ? `@font-face{font-family:"Report";font-weight:300 700;src:url(data:font/woff2;base64,${font}) format("woff2")}`
    : ''
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escapeXml(report.title)}</title>
<style>${face}
${style}</style></head><body>
<div class="top"><span>${escapeXml(report.studio)}</span>${logo ? `<img src="${logo}" alt="${escapeXml(report.studio || 'Logo')}">` : `<span>${formatDate(report.at)}</span>`}</div>
<main><h1>${report.verdict ? `${sign(report.verdict, 18)} ` : ''}${escapeXml(report.title)}${report.verdict ? `: ${verdictWords[report.verdict]}` : ''}</h1>
<p class="sentence">${escapeXml(report.sentence)}</p>
${report.lines.map((l) => `<p>${escapeXml(l)}</p>`).join('\n')}
${report.blocks.map(block).join('\n')}
</main><footer>${escapeXml(report.origin)}</footer>
</body></html>
`
}
