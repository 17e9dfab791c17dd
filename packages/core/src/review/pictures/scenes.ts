import { uniformFrom } from '../../basics/random'
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
/** 0 below `from`, 1 above `to`, smooth between. */
function rise(from: number, to: number, v: number): number {
  const t = clamp((v - from) / (to - from))
  return t * t * (3 - 2 * t)
}
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

/** Columns for which an outline is worked out once. */
const columns = 2048
const outline = (height: (x: number) => number) => {
  const heights = Float64Array.from({ length: columns + 1 }, (_, i) => height(i / columns))
  return (x: number) => heights[Math.round(clamp(x) * columns)]
}

/** Light of the sky at the horizon, where distant hills end in it. */
const haze: Triple = [0.86, 0.88, 0.87]
const ridges = 6

/** Ridge behind ridge down to a lake, each paler and bluer than the one before it; clouds in the highest tenth of the light. */
export const landscapeColor = (noise: Noise): Scene => {
  const tops = Array.from({ length: ridges }, (_, k) =>
    outline((x) => 0.4 + 0.055 * k + (0.2 - 0.018 * k) * (noise(x * (1.6 + 0.5 * k) + 11 * k, 3 + k, 6) - 0.5)),
  )
  const shore = outline((x) => 0.8 + 0.05 * (noise(x * 3, 40, 4) - 0.5))
  const sky = (x: number, y: number): Triple => {
    const blue = mix([0.27, 0.47, 0.78], haze, rise(-0.05, 0.5, y))
    const cloud = noise(x * 3 + 2, y * 8, 6)
    const body = rise(0.47, 0.6, cloud) * rise(0.42, 0.3, y)
    const under = 0.99 + 0.4 * (noise(x * 3 + 2, y * 8 - 0.25, 6) - cloud)
    return mix(blue, [clamp(0.96 * under), clamp(0.965 * under), clamp(0.98 * under)], body)
  }
  const land = (x: number, y: number): Triple => {
    for (let k = ridges - 1; k >= 0; k--) {
      if (y < tops[k](x)) continue
      const near = k / (ridges - 1)
      const wood = noise(x * (30 + 40 * near), y * (50 + 60 * near), 5)
      const slope = noise(x * 5 + 7 * k, y * 9, 3)
      const green = mix([0.1, 0.2, 0.1], [0.42, 0.47, 0.2], rise(0.25, 0.85, 0.75 * slope + 0.25 * wood))
      return mix(lit(green, 0.75 + 0.5 * wood), haze, 0.86 * (1 - near) ** 0.8)
    }
    return sky(x, y)
  }
  return (x, y) => {
    if (y < shore(x)) return land(x, y)
    // The lake: what stands above its shore, upside down, broken by ripples that grow towards the eye.
    const depth = y - shore(x)
    const ripple = (noise(x * 9, depth * 90, 3) - 0.5) * (0.02 + 0.25 * depth)
    const mirrored = land(x + 0.3 * ripple, shore(x) - 1.6 * depth + ripple)
    return mix(lit(mirrored, 0.9), [0.2, 0.33, 0.38], 0.25 + 0.5 * rise(0, 0.2, depth))
  }
}

/** Leaves that are looked at around a place: cells on each side, and layers. */
const leafLayers = 4
const leafColumns = 9

