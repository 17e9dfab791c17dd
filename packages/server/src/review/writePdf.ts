import { createRequire } from 'node:module'
import type PDFDocument from 'pdfkit'
import type SvgToPdf from 'svg-to-pdfkit'
import { formatDate, verdictWords, type Verdict } from '@bichroma/core/aims'
import {
  verdictShape,
  type Block,
  type Cell,
  type Drawing,
  type ReportDocument,
  type ReportTable,
} from '@bichroma/core/review'

const load = createRequire(import.meta.url)
const fontFile = load.resolve
/** Only the thread that writes reports needs them, and they take a third of a second to load. */
const library = {
  get PDFDocument() {
    return load('pdfkit') as typeof PDFDocument
  },
  get svgToPdf() {
    return load('svg-to-pdfkit') as typeof SvgToPdf
  },
}
const fonts = {
  text: fontFile('dejavu-fonts-ttf/ttf/DejaVuSansCondensed.ttf'),
  strong: fontFile('dejavu-fonts-ttf/ttf/DejaVuSansCondensed-Bold.ttf'),
} as const

/** A4 in points, and what is left free around it. */
const margin = 42
const inks = { text: '#1b1b1b', second: '#555555', line: '#d0d0d0' } as const
const textSize = 8.5
const rowPadding = 2.5

/** One report being set; knows where on the page it stands. */
class Setting {
  readonly pdf: PDFKit.PDFDocument
  private readonly width: number

  constructor(private readonly report: ReportDocument) {
    const at = new Date(report.at)
    this.pdf = new library.PDFDocument({
      size: 'A4',
      margin,
      bufferPages: true,
      // The instant that is told of, not of setting: the same facts give the same bytes.
      info: { Title: report.title, Author: report.studio, Creator: 'Bichroma', CreationDate: at, ModDate: at },
      lang: 'en',
      displayTitle: true,
    })
    this.pdf.registerFont('text', fonts.text).registerFont('strong', fonts.strong)
    this.width = this.pdf.page.width - 2 * margin
  }

  private get bottom() {
    // Room for the foot of the page.
    return this.pdf.page.height - margin - 16
  }

  private make(height: number) {
    if (this.pdf.y + height > this.bottom) this.pdf.addPage()
  }

  private sentence(text: string, { size = textSize, color = inks.text as string, font = 'text', after = 3 } = {}) {
    this.pdf.font(font).fontSize(size).fillColor(color)
    this.make(this.pdf.heightOfString(text, { width: this.width }))
    this.pdf.text(text, margin, this.pdf.y, { width: this.width })
    this.pdf.y += after
  }

  private sign(verdict: Verdict, x: number, y: number, size: number) {
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${size} ${size}">${verdictShape(verdict, 0, 0, size)}</svg>`
    library.svgToPdf(this.pdf, svg, x, y, { width: size, height: size })
  }

  head(logo: Buffer | null) {
    const { pdf, report } = this
    const top = pdf.y
    pdf.font('text').fontSize(9).fillColor(inks.second).text(report.studio, margin, top)
    if (logo) pdf.image(logo, pdf.page.width - margin - 120, top - 8, { fit: [120, 30], align: 'right' })
    pdf.y = top + 28
    const size = 15
    const left = report.verdict ? size + 7 : 0
    if (report.verdict) this.sign(report.verdict, margin, pdf.y + 2, size - 1)
    pdf
      .font('strong')
      .fontSize(size)
      .fillColor(inks.text)
      .text(`${report.title}${report.verdict ? `: ${verdictWords[report.verdict]}` : ''}`, margin + left, pdf.y, {
        width: this.width - left,
      })
    pdf.y += 4
    this.sentence(report.sentence, { size: 10.5, after: 5 })
    for (const text of report.lines) this.sentence(text, { color: inks.second })
    pdf.y += 4
  }

  block(block: Block) {
    switch (block.kind) {
      case 'heading':
        // A heading never stands alone at the foot of a page.
        this.make(60)
        this.pdf.y += 6
        return this.sentence(block.text, { size: 10.5, font: 'strong' })
      case 'text':
        return this.sentence(block.text)
      case 'page':
        return void this.pdf.addPage()
      case 'charts':
        return this.charts(block.charts)
      case 'table':
        return this.table(block)
    }
  }

