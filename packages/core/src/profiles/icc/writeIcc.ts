import { md5 } from '@noble/hashes/legacy.js'
import type { XYZ } from '../../color/chromaticity'
import { pcsWhite } from '../../color/encodings'
import type { SignalCodes } from '../../tables/signalCodes'
import type { Matrix3 } from '../../color/matrix3'
import { IccWriter } from './iccBytes'
import { descriptionTag, dictionaryTag, localizedTag, matrixTag, plainTextTag, videoTag, xyzTag } from './tags'

/** What a profile says of itself. */
export interface ProfileFacts {
  readonly description: string
  readonly copyright: string
  /** UTC, ms since 1970. */
  readonly createdAt: number
  /** 4 unless a program still wants 2. */
  readonly version?: 2 | 4
  /** How what programs draw is sent to the display; as fine as can be unless given. */
  readonly sent?: SignalCodes
  /** Curves for the video card, three tables of shares 0–1; for displays that are calibrated there. */
  readonly videoCurves?: readonly [ArrayLike<number>, ArrayLike<number>, ArrayLike<number>]
  /** Names and values kept in the profile: display, slot, firmware, run. */
  readonly meta?: readonly (readonly [string, string])[]
}

/** A tag to be written. Tags that hold the same array share their place in the file. */
export type TagData = readonly [signature: string, data: Uint8Array]

const headerSize = 128

/** The tags that every profile of a display carries: names, white, adaptation, luminance. */
export function commonTags(facts: ProfileFacts, white: XYZ, adaptation: Matrix3): TagData[] {
  const version = facts.version ?? 4
  const relativeWhite: XYZ = [white[0] / white[1], 1, white[2] / white[1]]
  const tags: TagData[] =
    version === 4
      ? [
          ['desc', localizedTag(facts.description)],
          ['cprt', localizedTag(facts.copyright)],
          ['wtpt', xyzTag(pcsWhite)],
        ]
      : [
          ['desc', descriptionTag(facts.description)],
          ['cprt', plainTextTag(facts.copyright)],
          // Version 2 tells the display's own white here (ICC.1:2001-04 §6.4.25).
          ['wtpt', xyzTag(relativeWhite)],
        ]
  tags.push(['chad', matrixTag(adaptation)], ['lumi', xyzTag([0, white[1], 0])])
  if (facts.videoCurves) tags.push(['vcgt', videoTag(facts.videoCurves)])
  if (facts.meta?.length) tags.push(['meta', dictionaryTag(facts.meta)])
  return tags
}

/** Puts header, tag table and tags together; version 4 gets its profile ID (MD5). ICC.1:2022 §7. */
export function assembleProfile(
  facts: ProfileFacts,
  connectionSpace: 'XYZ ' | 'Lab ',
  tags: readonly TagData[],
): Uint8Array {
  const version = facts.version ?? 4
  let offset = headerSize + 4 + tags.length * 12
  const places = new Map<Uint8Array, number>()
  for (const [, data] of tags)
    if (!places.has(data)) {
      places.set(data, offset)
      offset += Math.ceil(data.length / 4) * 4
    }
  const date = new Date(facts.createdAt)
  const header = new IccWriter()
    .u32(offset)
    .u32(0) // no preferred module
    .u32(version === 4 ? 0x04400000 : 0x02400000)
    .text(`mntrRGB ${connectionSpace}`)
  for (const part of [date.getUTCFullYear(), date.getUTCMonth() + 1, date.getUTCDate()]) header.u16(part)
  for (const part of [date.getUTCHours(), date.getUTCMinutes(), date.getUTCSeconds()]) header.u16(part)
  header.text('acsp')
  // Platform, flags, maker, model, attributes (twice), intent: none.
  for (let i = 0; i < 7; i++) header.u32(0)
  for (const v of pcsWhite) header.fixed(v)

  const out = new Uint8Array(offset)
  out.set(header.done(), 0)
  const table = new IccWriter().u32(tags.length)
  for (const [signature, data] of tags) table.text(signature).u32(places.get(data)!).u32(data.length)
  out.set(table.done(), headerSize)
  for (const [data, at] of places) out.set(data, at)
  // Flags (44), rendering intent (64) and the ID itself (84) count as zero in the digest; all three are zero here.
  if (version === 4) out.set(md5(out), 84)
  return out
}
