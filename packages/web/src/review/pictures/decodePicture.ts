import UTIF from 'utif2'

/** A picture, ready to be drawn in any size. */
export interface Decoded {
  readonly width: number
  readonly height: number
  readonly bitmap: ImageBitmap
}

/** Pixels that a picture may have: what a worker holds three times over without trouble. */
const mostPixels = 60_000_000

function checkSize(width: number, height: number) {
  if (!(width > 0 && height > 0)) throw new Error('The picture has no pixels.')
  if (width * height > mostPixels)
    throw new Error(`The picture has ${Math.round((width * height) / 1e6)} million pixels; 60 million is the most.`)
}

const isTiff = (head: Uint8Array) =>
  (head[0] === 0x49 && head[1] === 0x49 && head[2] === 42) || (head[0] === 0x4d && head[1] === 0x4d && head[3] === 42)

async function decodeTiff(file: File): Promise<Decoded> {
  const buffer = await file.arrayBuffer()
  const pages = UTIF.decode(buffer)
  const page = pages.find((p) => p.t256 && p.t257) ?? pages[0]
  if (!page) throw new Error('no page')
  checkSize(Number(page.t256?.[0 as never]), Number(page.t257?.[0 as never]))
  UTIF.decodeImage(buffer, page)
  const rgba = UTIF.toRGBA8(page)
  const image = new ImageData(Uint8ClampedArray.from(rgba), page.width, page.height)
  return { width: page.width, height: page.height, bitmap: await createImageBitmap(image) }
}

/** Reads PNG, JPEG or TIFF. Throws Error with a sentence for people. */
export async function decodePicture(file: File): Promise<Decoded> {
  const head = new Uint8Array(await file.slice(0, 4).arrayBuffer())
  try {
    if (isTiff(head)) return await decodeTiff(file)
    // As the numbers stand in the file: what colour they mean is the display's part here.
    const bitmap = await createImageBitmap(file, { colorSpaceConversion: 'none' })
    const { width, height } = bitmap
    checkSize(width, height)
    return { width, height, bitmap }
  } catch (error) {
    if ((error as Error).message.startsWith('The picture has')) throw error
    throw new Error(`${file.name} could not be read. PNG, JPEG and TIFF pictures of 8 or 16 bits can be shown.`, {
      cause: error,
    })
  }
}
