declare module 'svg-to-pdfkit' {
  interface Options {
    width?: number
    height?: number
    assumePt?: boolean
    fontCallback?: (family: string, bold: boolean, italic: boolean) => string
  }
  /** Draws SVG into a PDF at x, y, in points. */
  export default function svgToPdf(pdf: PDFKit.PDFDocument, svg: string, x: number, y: number, options?: Options): void
}
