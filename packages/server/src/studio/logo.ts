import type { DataSource } from 'typeorm'
import PDFDocument from 'pdfkit'
import type { ContentStore } from '../data/contents'
import { Refusal } from '../http/problem'
import { settingEntity } from './entities'

const name = 'logo'

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
const mostPixels = 4000

/** The kind of picture that bytes hold. Throws Refusal for what no report could show. */
export async function pictureType(bytes: Uint8Array): Promise<Logo['type']> {
  const kind = kinds.find(({ begins }) => begins.every((b, i) => bytes[i] === b))
  if (!kind) throw new Refusal('invalid-input', 'A logo must be a PNG or JPEG picture; this file is neither.', 'logo')
  try {
    const pdf = new PDFDocument()
    // A picture that cannot be drawn fails here, and not in every report from now on.
    const image = (pdf as unknown as { openImage(b: Buffer): { width: number; height: number } }).openImage(
      Buffer.from(bytes),
    )
    if (image.width > mostPixels || image.height > mostPixels)
      throw new Refusal('invalid-input', `A logo must be ${mostPixels} pixels wide and high or less.`, 'logo')
    const drawn = new Promise<void>((resolve, reject) => pdf.on('end', resolve).on('error', reject))
    pdf.on('data', () => {})
    pdf.image(Buffer.from(bytes), 0, 0)
    pdf.end()
    await drawn
  } catch (error) {
    if (error instanceof Refusal) throw error
    throw new Refusal('invalid-input', 'The picture is damaged; save it anew as PNG or JPEG.', 'logo')
  }
  return kind.type
}

/** The studio's logo, or null. */
export async function studioLogo(data: DataSource, contents: ContentStore): Promise<Logo | null> {
  const row = await data.getRepository(settingEntity).findOneBy({ name })
  const kept = row?.value as { type: Logo['type']; hash: string } | undefined
  const bytes = kept && (await contents.get(kept.hash))
  return bytes ? { type: kept.type, bytes } : null
}

export async function keepLogo(data: DataSource, contents: ContentStore, bytes: Uint8Array): Promise<void> {
  const type = await pictureType(bytes)
  await data.getRepository(settingEntity).save({ name, value: { type, hash: await contents.put(bytes) } })
}

export const dropLogo = (data: DataSource) => data.getRepository(settingEntity).delete({ name })
