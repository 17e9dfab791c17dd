import type { Table3D } from '@bichroma/core/tables'

/** A device link (ICC.1:2022 §8.7) with one 16-bit grid: the 3D table as Little CMS can take it. */
export function deviceLink({ size, values }: Table3D): Uint8Array {
  const entries = 2
  const lut = 52 + 3 * entries * 2 + values.length * 2 + 3 * entries * 2
  const bytes = new Uint8Array(128 + 4 + 12 * 1 + lut)
  const view = new DataView(bytes.buffer)
  const text = (at: number, s: string) => [...s].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)))
  view.setUint32(0, bytes.length)
  view.setUint32(8, 0x04400000)
  text(12, 'linkRGB RGB ')
  text(36, 'acsp')
  ;[0.9642, 1, 0.8249].forEach((v, i) => view.setInt32(68 + 4 * i, Math.round(v * 65536)))
  view.setUint32(128, 1)
  text(132, 'A2B0')
  view.setUint32(136, 144)
  view.setUint32(140, lut)
  let at = 144
  text(at, 'mft2')
  bytes.set([3, 3, size], at + 8)
  ;[1, 0, 0, 0, 1, 0, 0, 0, 1].forEach((v, i) => view.setInt32(at + 12 + 4 * i, v * 65536))
  view.setUint16(at + 48, entries)
  view.setUint16(at + 50, entries)
  at += 52
  const put = (v: number) => {
    view.setUint16(at, Math.round(v * 65535))
    at += 2
  }
  const straight = () => [0, 1, 0, 1, 0, 1].forEach(put)
  straight()
  values.forEach(put)
  straight()
  return bytes
}
