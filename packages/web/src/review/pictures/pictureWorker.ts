import { percentile, type ResolvedAim } from '@bichroma/core/aims'
import { characterize } from '@bichroma/core/characterization'
import {
  aimShows,
  differenceTable,
  displayShows,
  paintPicture,
  scalarLookup,
  seenTable,
  type Shows,
} from '@bichroma/core/review'
import { pictureFilterOfTable, type PictureFilter } from '@bichroma/core/tables'
import { decodePicture, type Decoded } from './decodePicture'
import type { PictureAnswer, PictureRequest, ShownState } from './messages'

/** Test pictures are painted at this size: enough for any screen here. */
const painted = { width: 840, height: 560 }
/** Nodes of the table of differences, and the least ΔE2000 at which its map is at its strongest. */
const differenceNodes = 25
const leastStrongest = 2
const ochre = [238, 170, 48] as const

type Open = Extract<PictureRequest, { kind: 'open' }>
type Show = Extract<PictureRequest, { kind: 'show' }>

let opened: (Open & { shows: Partial<Record<ShownState, Shows>> }) | null = null
const filters = new Map<ShownState, PictureFilter>()
let known: { key: unknown; picture: Decoded } | null = null
const say = (answer: PictureAnswer) => postMessage(answer)

function open(request: Open) {
  opened = { ...request, shows: {} }
  filters.clear()
}

/** How a state answers signals, fitted when it is first asked for. */
function showsOf(state: ShownState): Shows {
  const { aim, after, before, shows } = opened!
  const make = (): Shows =>
    state === 'aim' ? aimShows(aim) : displayShows(characterize(state === 'after' ? after : before!))
  return (shows[state] ??= make())
}

function filterOf(state: ShownState, aim: ResolvedAim): PictureFilter {
  const made = filters.get(state) ?? pictureFilterOfTable(seenTable(showsOf(state), aim))
  filters.set(state, made)
  return made
}

/** Differences between two states, as a table; the newest is kept. */
let compared: { key: string; table: Float64Array } | null = null
function differencesOf(left: ShownState, right: ShownState, aim: ResolvedAim): Float64Array {
  const key = `${left} ${right}`
  if (compared?.key !== key)
    compared = { key, table: differenceTable(showsOf(left), showsOf(right), aim, differenceNodes) }
  return compared.table
}

async function pictureOf({ picture }: Show): Promise<Decoded> {
  const key = 'test' in picture ? picture.test : picture.file
  if (known?.key === key) return known.picture
  const decoded =
    'test' in picture
      ? {
          ...painted,
          bitmap: await createImageBitmap(
            new ImageData(paintPicture(picture.test, painted.width, painted.height), painted.width),
          ),
        }
      : await decodePicture(picture.file)
  known?.picture.bitmap.close()
  known = { key, picture: decoded }
  return decoded
}

/** What is shown of a picture: the part of it, and where that lies on the surface. Pixels. */
interface Shown {
  readonly from: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
  readonly to: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
}

const middle = (room: number, size: number) => Math.floor((room - size) / 2)

function shownOf(picture: Decoded, { look, width, height }: Show): Shown {
  if (look.kind === 'whole') {
    const scale = Math.min(width / picture.width, height / picture.height)
    const [w, h] = [Math.max(1, Math.round(picture.width * scale)), Math.max(1, Math.round(picture.height * scale))]
    return {
      from: { x: 0, y: 0, width: picture.width, height: picture.height },
      to: { x: middle(width, w), y: middle(height, h), width: w, height: h },
    }
  }
  const [w, h] = [Math.min(width, picture.width), Math.min(height, picture.height)]
  const start = (share: number, whole: number, part: number) =>
    Math.round(Math.min(whole - part, Math.max(0, share * whole - part / 2)))
  return {
    from: { x: start(look.x, picture.width, w), y: start(look.y, picture.height, h), width: w, height: h },
    to: { x: middle(width, w), y: middle(height, h), width: w, height: h },
  }
}

