import { inflateSync } from 'node:zlib'

/** The studio's logo, as reports carry it. */
export interface Logo {
  readonly type: 'image/png' | 'image/jpeg'
  readonly bytes: Uint8Array
}

const kinds: readonly { readonly type: Logo['type']; readonly begins: readonly number[] }[] = [
  { type: 'image/png', begins: [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a] },
  { type: 'image/jpeg', begins: [0xff, 0xd8, 0xff] },
]
/** Wider or higher is of no use in a report, and takes its time. */
const mostPixels = 2000

const damaged = 'The picture is damaged; save it anew as PNG or JPEG.'
const tooLarge = `A logo must be ${mostPixels} pixels wide and high or less.`

/** Samples of one pixel, by a PNG's type of colour. PNG, third edition, 11.2.1. */
const samples: Readonly<Record<number, number>> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 }

/** What is wrong with a PNG's size, found before anything unpacks it: it may unpack to far more than its pixels need. */
function pngComplaint(bytes: Uint8Array): string | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let [width, height, bits] = [0, 0, 0]
  const packed: Uint8Array[] = []
  for (let at = 8; at + 8 <= bytes.length;) {
    const length = view.getUint32(at)
    const type = String.fromCharCode(...bytes.subarray(at + 4, at + 8))
    const data = bytes.subarray(at + 8, at + 8 + length)
    if (data.length < length) return damaged
    if (type === 'IHDR') {
      if (length !== 13) return damaged
      ;[width, height] = [view.getUint32(at + 8), view.getUint32(at + 12)]
      bits = bytes[at + 16] * (samples[bytes[at + 17]] ?? 0)
    } else if (type === 'IDAT') packed.push(data)
    else if (type === 'IEND') break
    at += 12 + length
  }
  if (!width || !height || !bits || !packed.length) return damaged
  if (width > mostPixels || height > mostPixels) return tooLarge
  // Each row has a byte for its filter; an interlaced picture has up to seven passes of rows.
  const most = (Math.ceil((width * bits) / 8) + 1) * height + 16 * (width + height) + 1024
  try {
    inflateSync(Buffer.concat(packed), { maxOutputLength: most })
  } catch (error) {
    return (error as { code?: string }).code === 'ERR_BUFFER_TOO_LARGE'
      ? 'The picture unpacks to more than its pixels need; save it anew as PNG or JPEG.'
      : damaged
  }
  return null
}

/** The kind of a picture that reports can show, or why they cannot. */
export async function lookAtPicture(
  bytes: Uint8Array,
): Promise<{ readonly type: Logo['type'] } | { readonly complaint: string }> {
  const kind = kinds.find(({ begins }) => begins.every((b, i) => bytes[i] === b))
  if (!kind) return { complaint: 'A logo must be a PNG or JPEG picture; this file is neither.' }
  const complaint = kind.type === 'image/png' ? pngComplaint(bytes) : null
  if (complaint) return { complaint }
  try {
    // Loaded when it is needed: it takes a third of a second.
    const { default: PDFDocument } = await import('pdfkit')
    const pdf = new PDFDocument()
    // A picture that cannot be drawn fails here, and not in every report from now on.
    const image = (pdf as unknown as { openImage(b: Buffer): { width: number; height: number } }).openImage(
      Buffer.from(bytes),
    )
    if (image.width > mostPixels || image.height > mostPixels) return { complaint: tooLarge }
    const drawn = new Promise<void>((resolve, reject) => pdf.on('end', resolve).on('error', reject))
    pdf.on('data', () => {})
    pdf.image(Buffer.from(bytes), 0, 0)
    pdf.end()
    await drawn
  } catch {
    return { complaint: damaged }
  }
  return { type: kind.type }
}