  private charts(charts: readonly Drawing[]) {
    const { pdf } = this
    let x = margin
    let y = pdf.y + 4
    let tallest = 0
    for (const { title, svg, width, height } of charts) {
      if (x > margin && x + width > margin + this.width + 1) {
        x = margin
        y += tallest + 8
        tallest = 0
      }
      if (y + height + 12 > this.bottom) {
        pdf.addPage()
        y = pdf.y
        x = margin
      }
      pdf.font('text').fontSize(8).fillColor(inks.second).text(title, x, y, { lineBreak: false })
      library.svgToPdf(pdf, svg, x, y + 11, { width, height, assumePt: true, fontCallback: () => 'text' })
      x += width + 11
      tallest = Math.max(tallest, height + 12)
    }
    pdf.x = margin
    pdf.y = y + tallest + 6
  }

  private table({ head, figures, widths, rows }: ReportTable) {
    const { pdf } = this
    const lefts = widths.map((_, i) => margin + this.width * widths.slice(0, i).reduce((a, b) => a + b, 0))
    const widthOf = (i: number) => this.width * widths[i] - 6
    const textOf = (c: Cell) => (typeof c === 'string' ? c : c.text)
    const leftOf = (c: Cell) => (typeof c === 'string' ? 0 : c.verdict ? 12 : c.colors ? 22 : 0)
    const set = (cells: readonly Cell[], color: string) => {
      pdf.font('text').fontSize(textSize).fillColor(color)
      const height = Math.max(
        ...cells.map((c, i) => pdf.heightOfString(textOf(c) || ' ', { width: widthOf(i) - leftOf(c) })),
      )
      if (pdf.y + height + 2 * rowPadding > this.bottom) {
        pdf.addPage()
        if (cells !== head) set(head, inks.second)
        pdf.font('text').fontSize(textSize).fillColor(color)
      }
      const y = pdf.y + rowPadding
      if (cells !== head)
        pdf
          .moveTo(margin, pdf.y)
          .lineTo(margin + this.width, pdf.y)
          .lineWidth(0.5)
          .strokeColor(inks.line)
          .stroke()
      cells.forEach((c, i) => {
        if (typeof c !== 'string' && c.verdict) this.sign(c.verdict, lefts[i], y + 1, 8)
        if (typeof c !== 'string' && c.colors)
          c.colors.forEach((css, k) => {
            const rgb = css.match(/\d+/g)!.map(Number) as [number, number, number]
            pdf.rect(lefts[i] + k * 9, y + 0.5, 9, 8).fill(rgb)
          })
        pdf.fillColor(color).text(textOf(c), lefts[i] + leftOf(c), y, {
          width: widthOf(i) - leftOf(c),
          align: figures.includes(i) ? 'right' : 'left',
        })
      })
      pdf.x = margin
      pdf.y = y + height + rowPadding
    }
    this.make(3 * (textSize + 2 * rowPadding))
    set(head, inks.second)
    for (const row of rows) set(row, inks.text)
    pdf.y += 6
  }

  /** At the foot of every page: what made it, and which page of how many. */
  foot() {
    const { pdf, report } = this
    const { start, count } = pdf.bufferedPageRange()
    for (let i = start; i < start + count; i++) {
      pdf.switchToPage(i)
      // Below the margin, where text would else begin a new page.
      pdf.page.margins.bottom = 0
      const y = pdf.page.height - margin
      pdf.font('text').fontSize(7).fillColor(inks.second)
      pdf.text(report.origin, margin, y, { width: this.width - 90, height: 18, ellipsis: true })
      pdf.text(`${formatDate(report.at)}   ${i + 1} of ${count}`, margin + this.width - 85, y, {
        width: 85,
        align: 'right',
        lineBreak: false,
      })
      pdf.page.margins.bottom = margin
    }
  }
}

/** A report as PDF: charts as vectors, fonts embedded, a summary on its first page. The same document gives the same bytes. */
export async function writePdfReport(report: ReportDocument, logo: Buffer | null): Promise<Buffer> {
  const setting = new Setting(report)
  const chunks: Buffer[] = []
  const ended = new Promise<Buffer>((resolve, reject) => {
    setting.pdf.on('data', (chunk: Buffer) => chunks.push(chunk))
    setting.pdf.on('end', () => resolve(Buffer.concat(chunks)))
    setting.pdf.on('error', reject)
  })
  setting.head(logo)
  for (const block of report.blocks) setting.block(block)
  setting.foot()
  setting.pdf.end()
  return ended
}