/** The pixels that are shown, as they stand in the picture: only these are worked on. */
function pixelsOf({ bitmap }: Decoded, { from, to }: Shown): ImageData {
  const context = new OffscreenCanvas(to.width, to.height).getContext('2d', { willReadFrequently: true })!
  context.imageSmoothingQuality = 'medium'
  context.drawImage(bitmap, from.x, from.y, from.width, from.height, 0, 0, to.width, to.height)
  return context.getImageData(0, 0, to.width, to.height)
}

function put(surface: OffscreenCanvas, pixels: ImageData, { to }: Shown, size: Pick<Show, 'width' | 'height'>) {
  Object.assign(surface, { width: size.width, height: size.height })
  surface.getContext('2d')!.putImageData(pixels, to.x, to.y)
}

/** Neutral where the two are alike, ochre where they differ, at its strongest by so much; the differences beside. */
function mapOf(pixels: ImageData, table: Float64Array) {
  const { data: shown, width, height } = pixels
  const differences = new Float64Array(width * height)
  const at = scalarLookup(table, differenceNodes)
  for (let p = 0, i = 0; p < shown.length; p += 4, i++) differences[i] = at(shown[p], shown[p + 1], shown[p + 2])
  const some = [...differences.filter((_, i) => i % 7 === 0)]
  const percentile95 = percentile(some, 0.95)
  const strongest = Math.max(leastStrongest, Math.ceil(percentile95))
  const map = new ImageData(width, height)
  for (let p = 0, i = 0; p < shown.length; p += 4, i++) {
    const t = Math.min(1, differences[i] / strongest)
    const grey = 38 + 0.32 * (0.3 * shown[p] + 0.6 * shown[p + 1] + 0.1 * shown[p + 2])
    map.data[p] = grey + (ochre[0] - grey) * t
    map.data[p + 1] = grey + (ochre[1] - grey) * t
    map.data[p + 2] = grey + (ochre[2] - grey) * t
    map.data[p + 3] = 255
  }
  return { map, strongest, percentile95, average: some.reduce((sum, d) => sum + d, 0) / some.length }
}

const bytes = ({ data }: ImageData) => new Uint8Array(data.buffer, data.byteOffset, data.length)

async function show(request: Show) {
  const { turn } = request
  const { surfaces, aim } = opened!
  const began = performance.now()
  const progress = (share: number, doing: string) => say({ kind: 'progress', turn, share, doing })
  progress(0.02, 'Opening the picture')
  const picture = await pictureOf(request)
  const part = shownOf(picture, request)
  const pixels = pixelsOf(picture, part)
  const sides = [
    ['left', request.left, 0.4],
    ['right', request.right, 0.6],
  ] as const
  for (const [side, state, share] of sides) {
    progress(share, 'Working out how the display shows it')
    const seen = new ImageData(pixels.width, pixels.height)
    filterOf(state, aim)(bytes(pixels), bytes(seen), 4)
    put(surfaces[side], seen, part, request)
  }
  progress(0.8, 'Looking for differences')
  const { map, ...figures } = mapOf(pixels, differencesOf(request.left, request.right, aim))
  put(surfaces.map, map, part, request)
  say({
    kind: 'shown',
    turn,
    width: picture.width,
    height: picture.height,
    tookMs: performance.now() - began,
    ...figures,
  })
}

// One request after another; of those that wait only the newest is worth showing.
let queue: Promise<void> = Promise.resolve()
let newest = 0
onmessage = ({ data }: MessageEvent<PictureRequest>) => {
  if (data.kind === 'open') return open(data)
  newest = data.turn
  queue = queue.then(async () => {
    if (data.turn !== newest) return
    await show(data).catch((error: Error) => say({ kind: 'failed', turn: data.turn, sentence: error.message }))
  })
}
