import { readEdid } from '@bichroma/core/formats'
import { BadInput, fromFile, readBytes } from '../io'
import type { Answer } from '../output'

const orNone = (v: string | number | null) => (v === null || v === '' ? 'not told' : String(v))

/** What a display's EDID says. A wrong checksum makes it bad input, and the line names it. */
export function edid(path: string): Answer {
  const bytes = readBytes(path)
  const { edid: e, faults } = fromFile(path, () => readEdid(bytes))
  if (faults.length) throw new BadInput(`${path}: ${faults.join(' ')}`)
  const hdr = e.extension?.hdr
  const luminance = (v: number | null | undefined) =>
    v === null || v === undefined ? 'not told' : `${v.toFixed(v < 1 ? 4 : 0)} cd/m²`
  return {
    json: e,
    text: [
      {
        head: ['', ''],
        rows: [
          ['maker, product', `${e.maker}, ${e.productCode.toString(16).toUpperCase().padStart(4, '0')}`],
          ['name', orNone(e.name)],
          ['serial number', e.serialText || orNone(e.serialNumber)],
          [e.isModelYear ? 'model year' : 'made', e.week === null ? String(e.year) : `week ${e.week} of ${e.year}`],
          ['EDID version', e.version],
          ['size', e.size ? `${e.size.width} × ${e.size.height} cm` : 'not told'],
          ['pixels', e.pixels ? `${e.pixels.width} × ${e.pixels.height}` : 'not told'],
          ['bits per colour', orNone(e.bits)],
          ['tone exponent', e.gamma === null ? 'not told' : e.gamma.toFixed(2)],
          ['colorimetry', e.extension ? e.extension.colorimetry.join(', ') || 'none' : 'no extension'],
          ['high dynamic range', hdr ? hdr.transfers.join(', ') || 'none' : 'not told'],
          ...(hdr
            ? [['peak, frame average, least', [hdr.peak, hdr.frameAverage, hdr.least].map(luminance).join(', ')]]
            : []),
        ],
      },
      {
        head: ['', 'x', 'y'],
        rows: [...Object.entries(e.primaries), ['white', e.white] as const].map(([name, c]) => [
          name,
          c.x.toFixed(4),
          c.y.toFixed(4),
        ]),
      },
    ],
  }
}
