import { bytesOfShape, type SlotTables } from '@bichroma/core/tables'
import { links, type PanelTraits } from '../panel/panelSchema'

/** Reading a slot back streams: it takes this share of writing. */
const readShare = 0.25

/** ms that a slot's contents take over the display's link. */
export function transferMs({ tables }: PanelTraits): { write: number; read: number } {
  const { packetBytes, packetMs } = links[tables.link]
  const write = Math.ceil(bytesOfShape(tables.pipeline) / packetBytes) * packetMs
  return { write, read: write * readShare }
}

const half = <T>(fresh: readonly T[], old: readonly T[] | undefined, empty: T): T[] =>
  fresh.map((v, i) => (i < fresh.length / 2 ? v : (old?.[i] ?? empty)))

/** What a slot holds when the line broke half-way through a write: new to the middle of each part, old or nothing behind. */
export function cutInHalf(fresh: SlotTables, old: SlotTables | null): SlotTables {
  const channels = (part: 'before' | 'after') =>
    fresh[part] && {
      [part]: fresh[part].map((table, c) => half(table, old?.[part]?.[c], 0)),
    }
  return {
    ...fresh,
    ...channels('before'),
    ...channels('after'),
    ...(fresh.matrix && { matrix: half(fresh.matrix, old?.matrix, 0) }),
    ...(fresh.grid && { grid: half(fresh.grid, old?.grid, 0) }),
  }
}

/** Channels of a matrix that mix more than this ask for another gamut than the panel's own. */
const mostMixing = 0.15

/** Whether tables ask for another gamut than the panel's own: a matrix that mixes, or a 3D table's pure hues that do. */
export function changesGamut({ shape, matrix, grid }: SlotTables): boolean {
  if ('matrixFractionBits' in shape) {
    const unit = 2 ** shape.matrixFractionBits
    return matrix!.some((m, i) => i % 4 !== 0 && Math.abs(m / unit) > mostMixing)
  }
  if (!('grid' in shape)) return false
  const { size, bits } = shape.grid
  const corner = (r: number, g: number, b: number) => {
    const at = 3 * ((r * size + g) * size + b)
    return grid!.slice(at, at + 3).map((v) => v / (2 ** bits - 1))
  }
  const top = size - 1
  return [corner(top, 0, 0), corner(0, top, 0), corner(0, 0, top)].some((rgb, c) =>
    rgb.some((v, k) => k !== c && v > 2 * mostMixing),
  )
}
