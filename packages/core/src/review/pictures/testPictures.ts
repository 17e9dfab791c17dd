import { uniformFrom } from '../../basics/random'
import type { Triple } from '../../color/matrix3'
import {
  clothColor,
  landscapeColor,
  leafColor,
  monochromeColor,
  nightColor,
  pastelColor,
  rampColor,
  skinColor,
} from './scenes'

/** A picture's colour (sRGB codes 0–1) at a place 0–1 from its left and its top. */
export type Scene = (x: number, y: number) => Triple

/** Pictures of our own making, each for something that displays get wrong. */
export const testPictures = {
  landscape: {
    label: 'Landscape',
    looksAt: 'hills that end in haze, clouds in the highest tenth of the light, and a lake',
    scene: landscapeColor,
  },
  leaves: { label: 'Leaves', looksAt: 'saturated leaves in sun and shade', scene: leafColor },
  cloth: { label: 'Cloth', looksAt: 'dyes from deep shade to full light, and a fine weave', scene: clothColor },
  skin: { label: 'Skin', looksAt: 'skin from fair to dark, from the light into the shade', scene: skinColor },
  night: { label: 'Night', looksAt: 'a village in the lowest tenth of the light', scene: nightColor },
  pastel: { label: 'Pastel', looksAt: 'pale washes on paper, in which a cast shows first', scene: pastelColor },
  monochrome: {
    label: 'Monochrome',
    looksAt: 'a grey landscape, and steps of single codes near black and near white',
    scene: monochromeColor,
  },
  ramps: { label: 'Ramps', looksAt: 'even ramps, in which steps and casts show', scene: rampColor },
} as const satisfies Record<string, { label: string; looksAt: string; scene: (noise: Noise) => Scene }>
export type TestPicture = keyof typeof testPictures
export const testPictureNames = Object.keys(testPictures) as TestPicture[]

/** Smooth noise 0–1 over the plane, of so many octaves: value noise on a lattice of numbers from a seed. */
export type Noise = (x: number, y: number, octaves?: number) => number

/** Cells of the lattice along each side: a power of two, so that a mask wraps it around. */
const lattice = 64
const wrap = lattice - 1

function smoothNoise(seed: number): Noise {
  const uniform = uniformFrom(seed)
  const values = Float64Array.from({ length: lattice * lattice }, uniform)
  const single = (x: number, y: number) => {
    const i = Math.floor(x)
    const j = Math.floor(y)
    const dx = x - i
    const dy = y - j
    const s = dx * dx * (3 - 2 * dx)
    const t = dy * dy * (3 - 2 * dy)
    const row = (j & wrap) * lattice
    const below = ((j + 1) & wrap) * lattice
    const left = i & wrap
    const right = (i + 1) & wrap
    const top = values[row + left] + (values[row + right] - values[row + left]) * s
    const bottom = values[below + left] + (values[below + right] - values[below + left]) * s
    return top + (bottom - top) * t
  }
  return (x, y, octaves = 4) => {
    let sum = 0
    let total = 0
    let weight = 1
    let scale = 1
    for (let o = 0; o < octaves; o++) {
      sum += weight * single(x * scale + 17 * o, y * scale + 31 * o)
      total += weight
      weight /= 2
      scale *= 2
    }
    return sum / total
  }
}

/** A test picture as RGBA bytes, row by row from the top. The same size gives the same bytes. */
export function paintPicture(name: TestPicture, width: number, height: number): Uint8ClampedArray<ArrayBuffer> {
  const scene = testPictures[name].scene(smoothNoise(name.length * 7919))
  const bytes = new Uint8ClampedArray(4 * width * height)
  for (let j = 0, at = 0; j < height; j++)
    for (let i = 0; i < width; i++, at += 4) {
      const [r, g, b] = scene((i + 0.5) / width, (j + 0.5) / height)
      bytes[at] = 255 * r
      bytes[at + 1] = 255 * g
      bytes[at + 2] = 255 * b
      bytes[at + 3] = 255
    }
  return bytes
}