/** Leaves over leaves, some in the sun and most in the shade, berries between them: as saturated as pictures hold them. */
export const leafColor = (noise: Noise): Scene => {
  const uniform = uniformFrom(4711)
  const rows = Math.round(leafColumns * 0.66)
  const cells = (rows + 2) * (leafColumns + 2)
  const leaves = Array.from({ length: leafLayers * cells }, () => ({
    dx: uniform(),
    dy: uniform(),
    turn: uniform() * 2 * Math.PI,
    size: 0.75 + 0.5 * uniform(),
    hue: uniform(),
    berry: uniform() < 0.045,
  }))
  return (x, y) => {
    const [u, v] = [x * leafColumns, y * rows]
    const sun = rise(0.5, 0.62, noise(x * 3.2 + 5, y * 2.4, 3))
    const dapple = 0.75 + 0.5 * noise(x * 14, y * 10, 2)
    for (let layer = leafLayers - 1; layer >= 0; layer--) {
      const shade = 0.35 + (0.65 * layer) / (leafLayers - 1)
      const [ou, ov] = [u + 0.37 * layer, v + 0.53 * layer]
      for (let j = Math.floor(ov) - 1; j <= Math.floor(ov) + 1; j++)
        for (let i = Math.floor(ou) - 1; i <= Math.floor(ou) + 1; i++) {
          const cell =
            Math.max(0, Math.min(rows + 1, j + 1)) * (leafColumns + 2) + Math.max(0, Math.min(leafColumns + 1, i + 1))
          const leaf = leaves[layer * cells + cell]
          const [px, py] = [ou - i - leaf.dx, (ov - j - leaf.dy) * 1.02]
          if (leaf.berry) {
            const r = Math.hypot(px, py) / 0.2
            if (r >= 1) continue
            const gloss = rise(0.3, 0, Math.hypot(px + 0.06, py + 0.07))
            return mix(
              lit([0.78, 0.08, 0.1], shade * (0.45 + 0.6 * sun) * (1.1 - 0.5 * r)),
              [1, 0.95, 0.9],
              0.7 * gloss * sun,
            )
          }
          const [c, s] = [Math.cos(leaf.turn), Math.sin(leaf.turn)]
          const [along, across] = [(px * c + py * s) / leaf.size, (py * c - px * s) / leaf.size]
          const t = along / 0.62
          if (t <= -1 || t >= 1) continue
          const width = 0.27 * (1 - t * t) * (1.05 - 0.35 * t)
          const off = Math.abs(across) / width
          if (off >= 1) continue
          const vein = Math.max(rise(0.05, 0, off), 0.5 * rise(0.16, 0, Math.abs(((t * 5 - off * 1.4) % 1) - 0.5)))
          const inSun = sun * rise(-0.6, 0.4, across / width + 0.4)
          const shaded = mix([0.03, 0.17, 0.07], [0.09, 0.27, 0.08], leaf.hue)
          const sunny = mix([0.35, 0.62, 0.08], [0.68, 0.78, 0.13], leaf.hue)
          const body = lit(mix(shaded, sunny, inSun * shade), dapple * shade * (1.12 - 0.25 * off))
          return mix(body, [0.72, 0.86, 0.42], 0.4 * vein * (0.2 + 0.8 * inSun))
        }
    }
    return lit([0.03, 0.06, 0.03], 0.4 + dapple)
  }
}

/** Cloths as they hang side by side: the dye, how much it shines, and how fine its folds are. */
const cloths = [
  { dye: [0.56, 0.05, 0.09], sheen: 0.1, folds: 3.1 },
  { dye: [0.12, 0.2, 0.38], sheen: 0.05, folds: 2.2 },
  { dye: [0.84, 0.79, 0.68], sheen: 0.15, folds: 4.2 },
  { dye: [0.05, 0.34, 0.28], sheen: 0.75, folds: 5.3 },
  { dye: [0.86, 0.56, 0.1], sheen: 0.4, folds: 3.6 },
] as const satisfies readonly { dye: Triple; sheen: number; folds: number }[]

/** Cloths in folds, from velvet to silk: the same dye from deep shade to full light, and a weave that must not turn to stripes. */
export const clothColor = (noise: Noise): Scene => {
  const seams = Array.from({ length: cloths.length + 1 }, (_, k) =>
    outline((y) => (k + 0.5 * (noise(y * 2, 7 * k, 3) - 0.5)) / cloths.length),
  )
  return (x, y) => {
    let k = 0
    while (k < cloths.length - 1 && x > seams[k + 1](y)) k++
    const { dye, sheen, folds } = cloths[k]
    const [from, to] = [seams[k](y), seams[k + 1](y)]
    const t = (x - from) / (to - from)
    const phase = 2 * Math.PI * (folds * t + 0.35 * noise(t * 2 + 9 * k, y * 1.6, 3) * folds) + k
    const slope = Math.cos(phase) * 0.75 + 0.35 * Math.cos(2.7 * phase + 4 * y + k)
    const edge = rise(0, 0.06, t) * rise(1, 0.94, t)
    const light = (0.16 + 0.75 * rise(-0.95, 0.95, slope)) * (0.55 + 0.45 * edge) * (1.1 - 0.25 * y)
    const weave = 1 + 0.045 * Math.sin(x * 1500) * Math.sin(y * 1000) + 0.05 * (noise(x * 90, y * 60, 2) - 0.5)
    const shine = sheen * rise(0.55, 1.05, slope) ** 2 * edge
    return mix(lit(dye, 1.35 * light * weave), mix(dye, [1, 0.98, 0.95], 0.75), clamp(0.85 * shine))
  }
}

