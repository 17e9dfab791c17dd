import { niceTicks } from '../niceTicks'

/** How reports draw: black on white, so that print and screen read alike. */
export const ink = {
  text: '#1b1b1b',
  second: '#5c5c5c',
  line: '#bdbdbd',
  quiet: '#e2e2e2',
  band: '#ececec',
  aim: '#0c6a65',
} as const

export const escapeXml = (text: string) =>
  text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!)

const n = (value: number) => String(Math.round(value * 100) / 100)

export interface Style {
  readonly stroke?: string
  readonly fill?: string
  readonly width?: number
  readonly dash?: string
}

const styled = ({ stroke = 'none', fill = 'none', width = 1, dash }: Style) =>
  `fill="${fill}" stroke="${stroke}" stroke-width="${width}"${dash ? ` stroke-dasharray="${dash}"` : ''}`

type Point = readonly [number, number]

export const line = (points: readonly Point[], style: Style) =>
  points.length ? `<path d="M${points.map(([x, y]) => `${n(x)} ${n(y)}`).join('L')}" ${styled(style)}/>` : ''
export const polygon = (points: readonly Point[], style: Style) =>
  `<polygon points="${points.map(([x, y]) => `${n(x)},${n(y)}`).join(' ')}" ${styled(style)}/>`
export const rect = (x: number, y: number, width: number, height: number, style: Style) =>
  `<rect x="${n(x)}" y="${n(y)}" width="${n(width)}" height="${n(height)}" ${styled(style)}/>`
export const dot = ([x, y]: Point, r: number, style: Style) =>
  `<circle cx="${n(x)}" cy="${n(y)}" r="${n(r)}" ${styled(style)}/>`
export const words = (
  x: number,
  y: number,
  text: string,
  { anchor = 'start', size = 9, fill = ink.second as string } = {},
) =>
  `<text x="${n(x)}" y="${n(y)}" font-size="${size}" fill="${fill}" text-anchor="${anchor}">${escapeXml(text)}</text>`

/** A picture of vectors: its SVG, its size in points, and what it shows in words. */
export interface Drawing {
  readonly title: string
  readonly says: string
  readonly svg: string
  readonly width: number
  readonly height: number
}

export const drawing = (
  title: string,
  says: string,
  width: number,
  height: number,
  parts: readonly string[],
): Drawing => ({
  title,
  says,
  width,
  height,
  svg: `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" role="img" aria-label="${escapeXml(says)}">${parts.join('')}</svg>`,
})

/** A frame with axes; gives where a value stands, and the strokes of the axes. */
export function frame(
  { width, height }: { readonly width: number; readonly height: number },
  horizontal: {
    readonly from: number
    readonly to: number
    readonly ticks: readonly number[]
    readonly label: string
    readonly format?: (v: number) => string
  },
  vertical: { readonly from: number; readonly to: number; readonly label: string; readonly digits: number },
) {
  const box = { left: 40, right: 8, top: 16, bottom: 28 }
  const ticks = niceTicks(vertical.from, vertical.to)
  const [low, high] = [ticks[0], ticks[ticks.length - 1]]
  const x = (v: number) =>
    box.left + ((v - horizontal.from) / (horizontal.to - horizontal.from)) * (width - box.left - box.right)
  const y = (v: number) => height - box.bottom - ((v - low) / (high - low || 1)) * (height - box.top - box.bottom)
  const axes = [
    ...ticks.flatMap((t) => [
      line(
        [
          [box.left, y(t)],
          [width - box.right, y(t)],
        ],
        { stroke: ink.quiet, width: 0.6 },
      ),
      words(box.left - 4, y(t) + 3, t.toFixed(vertical.digits), { anchor: 'end' }),
    ]),
    ...horizontal.ticks.map((t) =>
      words(x(t), height - box.bottom + 12, (horizontal.format ?? String)(t), { anchor: 'middle' }),
    ),
    words(box.left, 10, vertical.label),
    words(width - box.right, height - 5, horizontal.label, { anchor: 'end' }),
  ]
  return { x, y, axes, box, low, high }
}
