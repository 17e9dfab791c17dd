import type { Triple } from '../../color/matrix3'
import type { Noise, Scene } from './testPictures'

const clamp = (v: number) => Math.min(1, Math.max(0, v))
const mix = (a: Triple, b: Triple, t: number): Triple => [
  a[0] + (b[0] - a[0]) * t,
  a[1] + (b[1] - a[1]) * t,
  a[2] + (b[2] - a[2]) * t,
]
const lit = (color: Triple, light: number): Triple => [
  clamp(color[0] * light),
  clamp(color[1] * light),
  clamp(color[2] * light),
]
/** A colour of a hue (turns), as bright and as pale as asked (0–1). */
function hued(hue: number, saturation: number, value: number): Triple {
  return [
    channelOf(5, hue, saturation, value),
    channelOf(3, hue, saturation, value),
    channelOf(1, hue, saturation, value),
  ]
}
function channelOf(n: number, hue: number, saturation: number, value: number): number {
  const k = (n + hue * 6) % 6
  return value - value * saturation * Math.max(0, Math.min(k, 4 - k, 1))
}

const skins: readonly Triple[] = [
  [0.94, 0.8, 0.73],
  [0.87, 0.69, 0.58],
  [0.76, 0.56, 0.44],
  [0.6, 0.42, 0.31],
  [0.42, 0.28, 0.21],
  [0.26, 0.17, 0.13],
]

/** Rounded forms like cheeks, from fair to dark, lit from the upper left before a neutral wall. */
export const skinColor = (noise: Noise): Scene => {
  const [columns, rows] = [3, 2]
  return (x, y) => {
    const [i, j] = [Math.min(columns - 1, Math.floor(x * columns)), Math.min(rows - 1, Math.floor(y * rows))]
    const [u, v] = [x * columns - i - 0.5, y * rows - j - 0.5]
    const radius = Math.hypot(u * 1.05, v * 0.82) / 0.42
    const wall = 0.52 - 0.12 * y + 0.03 * noise(x * 9, y * 9)
    if (radius >= 1) return [wall, wall, wall]
    const height = Math.sqrt(1 - radius * radius)
    const facing = Math.max(0, (-u * 1.1 - v * 1.2) / 0.42 / 1.6 + height * 0.75)
    const pores = 0.97 + 0.06 * noise(x * 60, y * 60, 2)
    const blood = 0.5 + noise(x * 7 + 3, y * 7, 3)
    const skin = lit(skins[j * columns + i], (0.4 + 0.6 * facing) * pores)
    const flushed: Triple = [skin[0] * (0.98 + 0.03 * blood), skin[1] * (1.01 - 0.03 * blood), skin[2]]
    const gloss = 0.55 * Math.max(0, facing - 0.98) * 2.4
    return mix(flushed, [1, 0.98, 0.95], clamp(gloss))
  }
}

/** Leaves, stalks and petals, as saturated as pictures hold them. */
export const plantColor =
  (noise: Noise): Scene =>
  (x, y) => {
    const leaf = noise(x * 7, y * 5)
    const vein = Math.abs(Math.sin(22 * (x + 0.6 * y) + 5 * leaf))
    const green = hued(0.24 + 0.12 * leaf, 0.9, 0.14 + 0.62 * leaf * (0.75 + 0.25 * vein))
    let color = green
    for (let k = 0; k < 9; k++) {
      const [cx, cy] = [(k * 0.37 + 0.13) % 1, (k * 0.61 + 0.21) % 1]
      const [dx, dy] = [(x - cx) * 1.5, y - cy]
      if (dx * dx + dy * dy > 0.0091) continue
      const angle = Math.atan2(dy, dx)
      const reach = 0.095 * (0.75 + 0.25 * Math.cos(5 * angle + k))
      const distance = Math.hypot(dx, dy) / reach
      if (distance >= 1) continue
      const hue = [0.97, 0.14, 0.78, 0.04, 0.62, 0.9, 0.11, 0.0, 0.7][k]
      color = distance < 0.22 ? hued(0.13, 0.95, 0.95) : hued(hue, 0.95 - 0.25 * distance, 0.98 - 0.35 * distance)
    }
    return color
  }

/** Stones at night: everything within the lowest tenth of the light, and a lantern far away. */
export const shadowColor =
  (noise: Noise): Scene =>
  (x, y) => {
    const stone = noise(x * 6, y * 6)
    const edge = Math.abs(noise(x * 6 + 0.02, y * 6 + 0.02) - stone) * 14
    const dark = 0.015 + 0.2 * stone * stone + 0.1 * clamp(edge)
    const warm = 0.55 * Math.exp(-((x - 0.8) ** 2 + (y - 0.3) ** 2) / 0.006)
    return [clamp(dark * 0.95 + warm), clamp(dark * 0.98 + 0.62 * warm), clamp(dark * 1.12 + 0.22 * warm)]
  }

/** Clouds and snow: nearly everything above nine tenths. */
export const highlightColor =
  (noise: Noise): Scene =>
  (x, y) => {
    const cloud = noise(x * 4, y * 4, 5)
    const light = 0.86 + 0.16 * cloud
    const ridge = y > 0.72 + 0.12 * noise(x * 3, 1) ? 0.93 + 0.08 * noise(x * 20, y * 20, 3) : light
    return [clamp(ridge - 0.015), clamp(ridge - 0.006), clamp(ridge + 0.012)]
  }

/** Pale cloths side by side, with soft folds. */
export const pastelColor =
  (noise: Noise): Scene =>
  (x, y) => {
    const column = Math.floor(x * 8)
    const fold = 0.5 + 0.5 * Math.sin(40 * x + 6 * noise(x * 3, y * 5))
    const hue = (column * 0.618 + 0.02 * noise(x * 5, y * 5)) % 1
    return hued(hue, 0.1 + 0.1 * y, 0.82 + 0.14 * fold * (1 - 0.4 * y))
  }

/** Hills in grey mist; at the foot steps near black, each one or two codes from the next. */
export const monochromeColor = (noise: Noise): Scene => {
  // The outline of each ridge, once for every column.
  const columns = 1024
  const outlines = Array.from({ length: 5 }, (_, ridge) =>
    Float64Array.from(
      { length: columns + 1 },
      (_, i) => 0.2 + 0.13 * ridge + 0.16 * noise((i / columns) * (2 + ridge) + 9 * ridge, ridge, 5),
    ),
  )
  return (x, y) => {
    if (y > 0.86) {
      const step = Math.floor(x * 24) / 255
      return [step, step, step]
    }
    let value = 0.92 - 0.35 * y
    outlines.forEach((outline, ridge) => {
      const top = outline[Math.round(x * columns)]
      if (y > top) value = 0.7 - 0.16 * ridge + 0.1 * (y - top)
    })
    const v = clamp(value + 0.03 * (noise(x * 30, y * 30, 2) - 0.5))
    return [v, v, v]
  }
}

/** Even ramps: grey, each primary and secondary, and a sweep of hues. */
export const rampColor = (): Scene => {
  const rows: readonly ((t: number) => Triple)[] = [
    (t) => [t, t, t],
    (t) => [t, 0, 0],
    (t) => [0, t, 0],
    (t) => [0, 0, t],
    (t) => [0, t, t],
    (t) => [t, 0, t],
    (t) => [t, t, 0],
    (t) => hued(t, 1, 1),
    (t) => hued(t, 0.35, 0.9),
  ]
  return (x, y) => rows[Math.min(rows.length - 1, Math.floor(y * rows.length))](x)
}