const skins: readonly Triple[] = [
  [0.95, 0.82, 0.76],
  [0.89, 0.71, 0.61],
  [0.79, 0.59, 0.47],
  [0.64, 0.45, 0.34],
  [0.45, 0.3, 0.23],
  [0.28, 0.185, 0.145],
]

/** Skin from fair to dark in broad bands, each from full light through the warm edge of the shade into it, cool beyond. */
export const skinColor = (noise: Noise): Scene => {
  const edges = Array.from({ length: skins.length + 1 }, (_, k) =>
    outline((y) => (k + (k > 0 && k < skins.length ? 0.28 * Math.sin(3.4 * y + 1.9 * k) : 0)) / skins.length),
  )
  return (x, y) => {
    let k = 0
    while (k < skins.length - 1 && x > edges[k + 1](y)) k++
    const [from, to] = [edges[k](y), edges[k + 1](y)]
    const t = (x - from) / (to - from)
    const round = 0.16 * (noise(x * 4 + 5 * k, y * 3, 3) - 0.5)
    const facing = clamp(1.02 - 0.9 * t ** 1.6 - 0.18 * y + round)
    const pores = 1 + 0.05 * (noise(x * 130, y * 90, 2) - 0.5) * (0.5 + facing)
    const blood = noise(x * 9 + 3 * k, y * 6, 4) - 0.5
    const light = 0.22 + 0.86 * rise(0, 1, facing)
    const edge = rise(0.2, 0.45, facing) * rise(0.75, 0.5, facing)
    const tint: Triple = [1 + 0.06 * edge + 0.04 * blood, 1 - 0.05 * edge - 0.05 * blood, 1 - 0.09 * edge]
    const skin = lit([skins[k][0] * tint[0], skins[k][1] * tint[1], skins[k][2] * tint[2]], light * pores)
    const cool = mix(skin, [skin[0] * 0.93, skin[1] * 0.98, clamp(skin[2] * 1.12)], rise(0.3, 0, facing))
    const gloss = rise(0.93, 1.05, facing + 0.1 * (noise(x * 40, y * 30, 2) - 0.5)) * 0.35
    return mix(cool, [1, 0.985, 0.965], clamp(gloss))
  }
}

/** Houses on the far bank: where each begins, its width, its height, and which of its windows are lit. */
const houses = 11

/** A village at night beyond water: nearly everything within the lowest tenth of the light, each thing a few codes from the next. */
export const nightColor = (noise: Noise): Scene => {
  const uniform = uniformFrom(88)
  const village = Array.from({ length: houses }, (_, i) => ({
    from: 0.05 + i * 0.082 + 0.03 * uniform(),
    width: 0.045 + 0.035 * uniform(),
    height: 0.06 + 0.07 * uniform(),
    dark: 0.05 + 0.08 * uniform(),
    lit: uniform(),
  }))
  const hills = [0.46, 0.53].map((base, k) => outline((x) => base + 0.14 * (noise(x * 2.2 + 6 * k, 5 + k, 5) - 0.5)))
  const bank = 0.64
  const above = (x: number, y: number): Triple => {
    for (const { from, width, height, dark, lit: on } of village) {
      const [u, v] = [(x - from) / width, (bank - y) / height]
      if (u < 0 || u > 1 || v < 0 || v > 1 + 0.5 * (1 - Math.abs(2 * u - 1))) continue
      const [cu, cv] = [(u * 3) % 1, (v * 3) % 1]
      const window = v < 1 && cu > 0.3 && cu < 0.7 && cv > 0.3 && cv < 0.75
      const which = (Math.floor(u * 3) * 3 + Math.floor(v * 3) + Math.floor(on * 9)) % 9
      if (window && which === 0) return [0.86, 0.6, 0.24]
      // What its own windows throw on the wall.
      const lamp = on > 0.5 ? 0.12 * rise(0.9, 0, Math.hypot(u - 0.5, v - 0.35)) : 0
      const wall = dark * (window ? 0.5 : 0.8 + 0.4 * noise(x * 80, y * 80, 2))
      return [wall * 1.05 + lamp, wall + 0.72 * lamp, wall * 0.95 + 0.35 * lamp]
    }
    for (let k = hills.length - 1; k >= 0; k--)
      if (y > hills[k](x)) {
        const wood = noise(x * (30 + 20 * k), y * 40, 4)
        const v = 0.085 - 0.035 * k + 0.16 * wood * wood
        return [v * 0.9, v * 1.05, v]
      }
    const star = noise(x * 310, y * 190, 1) > 0.985 ? 0.45 * (1 - y) : 0
    const glow = 0.17 * rise(0, 0.56, y) + 0.05 * (noise(x * 3, y * 9, 4) - 0.5)
    return [clamp(0.03 + 0.8 * glow + star), clamp(0.04 + 0.95 * glow + star), clamp(0.08 + 1.1 * glow + star)]
  }
  return (x, y) => {
    if (y < bank) return above(x, y)
    const depth = y - bank
    const sway = (noise(x * 12, depth * 160, 2) - 0.5) * (0.006 + 0.09 * depth)
    const seen = above(x + sway, bank - depth * 1.15 - Math.abs(sway))
    const reed = rise(0.72, 0.8, noise(x * 60, y * 3, 2)) * rise(0.85, 1, y)
    return lit(mix(lit(seen, 0.7), [0.02, 0.03, 0.035], 0.25), 1 - 0.7 * reed)
  }
}

/** A page of paper with washes of pale colour that run into one another: a cast shows first here. */
export const pastelColor = (noise: Noise): Scene => {
  const [across, down] = [6, 4]
  return (x, y) => {
    const grain = 0.018 * (noise(x * 160, y * 120, 3) - 0.5)
    const paper: Triple = [0.965 + grain, 0.957 + grain, 0.94 + grain]
    let color = paper
    for (let j = 0; j < down; j++)
      for (let i = 0; i < across; i++) {
        const k = j * across + i
        const [cx, cy] = [(i + 0.5) / across, (j + 0.5) / down]
        const [dx, dy] = [(x - cx) * across, (y - cy) * down]
        if (Math.abs(dx) > 0.75 || Math.abs(dy) > 0.75) continue
        const r = Math.hypot(dx, dy) + 0.35 * (noise(x * 9 + k, y * 7 + k, 4) - 0.5)
        const body = rise(0.52, 0.44, r)
        const wet = rise(0.4, 0.47, r) * rise(0.53, 0.48, r)
        const wash = hued((k * 0.618) % 1, 0.1 + 0.13 * ((k % across) / across), 0.95)
        const pigment = 0.72 + 0.25 * noise(x * 22 + k, y * 18, 4) + 0.3 * wet
        color = mix(color, [color[0] * wash[0], color[1] * wash[1], color[2] * wash[2]], body * pigment)
      }
    return [clamp(color[0]), clamp(color[1]), clamp(color[2])]
  }
}

/** Steps in grey: the whole range, and by single codes near black and near white; above them the same land without colour. */
export const monochromeColor = (noise: Noise): Scene => {
  const land = landscapeColor(noise)
  const grey = (v: number): Triple => [v, v, v]
  const steps = 24
  return (x, y) => {
    const step = Math.min(steps - 1, Math.floor(x * steps))
    if (y > 0.88) return grey((255 - steps + 1 + step) / 255)
    if (y > 0.76) return grey(step / 255)
    if (y > 0.64) return grey(step / (steps - 1))
    const [r, g, b] = land(x, y * 1.35)
    return grey(clamp(0.2126 * r + 0.7152 * g + 0.0722 * b))
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
